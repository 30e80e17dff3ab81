using System.Collections.Concurrent;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Posting;

namespace Assignum.Web.Pages.Rules;

/// <summary>Coverage that was counted, kept as long as nothing it depends on has changed. Holds nothing that could not be counted anew.</summary>
public sealed class Coverages
{
    sealed record Counted(CompiledRulebook Book, Purpose[] Chain, Rule[][] Rules, DateOnly Date, Coverage Coverage)
    {
        IReadOnlyList<Gap>? gaps;
        internal IReadOnlyList<Gap> Gaps(Purpose purpose) => gaps ??= Core.Rulebooks.Gaps.Of(Book, purpose, Date);
    }

    readonly ConcurrentDictionary<(int Company, Purpose Purpose), Counted> kept = [];

    /// <summary>How the combinations of a purpose are answered.</summary>
    public Coverage Of(int company, LandingBook book, Purpose purpose, DateOnly date) => CountedOf(company, book, purpose, date).Coverage;

    /// <summary>Counts what will be asked for, on all cores.</summary>
    public void Count(int company, LandingBook book, IReadOnlyList<Purpose> purposes, DateOnly date) =>
        Parallel.ForEach(purposes, purpose => CountedOf(company, book, purpose, date));

    /// <summary>The gaps of a purpose.</summary>
    public IReadOnlyList<Gap> GapsOf(int company, LandingBook book, Purpose purpose, DateOnly date) => CountedOf(company, book, purpose, date).Gaps(purpose);

    Counted CountedOf(int company, LandingBook book, Purpose purpose, DateOnly date)
    {
        var compiled = book.Shown;
        if (kept.TryGetValue((company, purpose), out var known) && known.Date == date && (ReferenceEquals(known.Book, compiled) || Same(known, compiled)))
            return known;
        Purpose[] chain = [.. purpose.Chain()];
        var counted = new Counted(compiled, chain, [.. chain.Select(p => RulesOf(compiled, p))], date, Coverage.Of(compiled, purpose, date));
        kept[(company, purpose)] = counted;
        return counted;
    }

    // Editions share what they have in common, so that what is the same object says the same.
    static bool Same(Counted known, CompiledRulebook now)
    {
        var (a, b) = (known.Book.Book, now.Book);
        if (!ReferenceEquals(a.Items, b.Items) || !ReferenceEquals(a.Parties, b.Parties) || !ReferenceEquals(a.Locations, b.Locations)
            || !ReferenceEquals(a.Accounts, b.Accounts)
            || !a.ItemGroups.SequenceEqual(b.ItemGroups) || !a.PartyGroups.SequenceEqual(b.PartyGroups))
            return false;
        for (var i = 0; i < known.Chain.Length; i++)
            if (!a.LadderOf(known.Chain[i]).SequenceEqual(b.LadderOf(known.Chain[i]))
                || !known.Rules[i].SequenceEqual(RulesOf(now, known.Chain[i]), ReferenceEqualityComparer.Instance))
                return false;
        return true;
    }

    static Rule[] RulesOf(CompiledRulebook book, Purpose purpose) => [.. book.Book.Rules.Where(r => r.Purpose == purpose)];
}
