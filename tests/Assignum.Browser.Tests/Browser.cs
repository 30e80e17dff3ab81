using System.Net;
using Assignum.Web.Tests;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;

namespace Assignum.Browser.Tests;

/// <summary>The application on a real port, and headless Chromium to use it with.</summary>
public sealed class Browser : IAsyncLifetime
{
    // A busy machine is slow; what does not come by then does not come.
    static readonly TimeSpan Patience = TimeSpan.FromSeconds(40);
    static readonly TimeSpan Look = TimeSpan.FromMilliseconds(150);

    readonly App app = new();
    readonly string profile = Directory.CreateTempSubdirectory("assignum-browser").FullName;
    ChromeDriver driver = null!;
    string address = "";

    public async Task InitializeAsync()
    {
        await app.InitializeAsync();
        app.UseKestrel(kestrel => kestrel.Listen(IPAddress.Loopback, 0));
        app.StartServer();
        address = app.ClientOptions.BaseAddress.ToString().TrimEnd('/');

        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments("--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu", "--window-size=1280,800",
            "--force-device-scale-factor=1", "--hide-scrollbars", "--no-first-run",
            "--no-default-browser-check", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--disable-extensions",
            "--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1", "--user-data-dir=" + profile);
        options.SetLoggingPreference(LogType.Browser, LogLevel.Warning);
        driver = new ChromeDriver(ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver"), options, TimeSpan.FromSeconds(60));
    }

    internal string Path => new Uri(driver.Url).PathAndQuery;

    internal void Open(string path) => driver.Navigate().GoToUrl(address + path);

    (string Name, string? Session) signedIn;

    /// <param name="name">Who.</param>
    /// <param name="anew">Begins a session also where one of theirs runs.</param>
    internal void SignIn(string name, bool anew = false)
    {
        // Whose session runs need not begin another; what the page before it kept goes all the same.
        if (!anew && signedIn.Name == name && signedIn.Session is not null && signedIn.Session == Session)
        {
            Open("/health/live");
            driver.ExecuteScript("sessionStorage.clear()");
            return;
        }
        for (var attempt = 1; !TrySignIn(name); attempt++)
            if (attempt == 3)
                throw new Xunit.Sdk.XunitException($"{name} can't sign in: {driver.FindElement(By.TagName("body")).Text}");
    }

    // A page is left before its cookies are taken away: what it still asks for would be refused, and the browser complain of it. What it had asked for before may
    // even then be answered with cookies of its own, and the form of the sign-in is refused as one of another session.
    bool TrySignIn(string name)
    {
        Open("/health/live");
        driver.Manage().Cookies.DeleteAllCookies();
        Open("/sign-in");
        // Only an origin has a store of its own, so it is emptied once the page is there.
        driver.ExecuteScript("sessionStorage.clear()");
        Type("#name", name);
        Type("#password", App.Password + Keys.Enter);
        var refused = false;
        Until(() => Path != "/sign-in" || (refused = driver.FindElement(By.TagName("body")).Text.Contains("The form is too old", StringComparison.Ordinal)),
            "the start");
        signedIn = (name, Session);
        return !refused;
    }

    string? Session => driver.Manage().Cookies.GetCookieNamed("assignum")?.Value;

    /// <summary>The first element that is shown, waited for.</summary>
    internal IWebElement Find(string selector) =>
        new WebDriverWait(driver, Patience) { Message = $"{selector} on {driver.Url}", PollingInterval = Look }.Until(d =>
        {
            // A part of the page may be drawn anew while it is looked at.
            try { return d.FindElements(By.CssSelector(selector)).FirstOrDefault(e => e.Displayed); }
            catch (StaleElementReferenceException) { return null; }
        })!;

    /// <summary>Waits until a field has a value.</summary>
    internal void Has(string selector, string value) => Until(() => Find(selector).GetAttribute("value") == value, $"{selector} with “{value}”");

    internal IReadOnlyList<IWebElement> All(string selector) => driver.FindElements(By.CssSelector(selector));

    internal void Click(string selector) => Again(() => Find(selector).Click());

    internal void Type(string selector, string text) => Again(() =>
    {
        var field = Find(selector);
        field.Clear();
        field.SendKeys(text);
    });

    /// <summary>Keys to wherever the focus is.</summary>
    internal void Press(string keys) => Again(() => driver.SwitchTo().ActiveElement().SendKeys(keys));

    /// <summary>How many keys were pressed one by one.</summary>
    internal int KeysPressed { get; set; }

    /// <summary>One key, counted.</summary>
    internal void Key(string key)
    {
        KeysPressed++;
        Press(key);
    }

    /// <summary>The keys of a text, each counted.</summary>
    internal void TypeKeys(string text)
    {
        foreach (var letter in text)
            Key(letter.ToString());
    }

    /// <summary>Says yes to what the page asks before an act.</summary>
    internal void Confirm() => new WebDriverWait(driver, Patience) { Message = "a question" }.Until(d =>
    {
        try { d.SwitchTo().Alert().Accept(); return true; }
        catch (NoAlertPresentException) { return false; }
    });

    /// <summary>Ticks a box, or takes its tick off. It may be so already, as it is in a form that kept what was typed.</summary>
    internal void Tick(string selector, bool ticked = true) => Again(() =>
    {
        if (Find(selector) is var box && box.Selected != ticked)
            box.Click();
    });

    internal void Choose(string selector, string value) => Again(() => Find($"{selector} option[value='{value}']").Click());

    internal void Until(Func<bool> holds, string what = "")
    {
        try
        {
            new WebDriverWait(driver, Patience) { PollingInterval = Look }.Until(_ => { try { return holds(); } catch (StaleElementReferenceException) { return false; } });
        }
        catch (WebDriverTimeoutException)
        {
            throw new Xunit.Sdk.XunitException($"{what} did not come on {driver.Url}: {driver.FindElement(By.TagName("body")).Text}");
        }
    }

    internal void Sees(string text, string within = "body") => Until(() => Find(within).Text.Contains(text, StringComparison.Ordinal), $"“{text}” in {within}");

    /// <summary>Goes on with the Tab key until the focus is on an element.</summary>
    internal void TabTo(string selector)
    {
        for (var i = 0; i < 300; i++)
        {
            if ((bool)Run($"return document.activeElement?.matches({System.Text.Json.JsonSerializer.Serialize(selector)}) ?? false")!)
                return;
            Press(Keys.Tab);
        }
        throw new Xunit.Sdk.XunitException($"The Tab key does not come to {selector} on {driver.Url}.");
    }

    /// <summary>Puts text on the clipboard, as a spreadsheet does.</summary>
    internal void Clip(string text)
    {
        driver.ExecuteCdpCommand("Browser.grantPermissions", new Dictionary<string, object?> { ["permissions"] = new[] { "clipboardReadWrite",
            "clipboardSanitizedWrite" }, ["origin"] = address });
        driver.ExecuteAsyncScript("const done = arguments[1]; navigator.clipboard.writeText(arguments[0]).then(() => done(true), e => done(String(e)));", text);
    }

    /// <summary>Somebody else, in a browser of their own, sends JSON from a page.</summary>
    internal string AsAnother(string name, string page, string to, string json)
    {
        using var client = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer(),
            UseCookies = true }) { BaseAddress = new Uri(address) };
        var signIn = client.GetStringAsync("/sign-in").GetAwaiter().GetResult();
        var token = System.Text.RegularExpressions.Regex.Match(signIn, "name=\"__RequestVerificationToken\"[^>]*value=\"([^\"]+)\"").Groups[1].Value;
        using var form = new FormUrlEncodedContent([new("name", name), new("password", App.Password), new("__RequestVerificationToken", token)]);
        client.PostAsync("/sign-in", form).GetAwaiter().GetResult().Dispose();
        var headers = System.Text.RegularExpressions.Regex.Match(client.GetStringAsync(page).GetAwaiter().GetResult(),
            "\"RequestVerificationToken\":\"([^\"]+)\"").Groups[1].Value;
        using var request = new HttpRequestMessage(HttpMethod.Post, to) { Content = new StringContent(json, System.Text.Encoding.UTF8, "application/json") };
        request.Headers.Add("RequestVerificationToken", headers);
        return client.SendAsync(request).GetAwaiter().GetResult().Content.ReadAsStringAsync().GetAwaiter().GetResult();
    }

    /// <summary>The session ends on its own, with the page open.</summary>
    internal void EndSession() => driver.Manage().Cookies.DeleteCookieNamed("assignum");

    /// <summary>Signs in within the page, as the dialog asks.</summary>
    internal void SignInAgain(string name)
    {
        Type("dialog.again [name=name]", name);
        Type("dialog.again [name=password]", App.Password + Keys.Enter);
        Until(() => All("dialog.again").Count == 0, "the end of the sign-in");
    }

    /// <summary>The window as wide and high as given, in CSS pixels.</summary>
    internal void Size(int width, int height) =>
        driver.ExecuteCdpCommand("Emulation.setDeviceMetricsOverride", new Dictionary<string,
            object?> { ["width"] = width, ["height"] = height, ["deviceScaleFactor"] = 1, ["mobile"] = false });

    /// <summary>The page as the browser prints it, a PDF.</summary>
    internal byte[] Printed() =>
        Convert.FromBase64String((string)((Dictionary<string, object?>)driver.ExecuteCdpCommand("Page.printToPDF", new Dictionary<string,
            object?> { ["preferCSSPageSize"] = true, ["printBackground"] = false })!)["data"]!);

    /// <summary>What the application is made of.</summary>
    internal IServiceProvider Services => app.Services;

    internal object? Run(string script, params object[] arguments) => driver.ExecuteScript(script, arguments);

    // A request that a click on a link cuts off is told of, and is no fault.
    static readonly string[] CutOff = ["htmx:sendAbort", "htmx:sendError", "htmx:afterRequest"];

    /// <summary>What the browser complained of: scripts that failed, what the security policy barred, what was not there.</summary>
    internal string[] Complaints() => [.. driver.Manage().Logs.GetLog(LogType.Browser).Select(l => l.Message).Where(m => !CutOff.Any(c => m.Contains(c,
        StringComparison.Ordinal)))];

    // A part of the page may be drawn anew between finding and using an element.
    static void Again(Action act)
    {
        for (var attempt = 0; ; attempt++)
            try { act(); return; }
            catch (Exception fault) when (fault is StaleElementReferenceException or ElementClickInterceptedException or ElementNotInteractableException && attempt < 50) { Thread.Sleep(100); }
    }

    public async Task DisposeAsync()
    {
        driver?.Quit();
        await ((IAsyncLifetime)app).DisposeAsync();
        Directory.Delete(profile, recursive: true);
    }
}
