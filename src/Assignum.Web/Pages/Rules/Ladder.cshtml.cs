using System.Collections.Immutable;
using Assignum.Core.Changes;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Rules;

/// <summary>The ladder of a purpose: which facts are asked, and in which order. A proposal stands in the address until it is put into the draft.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class LadderModel(LadderStore ladders, Coverages coverages, TimeProvider clock) : PurposePage(coverages, clock)
{
    /// <inheritdoc/>
    public override string View => "ladder";
    /// <summary>The rungs as proposed.</summary>
    public ImmutableArray<Rung> Proposed { get; private set; } = [];
    /// <summary>Whether the proposal differs from the draft.</summary>
    public bool Differs { get; private set; }
    /// <summary>Rules stand on a rung that would be dropped.</summary>
    public bool InTheWay => Draft.Book.Rules.Any(r => r.Purpose == Purpose && !Proposed.Contains(r.Rung));
    /// <summary>What the proposal does; null where it is what the draft has, or is counted after the page.</summary>
    public LadderChange? Change { get; private set; }
    /// <summary>Facts that can be asked for.</summary>
    public static IReadOnlyList<Fact> Facts => FactNames.OfPurposes;

    /// <summary>Shows the ladder, or a proposal for one.</summary>
    /// <param name="purpose">The purpose.</param>
    /// <param name="r">Names of the proposed rungs; none: the ladder of the draft.</param>
    /// <param name="add">Facts of a rung to be added, before the default.</param>
    [Needs(Need.Reads)]
    public IActionResult OnGet(string purpose, string[] r, string[] add)
    {
        if (!Lay(purpose))
            return NotFound();
        if (Read(r) is not { } rungs)
            return NotFound();
        Propose(rungs);
        if (add.Length > 0 && Added(add) is { } fault)
            return Refuse(fault);
        return Page();
    }

    /// <summary>What a proposal does, for a page that did not wait for it.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetMoves(string purpose, string[] r)
    {
        if (!Lay(purpose) || Read(r) is not { } rungs)
            return NotFound();
        Propose(rungs);
        Change ??= Counted();
        return Partial("_LadderMoves", this);
    }

    /// <summary>Puts the proposal into the draft.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(string purpose, string[] r, string[] seen)
    {
        if (!Lay(purpose) || Read(r) is not { } rungs || Read(seen) is not { } before)
            return NotFound();
        if (await ladders.Set(Company.Id, UserId, Purpose, rungs, before, Stop) is not { } refusal)
            return Done($"{Purpose.Title} tries {Showing.Show.Count(rungs.Length, "rung")} in draft {Books.State.Draft}.", AtPurpose("ladder"));
        Propose(rungs);
        return Refuse(refusal.Message);
    }

    /// <summary>Address of the proposal with other rungs.</summary>
    public string With(IEnumerable<Rung> rungs) => AtPurpose("ladder") + "?" + string.Join('&', rungs.Select(r => "r=" + Uri.EscapeDataString(r.Name)));

    /// <summary>The proposal with a rung moved.</summary>
    public IEnumerable<Rung> Moved(int from, int to) => Proposed.RemoveAt(from).Insert(to, Proposed[from]);

    void Propose(ImmutableArray<Rung> rungs)
    {
        Proposed = rungs;
        Differs = !rungs.SequenceEqual(Ladder);
        Change = Differs && (!IsLarge || InTheWay) ? Counted() : null;
    }

    LadderChange Counted() => LadderChange.Of(Books.Draft.Shown, Purpose, Proposed, Date);

    string? Added(string?[] names)
    {
        var facts = names.Select(n => FactNames.TryParse(n ?? "", out var fact) && FactNames.OfPurposes.Contains(fact) ? fact
            : (Fact?)null).Distinct().ToList();
        if (facts.Contains(null))
            return $"“{string.Join(", ", names)}” are not facts a rung can ask for. Choose from the list.";
        var rung = new Rung([.. facts.OfType<Fact>().Order()]);
        if (Proposed.Contains(rung))
            return $"The rung {rung.InWords} is on the ladder already. Move it with the arrows.";
        // A rung that asks for more is closer: it goes before the first that asks for fewer facts.
        var at = Proposed.ToList().FindIndex(r => r.Facts.Length < rung.Facts.Length);
        Propose(Proposed.Insert(at < 0 ? Proposed.Length : at, rung));
        return null;
    }

    ImmutableArray<Rung>? Read(string?[] sent)
    {
        if (sent.Contains(null))
            return null;
        string[] names = sent!;
        if (names.Length == 0)
            return [.. Ladder];
        var rungs = new List<Rung>();
        foreach (var name in names)
        {
            var facts = name == Rung.Default.Name ? [] : name.Split('+').Select(f => FactNames.TryParse(f, out var fact) ? fact : (Fact?)null).ToList();
            if (facts.Contains(null) || facts.Distinct().Count() < facts.Count)
                return null;
            rungs.Add(new Rung([.. facts.OfType<Fact>()]));
        }
        return [.. rungs];
    }
}
