using Assignum.Web.Access;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages;

/// <summary>A choice that is offered.</summary>
/// <param name="Code">Its number or code.</param>
/// <param name="Name">Its name.</param>
/// <param name="Warning">What speaks against it; empty: nothing.</param>
/// <param name="Barred">It is named, and can't be taken.</param>
public sealed record Choice(string Code, string Name, string Warning = "", bool Barred = false);

/// <summary>Choices offered while somebody types a number, a code or words of a name, best first.</summary>
public sealed class ChooseModel(Storage.Posting.RulebookCache books) : CompanyPage
{
    const int Most = 20;

    /// <inheritdoc/>
    public override string Step => "";

    /// <summary>Offers them.</summary>
    /// <param name="list">What they are of.</param>
    /// <param name="q">What was typed.</param>
    /// <param name="purpose">Of accounts: what one is wanted for, so that what does not suit is said.</param>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync(string list, string? q, string? purpose)
    {
        var book = Draft.Book;
        var all = list == "group-account" && Company.Group is { } group
            ? (await books.Of(group, Stop)).Draft.Stored.Book.Accounts.Select(a => (Code: a.Number, a.Name)) : Choices.Of(Draft.Book, list);
        if (all is null)
            return NotFound();
        var choices = new Sought(Pick.CodeOf(q)).BestFirst(all, c => c.Code, c => c.Name).Take(Most);
        var asked = Purpose.Find(purpose ?? "");
        return new JsonResult(Barred(list, q).Concat(choices.Select(c =>
            new Choice(c.Code, c.Name, asked is not null && Books.Draft.Shown.Accounts.TryFind(c.Code, out var account) ? Showing.Fit.InShort(asked, account)
            : ""))));
    }

    // Its very number or code was typed: whoever does so is told why it can't be, and nothing like it is taken in its place.
    IEnumerable<Choice> Barred(string list, string? typed)
    {
        if (list is "account" or "sold" && HeadingOf(typed) is { } heading)
            return [new(heading.Number, heading.Name, $"a {heading.Kind.Word()}: choose an account below it", Barred: true)];
        if (list is "customer" or "supplier" && Books.Draft.Shown.Parties.TryFind(Pick.CodeOf(typed), out var party)
            && party.Role != PartyRole.Both && party.Role.Word() != list)
            return [new(party.Code, party.Name, $"a {party.Role.Word()}: name a {list}, or give it the role both", Barred: true)];
        return [];
    }

    // Nothing lands on a heading.
    Account? HeadingOf(string? typed) =>
        Books.Draft.Shown.Accounts.TryFind(Pick.CodeOf(typed), out var account) && account.Kind != AccountKind.Posting ? account : null;

    /// <summary>What speaks against an account for a purpose, as it is typed; nothing where it suits or can't be told yet.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetFit(string? purpose, string? account) =>
        Purpose.Find(purpose ?? "") is not { } asked || string.IsNullOrWhiteSpace(account) ? Content("")
        : AccountPick.One(account, Draft.Book.Accounts, asked) switch
        {
            { Thing: { } chosen } => Content(Core.Findings.AccountFit.InWords(asked, chosen)),
            { Fault: { } fault } => Content(fault),
            _ => Content(""),
        };
}
