using System.Collections.Concurrent;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace Assignum.Browser.Tests;

/// <summary>A headless Chromium. Starting one takes long, so that the next tests get one that others have done with, as good as new.</summary>
sealed class Chromium
{
    static readonly ConcurrentBag<Chromium> free = [];

    readonly string profile = Directory.CreateTempSubdirectory("assignum-browser").FullName;

    Chromium()
    {
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments("--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu", "--window-size=1280,800",
            "--force-device-scale-factor=1", "--hide-scrollbars", "--no-first-run",
            "--no-default-browser-check", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--disable-extensions",
            "--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1", "--user-data-dir=" + profile);
        options.SetLoggingPreference(LogType.Browser, LogLevel.Warning);
        Driver = new ChromeDriver(ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver"), options, TimeSpan.FromSeconds(60));
        AppDomain.CurrentDomain.ProcessExit += (_, _) => End();
    }

    internal ChromeDriver Driver { get; }

    internal static Chromium Take() => free.TryTake(out var known) ? known : new();

    /// <summary>Leaves nothing of its tests behind; one that can't be brought to that is ended.</summary>
    internal void GiveBack()
    {
        try
        {
            Driver.Navigate().GoToUrl("about:blank");
            Driver.Manage().Cookies.DeleteAllCookies();
            Driver.ExecuteCdpCommand("Network.clearBrowserCookies", []);
            Driver.ExecuteCdpCommand("Emulation.clearDeviceMetricsOverride", []);
            Driver.ExecuteCdpCommand("Browser.resetPermissions", []);
            Driver.Manage().Logs.GetLog(LogType.Browser);
            free.Add(this);
        }
        catch (WebDriverException)
        {
            End();
        }
    }

    void End()
    {
        Driver.Quit();
        if (Directory.Exists(profile))
            Directory.Delete(profile, recursive: true);
    }
}
