using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Charts;
using Assignum.Core.Findings;
using Assignum.Core.Groups;
using Assignum.Core.HeldEvents;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Assignum.Storage.Settings;

namespace Assignum.Web.Pages.HeldEvents;

/// <content>How each cause is fixed.</content>
public sealed partial class IndexModel
{
    // A sentence where the fix waits in the draft; none where it holds at once.
    async Task<(Refusal? Refusal, string? Said)> Fix(CauseOf cause, FixForm form)
    {
        switch (cause.Group.Cause)
        {
            case HeldCause.NoRule:
                if (AccountOf(cause, form) is not { } account)
                    return (new("account", NoAccount(form.Account)), null);
                var rule = RuleOf(cause, form, account);
                return (await rules.Add(Company.Id, UserId, rule, Stop),
                    $"{rule.Purpose.Title}, {rule.InWords}, lands on {rule.Account} in draft {Books.State.Draft}. An approver releases it; the events " +
                        $"post by themselves then.");
            case HeldCause.NoTaxRule when cause.Group.When.Count > 0:
                if (TaxRuleOf(cause, form) is not { } taxRule)
                    return (new("taxCode", $"There is no tax code {form.TaxCode}. Choose one of the list."), null);
                var faults = await taxes.Set(Company.Id, UserId, [(taxRule, Own(taxRule)?.TaxCode)], Today, Stop);
                return (faults.Count == 0 ? null : new("taxCode", faults[0].Message),
                    $"{cause.Group.For} is taxed by {taxRule.TaxCode} in draft {Books.State.Draft}. " +
                    "An approver releases it; the events post by themselves then.");
            case HeldCause.NoCost:
                return (await FixCost(cause, form), null);
            case HeldCause.UnknownCode when cause.Group is { What: "item" or "party", Code: { } code }:
                return (await Add(cause.Group.What, code, form), null);
            default:
                return (new("", "This is fixed where it is said below, and not here."), null);
        }
    }

    async Task<Refusal?> FixCost(CauseOf cause, FixForm form)
    {
        if (string.IsNullOrWhiteSpace(form.Cost) || !Written.Now.TryNumber(form.Cost.Trim(), out var cost))
            return new("cost", string.IsNullOrWhiteSpace(form.Cost) ? "No cost is typed. Write what one unit costs." : Sending.Typed.NotANumber(form.Cost));
        var item = Draft.Book.Items.FirstOrDefault(i => Fold.Same(i.Code, cause.Group.Code));
        return item is null ? new("", $"There is no item {cause.Group.Code} any more.")
            : await groups.ChangeMember(Company.Id, UserId, "item", item.Code, item.Name, cost, Stop);
    }

    Task<Refusal?> Add(string what, string code, FixForm form)
    {
        if (string.IsNullOrWhiteSpace(form.Name))
            return Task.FromResult<Refusal?>(new("name", $"The {what} has no name. Write one."));
        var (group, taxGroup) = (Some(form.Group), Some(form.TaxGroup));
        return what == "item"
            ? groups.AddItem(Company.Id, UserId, new Item { Code = code, Name = form.Name.Trim(), Kind = Words<ItemKind>.Parse(form.Is ?? "stock"),
                Group = group,
                TaxGroup = taxGroup }, Stop)
            : groups.AddParty(Company.Id, UserId, new Party { Code = code, Name = form.Name.Trim(), Role = Words<PartyRole>.Parse(form.Is ?? "customer"),
                Group = group,
                TaxGroup = taxGroup }, Stop);
    }

    static string? Some(string? typed) => string.IsNullOrWhiteSpace(typed) ? null : Pick.CodeOf(typed);

    Account? AccountOf(CauseOf cause, FixForm form) =>
        string.IsNullOrWhiteSpace(form.Account) ? null : AccountPick.One(form.Account, Draft.Book.Accounts, cause.Group.Purpose!).Thing;

