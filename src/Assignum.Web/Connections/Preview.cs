using System.Text.Json;
using Assignum.Core.Posting;
using Assignum.Storage.Posting;

namespace Assignum.Web.Connections;

/// <summary>A ledger line as somebody has looked at it before it posts.</summary>
public sealed record PreviewLine(string Account, string Name, string? Purpose, decimal Amount);

/// <summary>What an event would yield under an edition.</summary>
/// <param name="Edition">The edition.</param>
/// <param name="Lines">The ledger lines.</param>
/// <param name="Held">Why it would be held; empty: it would land.</param>
/// <param name="Why">Why somebody has to look at it.</param>
public sealed record Preview(int Edition, IReadOnlyList<PreviewLine> Lines, IReadOnlyList<string> Held, string Why)
{
    /// <summary>What it was when somebody looked at it; null: it is the same.</summary>
    public IReadOnlyList<PreviewLine>? Was { get; init; }

    internal static Preview Of(LandingBook book, BusinessEvent happened, string why) => Landing.Land(book.Compiled!, happened) switch
    {
        Landed landed => new(book.Stored.Edition, [.. landed.Rows.Select(r =>
            new PreviewLine(r.Account.Number, r.Account.Name, r.Purpose?.Name, r.Amount))], [], why),
        Held held => new(book.Stored.Edition, [], [.. held.Reasons.Select(r => r.Message)], why),
        var outcome => throw new InvalidOperationException($"{outcome.GetType().Name} is no outcome."),
    };

    /// <summary>Whether it yields the same.</summary>
    internal bool Says(Preview other) => Lines.SequenceEqual(other.Lines) && Held.SequenceEqual(other.Held);

    internal string Json() => JsonSerializer.Serialize(this, Wire.Json);

    internal static Preview? Read(string? json) => json is null ? null : JsonSerializer.Deserialize<Preview>(json, Wire.Json);
}
