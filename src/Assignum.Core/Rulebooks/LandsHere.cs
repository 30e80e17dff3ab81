using Assignum.Core.Charts;
using Assignum.Core.Groups;

namespace Assignum.Core.Rulebooks;

/// <summary>A member that would have a rule's answer, and lands elsewhere by a closer rule.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Name">Its name.</param>
/// <param name="Account">Number of the account it lands on; null: it is held.</param>
public sealed record LandsElsewhere(string Code, string Name, string? Account);

/// <summary>A rule that answers with an account, and the members behind it.</summary>
/// <param name="Rule">The rule.</param>
/// <param name="Members">Items, or parties where the purpose asks for no items, for which this very rule answers; by code.</param>
/// <param name="Elsewhere">Members of the same facts that a closer rule takes elsewhere.</param>
/// <param name="OfParties">Whether the members are parties.</param>
public sealed record RuleLandsHere(Rule Rule, IReadOnlyList<(string Code, string Name)> Members, IReadOnlyList<LandsElsewhere> Elsewhere, bool OfParties);

/// <summary>What lands on an account by the rules: each answering rule, with what exceptions take off it, and the members behind it.</summary>
public static class LandsHere
{
    /// <summary>The rules that answer with an account on a day.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="account">The account.</param>
    /// <param name="date">Posting date.</param>
    public static IReadOnlyList<RuleLandsHere> Of(CompiledRulebook book, Account account, DateOnly date) =>
        [.. book.Book.Rules.Where(r => r.ValidOn(date) && Fold.Same(r.Account, account.Number)).OrderBy(r => r.Purpose.Index).ThenBy(r => r.InWords,
            StringComparer.Ordinal).Select(r => Behind(book, r, date))];

    static RuleLandsHere Behind(CompiledRulebook book, Rule rule, DateOnly date)
    {
        var asked = rule.Purpose.Chain().SelectMany(p => book.Book.LadderOf(p)).SelectMany(r => r.Facts).ToHashSet();
        var ofItems = asked.Overlaps([Fact.Item, Fact.ItemGroup, Fact.ItemKind]);
        if (!ofItems && !asked.Overlaps([Fact.Party, Fact.PartyGroup]))
            return new(rule, [], [], false);
        var (members, elsewhere) = (new List<(string, string)>(), new List<LandsElsewhere>());
        var given = rule.When.Where(w => ofItems ? w.Fact is not (Fact.Item or Fact.ItemGroup or Fact.ItemKind)
            : w.Fact is not (Fact.Party or Fact.PartyGroup)).ToList();
        foreach (var (code, name) in ofItems ? Items(book, rule) : Parties(book, rule))
        {
            var facts = Whereabouts.FactsOf(book, Asked.Of([.. given, new(ofItems ? Fact.Item : Fact.Party, code)]));
            var answer = book.Resolve(rule.Purpose, facts, date);
            if (answer.Found && ReferenceEquals(book.RuleOf(answer), rule))
                members.Add((code, name));
            else
                elsewhere.Add(new(code, name, answer.Found ? book.AccountOf(answer).Number : null));
        }
        return new(rule, members, elsewhere, !ofItems);
    }

    static IEnumerable<(string Code, string Name)> Items(CompiledRulebook book, Rule rule) =>
        book.Book.Items.Where(i => i.Kind.CanMeet(rule.Purpose) && rule.When.All(w => w.Fact switch
        {
            Fact.Item => Fold.Same(w.Code, i.Code),
            Fact.ItemGroup => Fold.Same(w.Code, i.Group),
            Fact.ItemKind => Fold.Same(w.Code, i.Kind.Word()),
            _ => true,
        })).Select(i => (i.Code, i.Name));

    static IEnumerable<(string Code, string Name)> Parties(CompiledRulebook book, Rule rule) =>
        book.Book.Parties.Where(p => p.Role.CanMeet(rule.Purpose) && rule.When.All(w => w.Fact switch
        {
            Fact.Party => Fold.Same(w.Code, p.Code),
            Fact.PartyGroup => Fold.Same(w.Code, p.Group),
            _ => true,
        })).Select(p => (p.Code, p.Name));
}
