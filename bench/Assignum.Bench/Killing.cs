namespace Assignum.Bench;

/// <summary>Ends the application and the database in turn, as by a power cut, and starts them again.</summary>
static class Killing
{
    /// <summary>Ends what is due.</summary>
    /// <param name="turn">How many times something was killed before.</param>
    /// <param name="application">The application as it runs.</param>
    /// <param name="cluster">The cluster it works on.</param>
    /// <param name="database">Connection string of its database.</param>
    /// <param name="port">The port it answers on.</param>
    /// <param name="settings">Settings of the application; null: none.</param>
    /// <returns>The application as it runs now.</returns>
    internal static async Task<RunningApplication> Next(int turn, RunningApplication application, KillableCluster cluster, string database, int port,
        IReadOnlyDictionary<string, string>? settings = null)
    {
        if (turn % 2 == 0)
        {
            application.Kill();
            application.Dispose();
            return await RunningApplication.Start(database, port, settings);
        }
        cluster.Kill();
        cluster.Start();
        await application.Ready();
        return application;
    }
}
