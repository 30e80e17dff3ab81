using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Findings;
using Assignum.Core.Groups;
using Assignum.Core.HeldEvents;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Assignum.Storage.HeldEvents;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;

namespace Assignum.Web.Pages.HeldEvents;

/// <summary>What would come of a fix.</summary>
/// <param name="Landed">Events that would land, and what they come to.</param>
/// <param name="Still">Events that would go on waiting, by what for.</param>
/// <param name="Moved">Lines of the last twelve months that would land elsewhere; null where the fix moves none.</param>
/// <param name="Looked">How many events were looked at.</param>
public sealed record FixEffect((int Events, decimal Amount) Landed, IReadOnlyList<(string For, int Events, decimal Amount)> Still, MovedCount? Moved,
    int Looked);

/// <summary>The panel in which the cause of held events is fixed.</summary>
public sealed record FixPanel(IndexModel Page, CauseOf Cause, FixForm Form, Refusal? Refusal)
{
    /// <summary>What is proposed for the rule.</summary>
    public RuleProposal? Proposal { get; init; }
    /// <summary>Rungs the rule can be on.</summary>
    public IReadOnlyList<Rung> Rungs { get; init; } = [];
    /// <summary>The facts of the rule.</summary>
    public IReadOnlyList<FactValue> When { get; init; } = [];
    /// <summary>The account chosen, or proposed; null: none yet.</summary>
    public Account? Account { get; init; }
    /// <summary>What to know about that account.</summary>
    public string? Fit { get; init; }
    /// <summary>What would come of it; null while nothing is chosen.</summary>
    public FixEffect? Effect { get; init; }
    /// <summary>Changes that would go with it.</summary>
    public IReadOnlyList<string> Along { get; init; } = [];
    /// <summary>Four eyes keep the one who looks from releasing it.</summary>
    public bool IsOwn { get; init; }

    /// <summary>The fault of a field, or null.</summary>
    public string? FaultOf(string field) => Refusal?.Field == field ? Refusal.Message : null;
}

/// <summary>Looks ahead: what a fix would land.</summary>
public sealed class FixLook(Retrying retrying, Npgsql.NpgsqlDataSource source, TimeProvider clock)
{
    /// <summary>Most events that are looked at; the rest goes the same way.</summary>
    public const int Most = 300;

    /// <summary>What would come of one more rule, or tax rule.</summary>
    internal async Task<FixEffect> Of(CompanyPage page, CauseOf cause, Rule? rule, TaxRule? taxRule, CancellationToken stop)
    {
        var (released, draft) = (page.Books.Released.Stored, page.Books.Draft.Stored);
        // Only this change is released; where it needs what only the draft has, that goes with it.
        var known = rule is null || released.Book.Accounts.Any(a => Fold.Same(a.Number, rule.Account));
        var on = known ? released : draft;
        var book = on.Book with
        {
            Rules = rule is null ? on.Book.Rules : [.. on.Book.Rules.Where(r => r.Key != rule.Key || r.Purpose != rule.Purpose), rule],
            TaxRules = taxRule is null ? on.Book.TaxRules : [.. on.Book.TaxRules.Where(r => RuleKey.TextOf("", r.When()) != RuleKey.TextOf("",
                taxRule.When())), taxRule],
        };
        var by = new LandingBook(on with { Book = book });
        return by.Compiled is not { } compiled ? new((0, 0), [], null, 0)
            : await Of(page, cause, by, rule is null ? null
                : await MovedCount.Of(source, page.Company.Id, compiled, rule, DateOnly.FromDateTime(clock.GetUtcNow().Date).AddYears(-1), stop), stop);
    }

    /// <summary>What would come of a rulebook as it is.</summary>
    internal async Task<FixEffect> Of(CompanyPage page, CauseOf cause, LandingBook by, MovedCount? moved, CancellationToken stop)
    {
        var looked = cause.Events.Take(Most).ToList();
        var found = await retrying.Look(page.Company.Id, [.. looked.Select(e => e.Id)], by, stop);
        var pairs = looked.Zip(found).ToList();
        var landed = pairs.FindAll(p => p.Second.Fate == PostingFate.Landed);
        var still = pairs.Except(landed).GroupBy(p => p.Second.Reasons.Count > 0 ? Words<HeldCause>.Of(p.Second.Reasons[0].Cause).Replace('-',
            ' ') : "changed since");
        return new((landed.Count, landed.Sum(p => p.First.Amount ?? 0)),
            [.. still.Select(g => (g.Key, g.Count(), g.Sum(p => p.First.Amount ?? 0)))], moved, looked.Count);
    }
}
