using Assignum.Core;
using Assignum.Core.Matching;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Connections;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Connections;

/// <summary>Where a purpose lands for a connection, and whether it can be set here.</summary>
/// <param name="Purpose">The purpose.</param>
/// <param name="Lands">What answers now, by the draft.</param>
/// <param name="Own">The connection's own rule; null: it has none.</param>
/// <param name="Facts">Facts of a rule of its own; null: its ladder has no rung for connections.</param>
public sealed record LandsForConnection(Purpose Purpose, LandsOn Lands, Rule? Own, IReadOnlyList<FactValue>? Facts);

/// <summary>Entries of a list that are matched, and where what they stand for lands.</summary>
/// <param name="Title">What the list is called.</param>
/// <param name="Ours">What ours are called.</param>
/// <param name="Lands">What of them lands.</param>
/// <param name="Match">Address of the board on which they are matched.</param>
/// <param name="Nothing">What is said where nothing answers.</param>
/// <param name="Tone">Its ink.</param>
/// <param name="Rows">The entries.</param>
public sealed record MatchedLands(string Title, string Ours, string Lands, string Match, string Nothing, string Tone,
    IReadOnlyList<(string Theirs, string? Ours, LandsOn? On)> Rows);

/// <summary>Where the money and stock of a connection land: what each purpose resolves to now and from which rung, set in place as rules of its own.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class LandsModel(ConnectionStore connections, ListStore lists, RuleCells cells, TimeProvider clock) : ConnectionPage(connections, lists)
{
    static readonly (string Title, Purpose[] Purposes)[] Parts =
    [
        ("Sales", [Purpose.Revenue, Purpose.ChargeIncome, Purpose.SalesDiscount, Purpose.SalesReturn, Purpose.GiftCard, Purpose.CustomerDeposit]),
        ("Money", [Purpose.PaymentClearing, Purpose.ProcessingFee, Purpose.HeldFunds, Purpose.Bank, Purpose.CashDifference]),
        ("Stock", [Purpose.Inventory, Purpose.CostOfSales, Purpose.StockDifference]),
    ];

    /// <summary>The method its money comes by; empty: none in particular.</summary>
    [BindProperty(SupportsGet = true, Name = "method")]
    public string? Method { get; set; }
    /// <summary>The purposes, in parts.</summary>
    public IReadOnlyList<(string Title, IReadOnlyList<LandsForConnection> Purposes)> Shown { get; private set; } = [];
    /// <summary>Categories with the item groups they are matched with, and where their sales land.</summary>
    public IReadOnlyList<(string Theirs, string? Ours, LandsOn? Revenue)> Categories { get; private set; } = [];
    /// <summary>Tax codes with ours, and where their output tax lands.</summary>
    public IReadOnlyList<(string Theirs, string? Ours, LandsOn? OutputTax)> Taxes { get; private set; } = [];
    /// <summary>Why nothing was set, and of which purpose.</summary>
    public (string Purpose, string Message)? Fault { get; private set; }

    /// <summary>What answers, in words: "company default", "connection, of bank".</summary>
    internal static string AnsweredBy(LandsForConnection one) => one.Lands.Rung is not { } rung ? ""
        : (rung.Facts.Length == 0 ? "company default" : rung.InWords) + (one.Lands.By != one.Purpose ? $", of {one.Lands.By!.InWords}" : "");

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    async Task Lay()
    {
        Method ??= Health?.Method ?? "";
        var (book, today) = (Books.Draft.Shown, clock.Today());
        LandsOn Of(Purpose purpose, Asked asked) => Whereabouts.Of(book, purpose, Whereabouts.FactsOf(book, asked), today);
        Shown = [.. Parts.Select(part => (part.Title, (IReadOnlyList<LandsForConnection>)[.. part.Purposes.Select(p =>
        {
            var facts = FactsFor(p);
            return new LandsForConnection(p, Of(p, new Asked { Further = Further }), facts is null ? null : Own(p, facts, today), facts);
        })]))];
        Categories = [.. (await Decided("categories")).Select(d => (d.Theirs, d.Ours,
            d.Ours is null ? null : Of(SoldBy(d.Ours), new Asked { ItemGroup = d.Ours, Further = Further })))];
        Taxes = [.. (await Decided("tax-codes")).Select(d => (d.Theirs, d.Ours,
            d.Ours is null ? null : Of(Purpose.OutputTax, new Asked { TaxCode = d.Ours, Further = Further })))];
    }

    // A group of charges, such as delivery, lands by what is for charges.
    Purpose SoldBy(string group) => Draft.Book.Items.Where(i => Fold.Same(i.Group, group)).Select(i => (Core.Groups.ItemKind?)i.Kind).FirstOrDefault()
        == Core.Groups.ItemKind.Charge ? Purpose.ChargeIncome : Purpose.Revenue;

    async Task<IEnumerable<(string Theirs, string? Ours)>> Decided(string list)
    {
        var ours = Draft.Book.MatchesOf(Connection.Code, MatchStore.SettingOf(list)!.Value);
        return (await HttpContext.RequestServices.GetRequiredService<ListStore>().Entries(Company.Id, Connection.Id, list, Stop)).Where(e => e.GoneAt is null)
            .Select(e => ($"{e.Sent.Code} {e.Sent.Name}", ours.GetValueOrDefault(Fold.Of(e.Sent.Code))?.Ours));
    }

    IReadOnlyList<FactValue> Further => string.IsNullOrWhiteSpace(Method) ? [new(Fact.Connection, Connection.Code)]
        : [new(Fact.Connection, Connection.Code), new(Fact.Method, Method.Trim())];

    // The narrowest rung that asks for nothing but what is known here.
    IReadOnlyList<FactValue>? FactsFor(Purpose purpose)
    {
        var known = Further.ToDictionary(f => f.Fact);
        var rung = Draft.Book.LadderOf(purpose).Where(r => r.Facts.Contains(Fact.Connection) && r.Facts.All(known.ContainsKey)).Select(r =>
            (Rung?)r).FirstOrDefault();
        return rung is { } found ? [.. found.Facts.Select(f => known[f])] : null;
    }

    Rule? Own(Purpose purpose, IReadOnlyList<FactValue> facts, DateOnly today) =>
        Draft.Book.Rules.FirstOrDefault(r => r.Purpose == purpose && r.ValidOn(today) && RuleKey.TextOf("", r.When) == RuleKey.TextOf("", facts));

    /// <summary>Gives a purpose an account of the connection's own, or lets it fall back.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(string purpose, string? account, string? seen, string? seenAccount)
    {
        if (Purpose.Find(purpose) is not { } known || FactsFor(known) is not { } facts)
            return NotFound();
        var code = Pick.CodeOf(account);
        if (code.Length > 0 && !Books.Draft.Shown.Accounts.TryFind(code, out _))
            Fault = (purpose, $"There is no account “{account}”. Type its number or part of its name.");
        else if (await cells.Set(Company.Id, UserId, known, [new CellEdit(facts, code.Length > 0 ? code : null, string.IsNullOrEmpty(seen) ? null : seen,
            string.IsNullOrEmpty(seenAccount) ? null : seenAccount)], clock.Today(), Stop) is [var fault, ..])
            Fault = (purpose, fault.Message);
        if (Fault is null)
            return Done($"{known.Title}, {Connection.Name}: " + (code.Length > 0 ? $"{code} in the draft." : "no account of its own any more, in the draft."),
                AtConnection("lands") + (string.IsNullOrEmpty(Method) ? "" : "?method=" + Uri.EscapeDataString(Method)));
        Response.StatusCode = StatusCodes.Status400BadRequest;
        await Lay();
        return Page();
    }
}
