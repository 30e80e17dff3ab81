using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Journal;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Rules;

/// <summary>A gap with its mend.</summary>
/// <param name="Gap">The gap.</param>
/// <param name="When">The facts of the rule that mends it; null where the ladder has no rung for one.</param>
/// <param name="Own">The rule that has these facts already, and reaches nothing good; or null.</param>
public sealed record GapLine(Gap Gap, IReadOnlyList<FactValue>? When, Rule? Own)
{
    /// <summary>The rung that closes it, and for what: "item group: POTS".</summary>
    public string InWords => When switch
    {
        null => "the ladder has no rung for it",
        { Count: 0 } => Gap.Mend.InWords,
        _ => $"{Gap.Mend.InWords}: {string.Join(" × ", When.Select(w => w.Code))}",
    };

    /// <summary>The facts as a field of a form carries them.</summary>
    public string Written => string.Join('\n', (When ?? []).Select(w => w.Fact.Name() + "=" + w.Code));
}

/// <summary>The gaps of a purpose: combinations that nothing, suspense or only the default answers, each mended in one step.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class GapsModel(RuleCells cells, SeenStore events, Coverages coverages, TimeProvider clock) : PurposePage(coverages, clock)
{
    const int MostShown = 200;

    /// <inheritdoc/>
    public override string View => "gaps";
    /// <summary>How many there are by kind.</summary>
    public IReadOnlyDictionary<GapKind, int> Counts { get; private set; } = new Dictionary<GapKind, int>();
    /// <summary>Those shown by kind.</summary>
    public ILookup<GapKind, GapLine> Lines { get; private set; } = Array.Empty<GapLine>().ToLookup(l => l.Gap.Kind);
    /// <summary>Gaps that events have come with.</summary>
    public IReadOnlyList<GapLine> SeenInEvents { get; private set; } = [];
    /// <summary>What was typed where it was refused.</summary>
    public (string Written, string Account)? Typed { get; private set; }

    /// <summary>Shows the gaps.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync(string purpose) => await Measure(purpose) ? Page() : NotFound();

    /// <summary>Mends a gap by a rule in the draft.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(string purpose, string? when, string? account, string? own, string? seen)
    {
        if (!await Measure(purpose))
            return NotFound();
        Typed = (when ?? "", account ?? "");
        var picked = AccountPick.One(account, Draft.Book.Accounts, Purpose);
        if (picked.Thing is not { } chosen)
            return Refuse(picked.Fault ?? "No account is typed. Type a number or any part of a name.");
        var facts = (when ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(line => line.Split('=', 2)).Where(p => p.Length == 2
            && FactNames.TryParse(p[0], out _))
            .Select(p => new FactValue(FactNames.TryParse(p[0], out var fact) ? fact : default, p[1].Trim())).ToList();
        return await cells.Set(Company.Id, UserId, Purpose,
            [new CellEdit(facts, chosen.Number, string.IsNullOrEmpty(own) ? null : own, string.IsNullOrEmpty(seen) ? null : seen)], Date,
            Stop) is [var fault, ..]
            ? Refuse(fault.Message)
            : Done($"{Purpose.Title}, {(facts.Count == 0 ? "default" : string.Join(" × ", facts.Select(f => f.Code)))}, lands on {chosen.Number} " +
                $"{chosen.Name} in draft {Books.State.Draft}.", AtPurpose("gaps"));
    }

    /// <summary>What a kind of gap means.</summary>
    public static (string Title, string Says) Meaning(GapKind kind) => kind switch
    {
        GapKind.Nothing => ("Nothing answers", "An event that needs it is held, whole, until a rule is there."),
        GapKind.NotPostable => ("The account takes no postings", "A rule answers, with an account that is closed, a heading, or not valid on the day."),
        GapKind.Suspense => ("Reaches suspense", "It lands, where misses are meant to show. Each of them wants an account of its own."),
        _ => ("Falls to the company default", "It lands. Look whether the default is what is meant here."),
    };

    async Task<bool> Measure(string purpose)
    {
        if (!Lay(purpose))
            return false;
        var book = Books.Draft.Shown;
        var gaps = GapsOfIt;
        Counts = gaps.GroupBy(g => g.Kind).ToDictionary(g => g.Key, g => g.Count());
        Lines = gaps.GroupBy(g => g.Kind).SelectMany(g => g.Take(AtMost(MostShown))).Select(g => Line(g)).ToLookup(l => l.Gap.Kind);
        SeenInEvents = [.. Gaps.OfSeen(book, Purpose, await events.Of(Company.Id, Purpose, Stop), Date).Take(AtMost(MostShown)).Select(Line)];
        return true;

        GapLine Line(Gap gap)
        {
            var when = Gaps.MendingRule(book, gap);
            return new(gap, when, when is null ? null : book.OwnRule(Purpose, when, Date));
        }
    }
}
