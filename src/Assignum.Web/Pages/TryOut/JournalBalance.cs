using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Web.Showing;

namespace Assignum.Web.Pages.TryOut;

/// <summary>The running balance of a journal in the making: what is missing is said, and taken by typing "=".</summary>
static class JournalBalance
{
    const string Rest = "=";

    /// <summary>Puts what is missing where "=" was typed; on the side where it was typed, whichever sign that takes.</summary>
    internal static void Fill(TryOutForm form)
    {
        var at = form.Lines.FindIndex(line => line.GetValueOrDefault("debit")?.Trim() == Rest || line.GetValueOrDefault("credit")?.Trim() == Rest);
        if (at < 0)
            return;
        var side = form[at, "debit"] == Rest ? "debit" : "credit";
        var others = form.Lines.Where((_, i) => i != at).Sum(line => Number(line, "debit") - Number(line, "credit"));
        var missing = side == "debit" ? -others : others;
        form.Lines[at][side] = missing.ToString("0.####", Written.Now);
    }

    static decimal Number(Dictionary<string, string?> line, string side) =>
        line.GetValueOrDefault(side) is { } text && Written.Now.TryNumber(text.Trim(), out var number) ? number : 0;

    /// <summary>"80.00 credit missing"; null where the lines balance.</summary>
    internal static string? Missing(ManualJournal journal, int decimals)
    {
        var left = journal.Lines.Sum(line => line.Amount);
        return left == 0 ? null : $"{Show.Amount(Math.Abs(left), decimals)} {(left > 0 ? "credit" : "debit")} missing: type {Rest}";
    }
}
