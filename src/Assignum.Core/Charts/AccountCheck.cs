using Assignum.Core.Rulebooks;

namespace Assignum.Core.Charts;

/// <summary>A fault of a form, by field.</summary>
/// <param name="Field">Name of the field: "number".</param>
/// <param name="Message">What is wrong, and the mend.</param>
public sealed record FieldFault(string Field, string Message);

/// <summary>What must hold of one account before it joins a chart, or takes a new shape in it.</summary>
public static class AccountCheck
{
    /// <summary>Longest account number and name, in characters.</summary>
    public const int LongestNumber = 20, LongestName = 100;

    /// <summary>All faults of an account.</summary>
    /// <param name="book">The rulebook it belongs to.</param>
    /// <param name="account">The account as it shall be.</param>
    /// <param name="was">Number it has now, or null for a new one.</param>
    public static IReadOnlyList<FieldFault> Faults(Rulebook book, Account account, string? was)
    {
        var faults = new List<FieldFault>();
        var others = new Dictionary<string, Account>();
        foreach (var other in book.Accounts.Where(a => was is null || !Fold.Same(a.Number, was)))
            others.TryAdd(Fold.Of(other.Number), other);

        if (NumberFault(account.Number) is { } malformed)
            faults.Add(new("number", malformed));
        else if (others.TryGetValue(Fold.Of(account.Number), out var taken))
            faults.Add(new("number", $"Number {account.Number} is taken by {taken.Name}. {FreeBeside(others, account.Number)}"));
        if (string.IsNullOrWhiteSpace(account.Name))
            faults.Add(new("name", "The account has no name. Give it the name people shall read."));
        else if (account.Name.Length > LongestName)
            faults.Add(new("name", $"The name has {account.Name.Length} characters. Shorten it to {LongestName}."));
        if (account.Parent is { } parent)
            AddParentFault(faults, others, account, was, parent);
        if (account.ValidFrom > account.ValidTo)
            faults.Add(new("validTo", $"The account would end on {account.ValidTo:yyyy-MM-dd}, before it begins on {account.ValidFrom:yyyy-MM-dd}. Correct one of the dates."));
        if (account.TaxCode is { } taxCode && !book.TaxCodes.Any(t => Fold.Same(t.Code, taxCode)))
            faults.Add(new("taxCode", $"There is no tax code {taxCode}. Choose one that exists."));
        if (account.ItemTaxGroup is { } group && !book.ItemTaxGroups.Any(g => Fold.Same(g.Code, group)))
            faults.Add(new("itemTaxGroup", $"There is no item tax group {group}. Choose one that exists."));
        if (was is not null && account.Kind != AccountKind.Posting && book.Rules.FirstOrDefault(r => Fold.Same(r.Account, was)) is { } rule)
            faults.Add(new("kind", $"Account {was} can't become a {account.Kind.Word()}: rule {rule.Id} for {rule.Purpose}, {rule.InWords}, answers with it. Give that rule another account first."));
        return faults;
    }

    /// <summary>What is wrong with a number by itself; null when nothing is.</summary>
    public static string? NumberFault(string? number) =>
        string.IsNullOrWhiteSpace(number) ? "The account has no number. Give it one."
        : number.Trim().Length > LongestNumber ? $"Number {number.Trim()[..LongestNumber]}… has {number.Trim().Length} characters. Shorten it to {LongestNumber}."
        : number.Any(char.IsControl) ? "The number has a character that can't be seen. Type it anew."
        : null;

    static void AddParentFault(List<FieldFault> faults, Dictionary<string, Account> others, Account account, string? was, string parent)
    {
        if (Fold.Same(parent, account.Number) || (was is not null && Fold.Same(parent, was)))
            faults.Add(new("parent", $"Account {account.Number} can't stand under itself. Choose another parent."));
        else if (!others.TryGetValue(Fold.Of(parent), out var above))
            faults.Add(new("parent", $"There is no account {parent} to stand under. Choose one that exists, or leave it empty for the top."));
        else if (was is not null && IsBelow(others, above, was))
            faults.Add(new("parent", $"Account {parent} itself stands under {was}. Choose a parent outside of it."));
    }

    static bool IsBelow(Dictionary<string, Account> others, Account account, string number)
    {
        for (var (at, steps) = (account, 0); steps < 100; steps++)
        {
            if (at.Parent is null || Fold.Same(at.Parent, number))
                return at.Parent is not null;
            if (!others.TryGetValue(Fold.Of(at.Parent), out at!))
                return false;
        }
        return false;
    }

    // The next numbers up that nobody has, where the number ends in digits.
    static string FreeBeside(Dictionary<string, Account> others, string number)
    {
        var digits = number.Length - number.TrimEnd("0123456789".ToCharArray()).Length;
        if (digits is 0 or > 9)
            return "Choose another.";
        var (stem, from) = (number[..^digits], int.Parse(number[^digits..], System.Globalization.CultureInfo.InvariantCulture));
        var free = Enumerable.Range(from + 1, 2000).Select(n => stem + n.ToString(System.Globalization.CultureInfo.InvariantCulture).PadLeft(digits, '0'))
            .Where(n => n.Length == number.Length && !others.ContainsKey(Fold.Of(n))).Take(3).ToList();
        return free.Count == 0 ? "Choose another." : $"Free beside it: {string.Join(", ", free)}.";
    }
}
