using Assignum.Core.Rulebooks;

namespace Assignum.Core.Charts;

/// <summary>Picks a posting account by number, name, or any part that only one has; where a part fits several, those whose class suits the purpose come first.</summary>
public static class AccountPick
{
    const string What = "posting account";

    /// <summary>Picks one.</summary>
    /// <param name="typed">What somebody typed.</param>
    /// <param name="posting">Posting accounts.</param>
    /// <param name="purpose">What it is for.</param>
    public static Picked<Account> One(string? typed, IReadOnlyList<Account> posting, Purpose purpose)
    {
        var any = Pick.One(typed, posting, a => a.Number, a => a.Name, What);
        if (any.Thing is not null || string.IsNullOrWhiteSpace(typed))
            return any;
        var suiting = Pick.One(typed, [.. posting.Where(a => purpose.Classes.Contains(a.Class))], a => a.Number, a => a.Name, What);
        return suiting.Thing is null ? any : suiting;
    }
}
