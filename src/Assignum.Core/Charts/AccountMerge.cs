using Assignum.Core.Rulebooks;

namespace Assignum.Core.Charts;

/// <summary>What the merge of an account into another would do. Nothing is done by planning.</summary>
/// <param name="From">The account that goes.</param>
/// <param name="To">The account that stays.</param>
/// <param name="Faults">Why it can't be done; empty when it can.</param>
/// <param name="Cautions">What is worth a look before it is done.</param>
/// <param name="Rules">Rules that will answer with the other account; rules for tax among them.</param>
/// <param name="Parties">Parties that may choose the account as control account, and may choose the other afterwards.</param>
/// <param name="Below">Accounts below it, which will stand below the other.</param>
/// <param name="Tax">What becomes of its tax setting, as a sentence; null when it has none.</param>
public sealed record AccountMerge(Account From, Account To, IReadOnlyList<string> Faults, IReadOnlyList<string> Cautions, IReadOnlyList<Rule> Rules,
    IReadOnlyList<Groups.Party> Parties, IReadOnlyList<Account> Below, string? Tax)
{
    /// <summary>Plans it.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="from">The account that goes.</param>
    /// <param name="to">The account that stays.</param>
    public static AccountMerge Plan(ChartBook chart, Account from, Account to)
    {
        var fold = Fold.Of(from.Number);
        var place = chart.Tree.PlaceOf(from.Number);
        return new(from, to, [.. FaultsOf(chart, from, to)], [.. CautionsOf(from, to)],
            [.. chart.Uses.RulesOf(fold)],
            [.. chart.Uses.PartiesOf(fold).Distinct()],
            [.. chart.Tree.Below(place).Select(p => chart.Tree.Nodes[p].Account)],
            TaxOf(from, to));
    }

    /// <summary>The other account as it shall be afterwards.</summary>
    public Account ToAfterwards =>
        To with { TaxCode = HasTax(To) ? To.TaxCode : From.TaxCode, ItemTaxGroup = HasTax(To) ? To.ItemTaxGroup : From.ItemTaxGroup };

    static bool HasTax(Account account) => account.TaxCode is not null || account.ItemTaxGroup is not null;

    static IEnumerable<string> FaultsOf(ChartBook chart, Account from, Account to)
    {
        if (Fold.Same(from.Number, to.Number))
            yield return $"{from.Number} can't be merged into itself. Choose another account.";
        if (from.Kind != AccountKind.Posting)
            yield return $"{from.Number} {from.Name} is a {from.Kind.Word()}; only posting accounts are merged. Move what stands below it instead.";
        if (to.Kind != AccountKind.Posting)
            yield return $"{to.Number} {to.Name} is a {to.Kind.Word()}; a balance can't go there. Choose a posting account.";
        else if (!to.Active)
            yield return $"{to.Number} {to.Name} is not active. Choose an active account, or make it active first.";
        if (from.Control != to.Control)
            yield return $"{from.Number} belongs to {Owner(from)}, {to.Number} to {Owner(to)}: ledger and subledger would differ. Choose an account of the " +
                "same control.";
        var (place, other) = (chart.Tree.PlaceOf(from.Number), chart.Tree.PlaceOf(to.Number));
        if (place >= 0 && other > place && other < chart.Tree.Nodes[place].End)
            yield return $"{to.Number} {to.Name} stands below {from.Number}. Give it another parent first.";
    }

    static string Owner(Account account) => account.Control is { } control ? $"the subledger {control.Word()}" : "no subledger";

    static IEnumerable<string> CautionsOf(Account from, Account to)
    {
        if (from.Class != to.Class)
            yield return $"The classes differ: {from.Class.Word()} becomes {to.Class.Word()}. {Standing.Sentence(to.Class)}";
        if (from.Suspense != to.Suspense)
            yield return from.Suspense ? $"{from.Number} is a suspense account, {to.Number} is none: its landings will no longer be counted as suspense."
                : $"{to.Number} is a suspense account.";
        if (!to.Currencies.SequenceEqual(from.Currencies) && to.Currencies.Count > 0)
            yield return $"{to.Number} takes {string.Join(" and ", to.Currencies)} only.";
    }

    static string? TaxOf(Account from, Account to)
    {
        if (!HasTax(from))
            return null;
        var own = string.Join(" and ",
            new[] { from.TaxCode is { } code ? "tax code " + code : null, from.ItemTaxGroup is { } group ? "item tax group " + group : null }.OfType<string>());
        return HasTax(to) ? $"{to.Number} keeps its own tax setting; {own} of {from.Number} ends with it."
            : $"{to.Number} has no tax setting and takes over {own}.";
    }
}
