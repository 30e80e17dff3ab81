using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Findings;

/// <summary>What speaks against an account for a purpose: its class, and the subledger it belongs to. The same words for findings and for the moment it is
/// typed.</summary>
/// <param name="Check">Name of the check.</param>
/// <param name="Parts">Ledger and subledger would differ.</param>
/// <param name="Why">What is wrong, as the end of a sentence that names the account.</param>
/// <param name="Fix">What to do, as a sentence.</param>
public sealed record AccountFit(string Check, bool Parts, string Why, string Fix)
{
    /// <summary>Names of checks that part ledger and subledger.</summary>
    public static IReadOnlySet<string> PartingChecks { get; } = new HashSet<string> { "control-missing", "control-foreign" };

    /// <summary>All that speaks against it; nothing where it suits.</summary>
    public static IEnumerable<AccountFit> Of(Purpose purpose, Account account)
    {
        if (!purpose.Classes.Contains(account.Class))
            yield return new("class-mismatch", false,
                $"is of class {account.Class.InWords()}; {purpose.InWords} belongs on {string.Join(" or ", purpose.Classes.Select(c => c.InWords()))}",
                "Choose another account.");
        if (purpose.Control is { } control && account.Control is null)
            yield return new("control-missing", true,
                $"is not a control account; {purpose.InWords} belongs on one of {control.InWords()}, or ledger and subledger differ",
                "Make it a control account, or choose another.");
        else if (account.Control is { } carried && carried != purpose.Control)
            yield return new("control-foreign", true, $"is a control account of {carried.InWords()}, so ledger and subledger would differ",
                "Choose another account.");
    }

    /// <summary>All that speaks against it as sentences; empty where it suits.</summary>
    public static string InWords(Purpose purpose, Account account) =>
        string.Join(" ", Of(purpose, account).Select(fit => $"{account.Number} {account.Name} {fit.Why}. {fit.Fix}"));
}
