using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.HeldEvents;

/// <summary>A reason as it is kept.</summary>
/// <param name="Cause">Its kind.</param>
/// <param name="Purpose">The purpose that found no account, or whose account does not do.</param>
/// <param name="Facts">The facts with which it was asked.</param>
/// <param name="Account">Number of the account that does not do.</param>
/// <param name="Code">The code that is not known, or of the item that has no cost.</param>
/// <param name="What">What that code is of: "item".</param>
/// <param name="Message">The reason in a sentence.</param>
public sealed record KeptReason(HeldCause Cause, Purpose? Purpose, IReadOnlyList<FactValue> Facts, string? Account, string? Code, string? What, string Message);

/// <summary>One cause for which events wait.</summary>
/// <param name="Key">What tells it from others; stands in addresses.</param>
/// <param name="Cause">The kind of reason.</param>
/// <param name="Purpose">The purpose that lacks an account, or whose account does not do; null where it is about none.</param>
/// <param name="When">The facts of the rule, or of the tax rule, that would answer it.</param>
/// <param name="Lacks">What is missing, in a word or two: "Cost of sales".</param>
/// <param name="For">For what it is missing: "item group BULBS".</param>
/// <param name="Code">The code that is not known, or of the item that has no cost.</param>
/// <param name="What">What that code is of.</param>
/// <param name="Account">Number of the account that does not do.</param>
public sealed record HeldGroup(string Key, HeldCause Cause, Purpose? Purpose, IReadOnlyList<FactValue> When, string Lacks, string For, string? Code,
    string? What,
    string? Account);

/// <summary>Finds the cause behind a reason: what one rule, one tax rule, one cost or one member would answer is one cause, however many events it holds.
/// </summary>
public static class HeldGrouping
{
    /// <summary>The cause of a reason.</summary>
    /// <param name="book">The rulebook in force.</param>
    /// <param name="reason">The reason.</param>
    public static HeldGroup Of(Rulebook book, KeptReason reason) => reason.Cause switch
    {
        HeldCause.NoRule when reason.Purpose is { } purpose => OfRule(book, purpose, reason.Facts),
        HeldCause.NoTaxRule => Made(reason, "Tax", reason.Code is { } code ? $"a rate of tax code {code}" : InWords(TaxFacts(reason.Facts)),
            reason.Code is null ? TaxFacts(reason.Facts) : []),
        HeldCause.NoCost => Made(reason, "Cost", $"item {reason.Code}"),
        HeldCause.UnknownCode => Made(reason, Capital(reason.What ?? "code"), reason.Code ?? reason.Message),
        HeldCause.ClosedPeriod => Made(reason, "Open period", "events of a closed period"),
        HeldCause.TaxDiffers => Made(reason, "Agreement on tax", "documents whose tax is not the one computed"),
        HeldCause.TotalDiffers => Made(reason, "Agreement on totals", "documents whose total is not the one computed"),
        HeldCause.AccountNotPostable or HeldCause.ControlNotPermitted or HeldCause.ManualBlocked or HeldCause.DimensionMissing or HeldCause.DimensionBarred =>
            Made(reason, reason.Cause is HeldCause.DimensionMissing or HeldCause.DimensionBarred ? "Dimension" : "Account",
                $"account {reason.Account}{(reason.Purpose is { } of ? " for " + of.InWords : "")}"),
        _ => Made(reason, "Correction", "events that can't be posted as they came"),
    };

    static HeldGroup Made(KeptReason reason, string lacks, string @for, IReadOnlyList<FactValue>? when = null)
    {
        var about = reason.Cause switch
        {
            HeldCause.Invalid or HeldCause.Unbalanced or HeldCause.ClosedPeriod or HeldCause.TaxDiffers or HeldCause.TotalDiffers => "",
            HeldCause.NoTaxRule when reason.Code is null => RuleKey.TextOf("", when ?? []),
            HeldCause.NoCost or HeldCause.UnknownCode or HeldCause.NoTaxRule => $"{reason.What} {Fold.Of(reason.Code ?? reason.Message)}",
            _ => $"{reason.Purpose?.Name} {reason.Account}",
        };
        return new(KeyOf(reason.Cause, about), reason.Cause, reason.Purpose, when ?? [], lacks, @for, reason.Code, reason.What, reason.Account);
    }

    static HeldGroup OfRule(Rulebook book, Purpose purpose, IReadOnlyList<FactValue> facts)
    {
        var rung = RungFor(book, purpose, facts);
        List<FactValue> when = [.. rung.Facts.Select(fact => facts.First(f => f.Fact == fact))];
        return new(KeyOf(HeldCause.NoRule, purpose.Name + RuleKey.TextOf("", when)), HeldCause.NoRule, purpose, when, purpose.Title,
            when.Count == 0 ? "everything" : InWords(when), null, null, null);
    }

    /// <summary>Rungs of a purpose for which an event brings every fact, in the order of its ladder: a rule on one of them would answer.</summary>
    public static IReadOnlyList<Rung> Rungs(Rulebook book, Purpose purpose, IReadOnlyList<FactValue> facts) =>
        [.. book.LadderOf(purpose).Where(rung => rung.Facts.All(fact => facts.Any(f => f.Fact == fact)))];

    /// <summary>The rung on which a company would put the rule: among those of groups the one that has most rules of the purpose already, else the one that
    /// asks least; the default only where there is no other.</summary>
    public static Rung RungFor(Rulebook book, Purpose purpose, IReadOnlyList<FactValue> facts)
    {
        var counts = book.Rules.Where(r => r.Purpose == purpose).CountBy(r => new Rung([.. r.When.Select(w => w.Fact)])).ToDictionary();
        var fitting = Rungs(book, purpose, facts).Where(r => !r.Facts.IsEmpty).ToList();
        var ofGroups = fitting.FindAll(r => !r.Facts.Any(f => f is Fact.Item or Fact.Party or Fact.Project or Fact.Task));
        var among = ofGroups.Count > 0 ? ofGroups : fitting;
        return among.Count == 0 ? new Rung([]) : among.OrderByDescending(r => counts.GetValueOrDefault(r)).ThenBy(r => r.Facts.Length).First();
    }

    // The area decides only where it has rules of its own.
    static IReadOnlyList<FactValue> TaxFacts(IReadOnlyList<FactValue> facts) =>
        [.. facts.Where(f => f.Fact is Fact.PartyTaxGroup or Fact.ItemTaxGroup)];

    static string InWords(IReadOnlyList<FactValue> facts) =>
        facts.Count == 0 ? "everything" : string.Join(" · ", facts.Select(f => $"{f.Fact.InWords()} {f.Code}"));

    static string Capital(string word) => char.ToUpperInvariant(word[0]) + word[1..];

    // Short, and fit for an address.
    static string KeyOf(HeldCause cause, string about) => Words<HeldCause>.Of(cause) + (about.Length == 0 ? "" : "-" + Digest(about)[..12]);

    static string Digest(string text) =>
        Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(text)));
}
