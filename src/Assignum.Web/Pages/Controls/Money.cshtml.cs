using Assignum.Core;
using Assignum.Formats.Sheets;
using Assignum.Storage.Subledgers;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Controls;

/// <summary>Money accounts, and what is under way by connection and method, on any day.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class MoneyModel(StockStore stock, TimeProvider clock) : SubledgerPage(clock)
{
    /// <summary>Banks, cash and cards.</summary>
    public IReadOnlyList<MoneyOf> Accounts { get; private set; } = [];
    /// <summary>What is under way.</summary>
    public IReadOnlyList<MoneyOf> Clearing { get; private set; } = [];
    /// <summary>The same by method and currency.</summary>
    public IReadOnlyList<IGrouping<(string Method, string Currency), MoneyOf>> Ways =>
        [.. Clearing.GroupBy(m => (m.Method ?? "held back", m.Currency)).OrderBy(way => way.Key)];

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    async Task Lay()
    {
        var all = await stock.OfMoney(Company.Id, Date, Stop);
        (Accounts, Clearing) = (all.FindAll(m => m.MoneyAccount is not null), all.FindAll(m => m.MoneyAccount is null));
    }

    /// <summary>All of it as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Export(new Table("Money", ["moneyAccount", "connection", "method", "currency", "balance", "companyAmount", "movements", "lastMoved"],
            Accounts.Concat(Clearing).Select(m => (IReadOnlyList<object?>)[m.MoneyAccount ?? "", m.Connection ?? "", m.Method ?? "", m.Currency, m.Document,
                m.Company, m.Many, m.Last])), $"money-{Date:yyyy-MM-dd}", kind);
    }

    /// <summary>Opens the movements of a money account, or of a connection and method.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetMovesAsync(string? account, string? through, string? method)
    {
        await Lay();
        var own = Accounts.Concat(Clearing).Where(m => m.MoneyAccount == account && m.Connection == through && m.Method == method).ToList();
        if (own.Count == 0)
            return NotFound();
        var moves = await stock.MoneyMoves(Company.Id, account, through, method, Date, MovesPanel.Most, Stop);
        var one = own.Count == 1 ? own[0].Currency : Company.Currency;
        return Drawer("_Moves", new MovesPanel(this, Name(own[0]), own.Count == 1 ? moves : moves.ConvertAll(m => m with { DocumentAmount = m.Amount }), null,
            own.Count == 1 ? own[0].Document : own.Sum(m => m.Company), Money.MinorUnits(one), Link(own[0], "movesExport&kind=xlsx")));
    }

    /// <summary>The movements as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetMovesExportAsync(string? account, string? through, string? method, string? kind) =>
        Export(StockModel.Table(await stock.MoneyMoves(Company.Id, account, through, method, Date, MostExported, Stop)), "money-movements", kind);

    /// <summary>"web-shop, card", or a money account.</summary>
    internal static string Name(MoneyOf of) => of.MoneyAccount ?? string.Join(", ", new[] { of.Connection, of.Method }.OfType<string>())
        + (of.Method is null ? ", held back" : "");

    /// <summary>Address of what moved it.</summary>
    internal string Link(MoneyOf of, string handler = "moves") =>
        At($"money?handler={handler}&on={Show.Field(Date)}&account={Uri.EscapeDataString(of.MoneyAccount ?? "")}&through={
            Uri.EscapeDataString(of.Connection ?? "")}&method={Uri.EscapeDataString(of.Method ?? "")}");
}
