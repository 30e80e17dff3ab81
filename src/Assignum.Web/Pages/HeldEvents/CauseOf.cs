using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.HeldEvents;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Storage.HeldEvents;

namespace Assignum.Web.Pages.HeldEvents;

/// <summary>A cause with the events that wait for it.</summary>
/// <param name="Group">The cause.</param>
/// <param name="Events">The events, in the order in which they will post.</param>
/// <param name="InDraft">The change of the draft that answers it; null while none does.</param>
public sealed record CauseOf(HeldGroup Group, IReadOnlyList<HeldEvent> Events, SettingChange? InDraft)
{
    /// <summary>What waits, company currency.</summary>
    public decimal Amount => Events.Sum(e => e.Amount ?? 0);
    /// <summary>Posting date of the oldest.</summary>
    public DateOnly Oldest => Events.Min(e => e.Date);
    /// <summary>The reason, in a word or two.</summary>
    public string Reason => Words<HeldCause>.Of(Group.Cause).Replace('-', ' ');

    /// <summary>What is wrong, in a sentence.</summary>
    public string Sentence => Group.Cause switch
    {
        HeldCause.NoRule => $"{Group.Lacks} for {Group.For} has no rule",
        HeldCause.NoTaxRule => Group.Code is { } code ? $"Tax code {code} has no rate" : $"No tax code where {Group.For} meet",
        HeldCause.NoCost => $"{Group.Code} moves and has no cost",
        HeldCause.UnknownCode => $"No {Group.What ?? "code"} {Group.Code} here",
        HeldCause.ClosedPeriod => "A closed period",
        HeldCause.TaxDiffers => "Tax is not the one computed",
        HeldCause.TotalDiffers => "Totals are not those computed",
        HeldCause.Invalid or HeldCause.Unbalanced => "Can't be posted as they came",
        _ => $"{Group.Lacks} of {Group.For}",
    };

    /// <summary>Held events by cause, those with most money first. An event that waits for two things is in both.</summary>
    internal static IReadOnlyList<CauseOf> All(CompanyPage page, IReadOnlyList<HeldEvent> events)
    {
        var released = page.Books.Released.Stored.Book;
        var byKey = new Dictionary<string, (HeldGroup Group, List<HeldEvent> Events)>(StringComparer.Ordinal);
        foreach (var held in events)
            foreach (var group in held.Reasons.Select(r => HeldGrouping.Of(released, r)).DistinctBy(g => g.Key))
            {
                if (!byKey.TryGetValue(group.Key, out var known))
                    byKey[group.Key] = known = (group, []);
                known.Events.Add(held);
            }
        return [.. byKey.Values.Select(g => new CauseOf(g.Group, g.Events, Answered(page, g.Group))).OrderByDescending(c => c.Amount)
            .ThenByDescending(c => c.Events.Count)];
    }

    // The change of the draft by which a rule, or a tax rule, answers what has none today.
    static SettingChange? Answered(CompanyPage page, HeldGroup group)
    {
        var (draft, changes) = (page.Books.Draft.Stored.Book, page.Books.Changes);
        if (changes.Count == 0 || group.When.Count == 0)
            return null;
        bool Fits(IEnumerable<FactValue> when) => when.All(w => group.When.Any(g => g.Fact == w.Fact && Fold.Same(g.Code, w.Code)));
        return group.Cause switch
        {
            HeldCause.NoRule => draft.Rules.Where(r => group.Purpose!.Chain().Contains(r.Purpose) && Fits(r.When))
                .Select(r => changes.FirstOrDefault(c => Fold.Same(c.Where, "rules/" + r.Id))).FirstOrDefault(c => c is { Kind: not ChangeKind.Ended }),
            HeldCause.NoTaxRule => draft.TaxRules.Where(r => Fits(r.When()))
                .Select(r => changes.FirstOrDefault(c => Fold.Same(c.Where,
                    RulebookDifference.WhereOf(r)))).FirstOrDefault(c => c is { Kind: not ChangeKind.Ended }),
            _ => null,
        };
    }
}
