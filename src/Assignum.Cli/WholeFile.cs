namespace Assignum.Cli;

/// <summary>A file that is either written whole or left as it was: it grows beside its place and takes it at the end.</summary>
sealed class WholeFile : IDisposable
{
    readonly string place;
    readonly string? growing;

    internal WholeFile(FileInfo file)
    {
        place = file.FullName;
        // A device or a pipe has no place to take.
        growing = place.StartsWith("/dev/", StringComparison.Ordinal) ? null : place + ".part";
        Stream = new FileStream(growing ?? place, growing is null ? FileMode.Open : FileMode.Create, FileAccess.Write, FileShare.Read, 1 << 16);
    }

    internal FileStream Stream { get; }

    /// <summary>Closes the file and puts it in its place.</summary>
    internal void Keep()
    {
        Stream.Dispose();
        if (growing is not null)
            File.Move(growing, place, overwrite: true);
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        Stream.Dispose();
        if (growing is not null && File.Exists(growing))
            File.Delete(growing);
    }
}
