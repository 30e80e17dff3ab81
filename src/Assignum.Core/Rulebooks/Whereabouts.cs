using Assignum.Core.Charts;
using Assignum.Core.Groups;

namespace Assignum.Core.Rulebooks;

/// <summary>Where a purpose lands for given facts.</summary>
/// <param name="Purpose">The purpose.</param>
/// <param name="Account">The account, or null where nothing answers.</param>
/// <param name="Rung">The answering rung, or null.</param>
/// <param name="Rule">The answering rule, or null.</param>
/// <param name="By">The purpose whose ladder answered: this one or a stand-in; null where nothing does.</param>
/// <param name="WhyNot">Why nothing lands there, as the end of a sentence; null where it does.</param>
public sealed record LandsOn(Purpose Purpose, Account? Account, Rung? Rung, Rule? Rule, Purpose? By, string? WhyNot);

/// <summary>What somebody asks about: members and codes, each or none of them.</summary>
public sealed record Asked
{
    /// <summary>Code of a party; its group follows.</summary>
    public string? Party { get; init; }
    /// <summary>Code of a posting group of parties, where no party is given.</summary>
    public string? PartyGroup { get; init; }
    /// <summary>Code of an item; its group and kind follow.</summary>
    public string? Item { get; init; }
    /// <summary>Code of a posting group of items, where no item is given.</summary>
    public string? ItemGroup { get; init; }
    /// <summary>Code of a tax code; its authority follows where there is one only.</summary>
    public string? TaxCode { get; init; }
    /// <summary>Code of the currency; null: the company's.</summary>
    public string? Currency { get; init; }
    /// <summary>Further facts: location, connection, method …</summary>
    public IReadOnlyList<FactValue> Further { get; init; } = [];

    /// <summary>The question that given facts ask.</summary>
    public static Asked Of(IReadOnlyList<FactValue> facts)
    {
        string? Code(Fact fact) => facts.FirstOrDefault(f => f.Fact == fact).Code;
        return new()
        {
            Item = Code(Fact.Item), ItemGroup = Code(Fact.ItemGroup), Party = Code(Fact.Party), PartyGroup = Code(Fact.PartyGroup),
                TaxCode = Code(Fact.TaxCode), Currency = Code(Fact.Currency),
            Further = [.. facts.Where(f => f.Fact is not (Fact.Item or Fact.ItemGroup or Fact.Party or Fact.PartyGroup or Fact.TaxCode or Fact.Currency))],
        };
    }
}

/// <summary>Asks for all purposes at once.</summary>
public static class Whereabouts
{
    /// <summary>Every purpose in 03's order, with the account it lands on.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="facts">The facts, as <see cref="FactsOf"/> makes them.</param>
    /// <param name="date">Posting date.</param>
    public static IEnumerable<LandsOn> Of(CompiledRulebook book, Facts facts, DateOnly date) => Purpose.All.Select(purpose => Of(book, purpose, facts, date));

    /// <summary>One purpose, with the account it lands on.</summary>
    public static LandsOn Of(CompiledRulebook book, Purpose purpose, Facts facts, DateOnly date)
    {
        var answer = book.Resolve(purpose, facts, date);
        if (!answer.Found)
            return new(purpose, null, null, null, null, "has no rule");
        var account = book.AccountOf(answer);
        return new(purpose, account, book.RungOf(answer), book.RuleOf(answer), answer.Purpose, account.WhyNotPostable(date));
    }

    /// <summary>The facts of an item as if it were in another group.</summary>
    public static Facts FactsInGroup(CompiledRulebook book, string item, string group)
    {
        var facts = FactsOf(book, new Asked { Item = item });
        book.Set(facts, Fact.ItemGroup, group);
        return facts;
    }

    /// <summary>The facts that follow from what is asked.</summary>
    public static Facts FactsOf(CompiledRulebook book, Asked asked)
    {
        var facts = book.FactsOf(asked.Further);
        book.Set(facts, Fact.Currency, asked.Currency ?? book.Book.Company.Currency);
        if (asked.Party is { } party && book.Parties.IdOf(party) is > 0 and var known)
            book.SetParty(facts, known);
        else if (asked.PartyGroup is { } partyGroup)
        {
            book.Set(facts, Fact.PartyGroup, partyGroup);
            book.Set(facts, Fact.PartyTaxGroup, CompiledRulebook.TaxGroupOf(book.PartyGroups, partyGroup));
        }
        if (asked.Item is { } item && book.Items.IdOf(item) is > 0 and var id)
        {
            book.SetItem(facts, id);
            book.Set(facts, Fact.ItemKind, Words<ItemKind>.Of(book.Items.ById(id).Kind));
        }
        else if (asked.ItemGroup is { } group)
        {
            book.Set(facts, Fact.ItemGroup, group);
            book.Set(facts, Fact.ItemTaxGroup, CompiledRulebook.TaxGroupOf(book.ItemGroups, group));
        }
        if (asked.TaxCode is { } code)
        {
            book.Set(facts, Fact.TaxCode, code);
            if (book.TaxCodes.TryFind(code, out var taxCode) && taxCode.Components is [{ Authority: { } authority }])
                book.Set(facts, Fact.Authority, authority);
        }
        return facts;
    }
}
