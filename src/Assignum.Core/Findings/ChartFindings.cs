using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Findings;

/// <summary>What is wrong with a chart of accounts.</summary>
static class ChartFindings
{
    internal static IEnumerable<Finding> Of(Rulebook book)
    {
        var byNumber = new Dictionary<string, Account>();
        foreach (var account in book.Accounts)
            if (!byNumber.TryAdd(Fold.Of(account.Number), account))
                yield return Error("duplicate-number", account,
                    $"Account number {account.Number} is given twice: to {byNumber[Fold.Of(account.Number)].Name} and to {account.Name}. Give one of them " +
                        "another number.");

        foreach (var account in book.Accounts)
            if (account.Parent is { } parent && !byNumber.ContainsKey(Fold.Of(parent)))
                yield return Error("unknown-parent", account,
                    $"Account {account.Number} {account.Name} stands under {parent}, which the chart does not have. Add {parent}, or choose another parent.");

        var parents = byNumber.Where(a => a.Value.Parent is not null).ToDictionary(a => a.Key, a => Fold.Of(a.Value.Parent!));
        foreach (var number in ChartCheck.OnCycles(parents))
            yield return Error("chart-cycle", byNumber[number],
                $"Account {byNumber[number].Number} {byNumber[number].Name} stands, by way of its parents, under itself. Choose another parent.");

        var taxCodes = book.TaxCodes.Select(t => Fold.Of(t.Code)).ToHashSet();
        var itemTaxGroups = book.ItemTaxGroups.Select(g => Fold.Of(g.Code)).ToHashSet();
        foreach (var account in book.Accounts)
        {
            if (account.TaxCode is { } code && !taxCodes.Contains(Fold.Of(code)))
                yield return Error("unknown-tax-code", account,
                    $"Account {account.Number} {account.Name} names tax code {code}, which does not exist. Add it, or choose another.");
            if (account.ItemTaxGroup is { } group && !itemTaxGroups.Contains(Fold.Of(group)))
                yield return Error("unknown-group", account,
                    $"Account {account.Number} {account.Name} names item tax group {group}, which does not exist. Add it, or choose another.");
        }
    }

    internal static IEnumerable<Finding> Advice(Rulebook book)
    {
        var byName = new Dictionary<string, Account>();
        foreach (var account in book.Accounts.Where(a => a.Kind == AccountKind.Posting))
        {
            var like = account.Class.Word() + " " + Alike(account.Name);
            if (!byName.TryAdd(like, account))
                yield return new("near-duplicate-account", Severity.Warning, "accounts/" + account.Number, byName[like].Name == account.Name
                    ? $"Accounts {byName[like].Number} and {account.Number} are both named {account.Name}. Rename one, or use only one."
                    : $"Accounts {byName[like].Number} {byName[like].Name} and {account.Number} {account.Name} have nearly the same name. Rename one, or use " +
                        "only one.", account.Number);
        }
    }

    // Spaces, punctuation and a plural don't tell names apart: "Running  cost" is "Running costs".
    static string Alike(string name) =>
        string.Join(' ', Sought.Plain(name).Split(' ').Select(word => word.Length > 3 && word[^1] == 'S' && word[^2] != 'S' ? word[..^1] : word));

    static Finding Error(string check, Account account, string message) =>
        new(check, Severity.Error, "accounts/" + account.Number, message, account.Number);
}