    string NoAccount(string? typed) => string.IsNullOrWhiteSpace(typed) ? "No account is chosen. Type its number, or part of its name."
        : AccountPick.One(typed, Draft.Book.Accounts, Chosen!.Group.Purpose!).Fault ?? $"There is no account {typed}.";

    // All reasons of one cause bring the facts of its rung; a rung that asks for more takes those of the first event.
    IReadOnlyList<FactValue> FactsOf(CauseOf cause) => cause.Events[0].Reasons.First(r => HeldGrouping.Of(Books.Released.Stored.Book,
        r).Key == cause.Group.Key).Facts;

    IReadOnlyList<FactValue> WhenOf(CauseOf cause, FixForm form)
    {
        var facts = FactsOf(cause);
        var rung = HeldGrouping.Rungs(Draft.Book, cause.Group.Purpose!, facts).FirstOrDefault(r => r.Name == form.Rung);
        return rung is null ? cause.Group.When : [.. rung.Facts.Select(f => facts.First(v => v.Fact == f))];
    }

    Rule RuleOf(CauseOf cause, FixForm form, Account account) => new()
    {
        Id = "", Purpose = cause.Group.Purpose!, When = [.. WhenOf(cause, form)], Account = account.Number, Note = "For held events",
    };

    TaxRule? TaxRuleOf(CauseOf cause, FixForm form)
    {
        string? Of(Fact fact) => cause.Group.When.FirstOrDefault(w => w.Fact == fact).Code;
        return Draft.Book.TaxCodes.FirstOrDefault(c => Fold.Same(c.Code, form.TaxCode)) is { } code
            ? new TaxRule { PartyTaxGroup = Of(Fact.PartyTaxGroup), ItemTaxGroup = Of(Fact.ItemTaxGroup), TaxCode = code.Code } : null;
    }

    TaxRule? Own(TaxRule like) =>
        Draft.Book.TaxRules.FirstOrDefault(r => RuleKey.TextOf("", r.When()) == RuleKey.TextOf("", like.When()) && r.ValidOn(Today));

    async Task<FixPanel> Panel(CauseOf cause, FixForm form, Refusal? refusal)
    {
        var panel = new FixPanel(this, cause, form, refusal);
        if (cause.InDraft is { } change)
        {
            var along = new ChangeNeeds(Books.Released.Stored.Book, Draft.Book, Books.Changes).Of([change.Where]);
            var authors = await editions.Authors(Company.Id, Books.Released.Stored, Draft, [change], Stop);
            return panel with
            {
                Effect = await look.Of(this, cause, Books.Draft, null, Stop), Along = [.. along.Select(a => a.Change.Sentence)],
                IsOwn = Company.FourEyes && authors.GetValueOrDefault(change.Where)?.WasInHandOf(UserId) == true,
            };
        }
        return cause.Group.Cause switch
        {
            HeldCause.NoRule => await RulePanel(panel, cause, form),
            HeldCause.NoTaxRule when TaxRuleOf(cause, form) is { } taxRule => panel with { Effect = await look.Of(this, cause, null, taxRule, Stop) },
            _ => panel,
        };
    }

    async Task<FixPanel> RulePanel(FixPanel panel, CauseOf cause, FixForm form)
    {
        var when = WhenOf(cause, form);
        var proposal = RuleProposal.Of(Draft.Book, cause.Group.Purpose!, when);
        var account = form.Account is null ? proposal.Account : AccountOf(cause, form);
        form.Account ??= proposal.Account is { } proposed ? $"{proposed.Number} {proposed.Name}" : null;
        return panel with
        {
            Proposal = proposal, When = when, Rungs = HeldGrouping.Rungs(Draft.Book, cause.Group.Purpose!, FactsOf(cause)), Account = account,
            Fit = account is null ? null : AccountFit.InWords(cause.Group.Purpose!, account),
            Effect = account is null ? null : await look.Of(this, cause, RuleOf(cause, form, account), null, Stop),
        };
    }
}
