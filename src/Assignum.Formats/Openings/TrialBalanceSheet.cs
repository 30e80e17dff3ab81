using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Openings;

/// <summary>What the old books say stands on an account, company currency, debit positive.</summary>
public sealed record OldBalance(Account Account, decimal Amount);

/// <summary>A row of a trial balance that can't be taken.</summary>
/// <param name="Line">Number of its line.</param>
/// <param name="Why">What is wrong, and the fix.</param>
public sealed record RefusedBalance(int Line, string Why);

/// <summary>A trial balance: number of the account, its name where it is there, and either debit and credit or one signed balance, in this order. A first
/// row of headings is passed over; where it names a debit, a credit or a balance, it says which columns they are.</summary>
public static class TrialBalanceSheet
{
    /// <summary>Reads a sheet. An account on several rows is their sum.</summary>
    /// <param name="sheet">The sheet.</param>
    /// <param name="book">The accounts.</param>
    public static (IReadOnlyList<OldBalance> Balances, IReadOnlyList<RefusedBalance> Refused) Read(Sheet sheet, CompiledRulebook book)
    {
        var (balances, refused, columns) = (new Dictionary<string, OldBalance>(), new List<RefusedBalance>(), new Columns(null, null, null));
        var minorUnits = Money.MinorUnits(book.Book.Company.Currency);
        foreach (var (row, i) in sheet.Rows.Select((row, i) => (row, i)))
        {
            var cells = row.Cells.Select(cell => cell.Trim()).ToList();
            if (cells.TrueForAll(cell => cell.Length == 0) || IsSum(cells))
                continue;
            if (i == 0 && !cells.Exists(cell => Decimals.TryTyped(cell, out _)))
                columns = Columns.Of(cells);
            else if (Of(cells, columns, book, minorUnits, out var found) is { } why)
                refused.Add(new(row.Line, why));
            else
                balances[found!.Account.Number] = found with { Amount = found.Amount + (balances.GetValueOrDefault(found.Account.Number)?.Amount ?? 0) };
        }
        return ([.. balances.Values], refused);
    }

    sealed record Columns(int? Debit, int? Credit, int? Balance)
    {
        internal static Columns Of(List<string> headings)
        {
            int? Named(params string[] words) =>
                headings.FindIndex(h => Array.Exists(words, w => h.Contains(w, StringComparison.OrdinalIgnoreCase))) is >= 0 and var at ? at : null;
            return new(Named("debit"), Named("credit"), Named("balance", "amount"));
        }
    }

    // The total below a trial balance is no account.
    static bool IsSum(List<string> cells) => cells[0].Length == 0 || cells[0].StartsWith("total", StringComparison.OrdinalIgnoreCase)
        || cells[0].StartsWith("sum", StringComparison.OrdinalIgnoreCase);

    static string? Of(List<string> cells, Columns columns, CompiledRulebook book, int minorUnits, out OldBalance? found)
    {
        found = null;
        if (!book.Accounts.TryFind(cells[0], out var account))
            return $"There is no account {cells[0]}. Correct the number, or add the account.";
        if (account.Kind != AccountKind.Posting)
            return $"{account.Number} {account.Name} is a {Words<AccountKind>.Of(account.Kind)}. Give the balance to a posting account below it.";
        if (Amount(cells, columns) is not { } amount)
            return $"What stands on {account.Number} {account.Name} is missing. Give a debit, a credit or a balance; 0 where nothing does.";
        if (Money.Round(amount, minorUnits) != amount)
            return $"{account.Number} {account.Name}: {amount.ToString(Written.Plain)} has more than {minorUnits} decimals. Correct it.";
        found = new(account, amount);
        return null;
    }

    static decimal? Amount(List<string> cells, Columns columns)
    {
        decimal? At(int? column) => column is { } at && at < cells.Count && Decimals.TryTyped(cells[at], out var number) ? number : null;
        if (columns.Balance is not null && columns.Debit is null)
            return At(columns.Balance);
        if (columns.Debit is not null)
            return At(columns.Debit) is null && At(columns.Credit) is null ? null : (At(columns.Debit) ?? 0) - (At(columns.Credit) ?? 0);
        // Without headings: what follows the number and the name are a debit and a credit, or a balance alone.
        var first = cells.FindIndex(1, cell => Decimals.TryTyped(cell, out _));
        if (first < 0)
            return null;
        var name = cells.Count > 2 && cells[1].Length > 0 && !Decimals.TryTyped(cells[1], out _) ? 2 : 1;
        return name + 1 < cells.Count ? (At(name) ?? 0) - (At(name + 1) ?? 0) : At(first);
    }
}
