using Assignum.Core.Rulebooks;

namespace Assignum.Core.Charts;

/// <summary>Picks a posting account by number or words of its name; where words fit several, those whose class suits the purpose come first.</summary>
public static class AccountPick
{
    const string What = "posting account";
    const int Named = 3;

    /// <summary>Picks one.</summary>
    /// <param name="typed">What somebody typed.</param>
    /// <param name="accounts">The accounts of the chart; headings and subtotals are named, and never picked.</param>
    /// <param name="purpose">What it is for.</param>
    public static Picked<Account> One(string? typed, IReadOnlyList<Account> accounts, Purpose purpose)
    {
        List<Account> posting = [.. accounts.Where(a => a.Kind == AccountKind.Posting)];
        // The very number of a heading is a mistake to be told, also where a single account stands below it.
        if (!string.IsNullOrWhiteSpace(typed) && new Sought(Pick.CodeOf(typed)) is var number
            && accounts.FirstOrDefault(a => a.Kind != AccountKind.Posting && number.FitOf(a.Number, "") == Sought.Fit.Code) is { } heading)
            return new(null, NotPosting(heading, posting));
        var any = Pick.One(typed, posting, a => a.Number, a => a.Name, What);
        if (any.Thing is not null || string.IsNullOrWhiteSpace(typed))
            return Permitted(any, purpose);
        var suiting = Pick.One(typed, [.. posting.Where(a => purpose.Classes.Contains(a.Class))], a => a.Number, a => a.Name, What);
        return Permitted(suiting.Thing is null ? any : suiting, purpose);
    }

    // A control account that is blocked takes what its own subledger moves, and nothing else. One that warns is warned of where it was typed.
    static Picked<Account> Permitted(Picked<Account> picked, Purpose purpose) =>
        picked.Thing is { Control: { } control, Manual: ManualPolicy.Block } account && control != purpose.Control
            ? new(null, $"{account.Number} {account.Name} is a control account of {control.InWords()} and blocked for anything else: {purpose.InWords} on it " +
                "would part ledger and subledger. Choose another account, or let its policy warn.")
            : picked;

    /// <summary>"Account 6210 is a heading. Choose a posting account below it: 6211, 6214."</summary>
    static string NotPosting(Account heading, List<Account> posting)
    {
        var below = posting.Where(a => Fold.Same(a.Parent, heading.Number)).Take(Named).Select(a => a.Number).ToList();
        return $"Account {heading.Number} {heading.Name} is a {heading.Kind.Word()}. Choose a posting " +
            $"account{(below.Count > 0 ? $" below it: {string.Join(", ", below)}" : "")}.";
    }
}
