using System.Diagnostics;
using Npgsql;

namespace Assignum.Bench;

/// <summary>A PostgreSQL cluster of its own that writes as a real one does, so that it can be ended as by a power cut.</summary>
sealed class KillableCluster : IDisposable
{
    readonly string folder, password;
    readonly int port;

    KillableCluster(string folder, int port, string password) => (this.folder, this.port, this.password) = (folder, port, password);

    internal string Connection => $"Host=127.0.0.1;Port={port};Username=app;Password={password};Database=postgres";

    /// <summary>Makes and starts one in a new folder.</summary>
    internal static KillableCluster Make()
    {
        var place = Directory.CreateTempSubdirectory("assignum-kill-").FullName;
        var port = RunningApplication.FreePort();
        // On a machine whose user is root the server runs as postgres, who has to reach its folder.
        Shell("if [ \"$(id -u)\" = 0 ]; then chown postgres \"$1\"; chmod 755 \"$1\"; fi; cluster_make \"$1/cluster\"", place);
        var made = new KillableCluster(place, port, File.ReadAllText(Path.Combine(place, "password")).Trim());
        made.Start();
        return made;
    }

    /// <summary>Ends the server and all that works for it at once, with nothing written first.</summary>
    internal void Kill()
    {
        using var server = Process.GetProcessById(int.Parse(File.ReadLines(Path.Combine(folder, "cluster", "postmaster.pid")).First(),
            System.Globalization.CultureInfo.InvariantCulture));
        server.Kill(entireProcessTree: true);
        NpgsqlConnection.ClearAllPools();
    }

    /// <summary>Starts it again; it recovers by its log.</summary>
    internal void Start() => Shell("for i in 1 2 3 4 5 6 7 8 9 10; do if cluster_start \"$1/cluster\" \"$2\"; then exit 0; fi; sleep 1; done; exit 1", folder,
        port.ToString(System.Globalization.CultureInfo.InvariantCulture));

    public void Dispose()
    {
        NpgsqlConnection.ClearAllPools();
        Shell("cluster_stop \"$1/cluster\"; rm -rf \"$1\"", folder);
    }

    static void Shell(string what, params string[] arguments)
    {
        var start = new ProcessStartInfo("bash",
            ["-c", $". '{RunningApplication.Root}/build/setup.sh'; {what}", "bash", .. arguments]) { RedirectStandardOutput = true };
        using var shell = Process.Start(start) ?? throw new InvalidOperationException("bash can't be started.");
        shell.WaitForExit();
        if (shell.ExitCode != 0)
            throw new InvalidOperationException($"The cluster could not be made or started: {what}");
    }
}
