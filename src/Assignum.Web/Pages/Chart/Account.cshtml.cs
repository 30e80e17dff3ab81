using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Storage.Charts;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Htmx;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Chart;

/// <summary>One account with a page of its own, and every act on a single account.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class AccountModel(ChartStore charts, AccountStore accounts, PanelMaker panels) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Chart";
    /// <summary>The panel.</summary>
    public AccountPanel Panel { get; private set; } = null!;

    /// <summary>Shows the account.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync([FromRoute] string number)
    {
        if (await panels.Of(this, await Chart(), number, Stop) is not { } panel)
            return NotFound();
        Panel = panel;
        return Page();
    }

    /// <summary>Answers a number while it is typed.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetNumberAsync([FromQuery] AccountForm form, [FromRoute] string number) =>
        Partial("_NumberAnswer", NumberPanel.Of(this, await Chart(), form, number == "-" ? null : number));

    /// <summary>Adds or changes an account.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync([FromForm] AccountForm form, string? then)
    {
        var chart = await Chart();
        var (account, fault) = form.Read(chart.Book);
        var (description, unread) = form.ReadDescription(await panels.GroupBook(this, Stop));
        if (fault is null && unread is null && form.Id is null && form.EachTaxCode.Count > 0)
            return await AddEach(chart, form, account!, description!);
        var refusal = (fault ?? unread) is { } wrong ? new Refusal(wrong.Field, wrong.Message) : await Save(form, account!, description!);
        if (refusal is not null)
            return await Again(form, refusal);
        if (form.Id is not null)
            return Done($"Account {account!.Number} {account.Name} is changed: name, place and description at once, settings in draft {Books.State.Draft}.",
                AtAccount(account.Number));
        var said = $"Account {account!.Number} {account.Name} is in draft {Books.State.Draft}.";
        return then == "next" ? Done(said, At($"chart?handler=new&beside={Uri.EscapeDataString(account.Number)}")) : Done(said, AtAccount(account.Number));
    }

    /// <summary>Deletes an account that nothing uses.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostDeleteAsync([FromRoute] string number, int id, long seen)
    {
        if (await accounts.Delete(Company.Id, UserId, id, seen, Stop) is { } refusal)
            return await Again(null, refusal, number);
        return Done($"Account {number} is out of draft {Books.State.Draft}.", At("chart"));
    }

    /// <summary>Writes a note.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostNoteAsync([FromRoute] string number, int id, string? note)
    {
        if (await accounts.AddNote(Company.Id, UserId, id, note, Stop) is { } refusal)
            return await Again(null, refusal, number);
        return Request.IsHtmx() ? await Again(null, null, number) : Done("The note is written.", At($"chart/account/{Uri.EscapeDataString(number)}"));
    }

    // One account for each tax code: the first takes the number typed, the others the next free ones beside it.
    async Task<IActionResult> AddEach(ChartBook chart, AccountForm form, Account account, AccountDescription description)
    {
        var added = new List<NewAccount>();
        foreach (var code in chart.Book.TaxCodes.Where(t => form.EachTaxCode.Contains(t.Code)))
        {
            var number = added.Count == 0 ? account.Number : chart.Numbers.NextAfter(added[^1].Account, added.Select(a => a.Account.Number).ToHashSet());
            if (number is null)
                return await Again(form, new Refusal("number",
                    $"There are fewer than {form.EachTaxCode.Count} free numbers from {account.Number} on. Begin at another, or choose fewer tax codes."));
            added.Add(new(account with { Number = number, Name = $"{account.Name}, {code.Name}", TaxCode = code.Code }, description));
        }
        if (await accounts.Add(Company.Id, UserId, added, Stop) is { } refusal)
            return await Again(form, refusal);
        return Done($"{Show.Count(added.Count, "account")} in draft {Books.State.Draft}: {string.Join(", ", added.Select(a => a.Account.Number))}.",
            AtAccount(account.Number));
    }

    async Task<IActionResult> Again(AccountForm? form, Refusal? refusal, string? number = null)
    {
        var faults = refusal is null ? Array.Empty<FieldFault>() : [new FieldFault(refusal.Field, refusal.Message)];
        var chart = await Chart();
        if (form is { Id: null })
        {
            Panel = await panels.Typed(this, chart, form, form.Beside is null ? "New account" : $"New account beside {form.Beside}", faults, Stop);
            return Answer();
        }
        var now = form is null ? number! : Draft.AccountOf(form.Id!.Value)?.Number;
        if (now is null || await panels.Of(this, chart, now, Stop, form, faults) is not { } panel)
            return Done("The account is no longer in the draft.", At("chart"));
        Panel = panel;
        return Answer();
    }

    // In the drawer the panel takes its own place; without scripts the account's page shows it.
    IActionResult Answer()
    {
        if (Panel.Faults.Count > 0)
            Response.StatusCode = StatusCodes.Status400BadRequest;
        return Request.IsHtmx() ? Partial("_Panel", Panel) : Page();
    }

    // What was written a moment ago is read anew.
    async Task<ChartBook> Chart() => await charts.Of(Company.Id, Draft, Stop);

    Task<Refusal?> Save(AccountForm form, Account account, AccountDescription description)
    {
        if (form.Id is not { } id)
            return accounts.Add(Company.Id, UserId, [new NewAccount(account, description)], Stop);
        var replacement = string.IsNullOrWhiteSpace(form.Replacement) ? null : Pick.CodeOf(form.Replacement);
        return accounts.Change(Company.Id, UserId, id, form.Seen, account, description, replacement, Stop);
    }
}
