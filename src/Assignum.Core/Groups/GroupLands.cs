using Assignum.Core.Rulebooks;

namespace Assignum.Core.Groups;

/// <summary>Where a group lands for a purpose.</summary>
/// <param name="Lands">The account of the group alone, with its rung.</param>
/// <param name="Own">Whether a rule asks for the group.</param>
/// <param name="Else">Rules that ask for the group together with something else, and land elsewhere.</param>
/// <param name="OwnRule">The rule for this group and nothing else; null: there is none.</param>
/// <param name="Takes">Whether the ladder has a rung for such a rule.</param>
public sealed record GroupLanding(LandsOn Lands, bool Own, IReadOnlyList<Rule> Else, Rule? OwnRule, bool Takes);

/// <summary>What a group lands on: every purpose that its members can meet.</summary>
public static class GroupLands
{
    /// <summary>Every purpose whose ladder asks for groups of the family, and that the group's members can meet or a rule names it for.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="family">The family, one that decides no tax.</param>
    /// <param name="group">Code of the group.</param>
    /// <param name="date">Posting date.</param>
    public static IReadOnlyList<GroupLanding> Of(CompiledRulebook book, GroupFamily family, string group, DateOnly date)
    {
        var fact = GroupFamilies.FactOf(family.Name);
        var value = new FactValue(fact, group);
        var facts = Whereabouts.FactsOf(book, Asked.Of([value]));
        var rules = book.Book.Rules.Where(r => r.ValidOn(date) && r.When.Any(w => w.Fact == fact && Fold.Same(w.Code, group))).ToLookup(r => r.Purpose);
        return [.. Purpose.All.Where(p => Asks(book.Book, p, fact) && (rules[p].Any() || CanMeet(book.Book, family, group, p))).Select(p =>
        {
            var lands = Whereabouts.Of(book, p, facts, date);
            return new GroupLanding(lands, lands.Rung?.Facts.Contains(fact) == true,
                [.. rules[p].Where(r => r.When.Count > 1 && !Fold.Same(r.Account, lands.Account?.Number))],
                rules[p].FirstOrDefault(r => r.When.Count == 1), book.Book.LadderOf(p).Any(r => r.Facts is [var only] && only == fact));
        })];
    }

    static bool Asks(Rulebook book, Purpose purpose, Fact fact) => purpose.Chain().Any(p => book.LadderOf(p).Any(r => r.Facts.Contains(fact)));

    // A group nobody is in yet can meet all.
    static bool CanMeet(Rulebook book, GroupFamily family, string group, Purpose purpose)
    {
        var members = family.MembersOf(book).Where(m => Fold.Same(m.Group, group)).Select(m => m.Kind).Distinct().ToList();
        return members.Count == 0 || family.Member switch
        {
            "item" => members.Any(k => Words<ItemKind>.TryParse(k, out var kind) && kind.CanMeet(purpose)),
            "party" => members.Any(k => Words<PartyRole>.TryParse(k, out var role) && role.CanMeet(purpose)),
            _ => true,
        };
    }
}
