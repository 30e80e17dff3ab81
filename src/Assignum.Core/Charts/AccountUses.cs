using Assignum.Core.Rulebooks;

namespace Assignum.Core.Charts;

/// <summary>What uses an account.</summary>
public enum UseKind { Rule, TaxCode, Control }

/// <summary>One use of an account.</summary>
/// <param name="Kind">A rule, a tax code by its rule for tax, or a party that may choose it as control account.</param>
/// <param name="What">"revenue, item group SEEDS", "S20, output tax", "C-10 Larkfield Gardens".</param>
/// <param name="Rule">The rule, where it is one.</param>
/// <param name="Code">Code of the tax code or party.</param>
public sealed record AccountUse(UseKind Kind, string What, Rule? Rule, string? Code);

/// <summary>What uses each account of a rulebook. Counting is quick; the uses themselves are put into words only when asked for.</summary>
public sealed class AccountUses
{
    readonly ILookup<string, Rule> rules;
    readonly ILookup<string, Groups.Party> alternates;

    /// <summary>The uses in a rulebook.</summary>
    public AccountUses(Rulebook book)
    {
        rules = book.Rules.ToLookup(r => Fold.Of(r.Account));
        alternates = book.Parties.SelectMany(p => p.ControlAlternates.Select(a => (Number: Fold.Of(a), Party: p))).ToLookup(a => a.Number, a => a.Party);
    }

    /// <summary>How many uses an account has, by the fold of its number.</summary>
    public int Count(string fold) => rules[fold].Count() + alternates[fold].Count();

    /// <summary>The rules that answer with an account, by the fold of its number.</summary>
    public IEnumerable<Rule> RulesOf(string fold) => rules[fold];

    /// <summary>The parties that may choose an account as control account, by the fold of its number.</summary>
    public IEnumerable<Groups.Party> PartiesOf(string fold) => alternates[fold];

    /// <summary>The uses of an account: rules, then tax codes, then parties.</summary>
    public IReadOnlyList<AccountUse> Of(string number)
    {
        var fold = Fold.Of(number);
        return
        [
            .. rules[fold].Select(Use).OrderBy(u => u.Kind),
            .. alternates[fold].Select(p => new AccountUse(UseKind.Control, $"{p.Code} {p.Name}", null, p.Code)),
        ];
    }

    static AccountUse Use(Rule rule) =>
        rule.Purpose.Control == Control.Tax && rule.When.FirstOrDefault(w => w.Fact == Fact.TaxCode) is { Code: not null } code
            ? new(UseKind.TaxCode, $"{code.Code}, {rule.Purpose.Title.ToLowerInvariant()}", rule, code.Code)
            : new(UseKind.Rule, $"{rule.Purpose.Title.ToLowerInvariant()}, {rule.InWords}", rule, null);
}
