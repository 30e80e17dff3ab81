namespace Assignum.Formats.Groups;

/// <summary>What the cells of a row said when the sheet was taken away, in its last column: so that a cell somebody else has changed since is told from one
/// that was filled in.</summary>
sealed class AsTaken
{
    readonly List<(string Heading, string Value)> values;

    internal AsTaken(List<(string Heading, string Value)> values) => this.values = values;

    internal string Written => string.Join(';',
        values.Select(v => v.Heading + "=" + v.Value.Replace("%", "%25", StringComparison.Ordinal).Replace(";", "%3B", StringComparison.Ordinal)));

    internal void Add(string heading, string value) => values.Add((heading, value));

    /// <summary>The value of a heading; null where the row does not say it.</summary>
    internal string? this[string heading] => values.FirstOrDefault(v => v.Heading == heading).Value;

    internal static AsTaken Read(string text) =>
        new([.. text.Split(';').Select(part => part.Split('=', 2)).Where(p => p.Length == 2).Select(p =>
            (p[0], p[1].Replace("%3B", ";", StringComparison.Ordinal).Replace("%25", "%", StringComparison.Ordinal)))]);
}
