using Assignum.Formats.Sheets;
using Assignum.Storage.Subledgers;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Controls;

/// <summary>Movements of one thing, the latest first, with what stood after each.</summary>
/// <param name="Page">The page.</param>
/// <param name="Title">What it is of.</param>
/// <param name="Moves">The movements shown.</param>
/// <param name="Quantity">What stood after the latest; null: it is no goods.</param>
/// <param name="Amount">Its value, or the balance in its currency.</param>
/// <param name="Decimals">Decimals of the amounts.</param>
/// <param name="More">Address of all of them as a table.</param>
public sealed record MovesPanel(CompanyPage Page, string Title, IReadOnlyList<SubledgerMove> Moves, decimal? Quantity, decimal Amount, int Decimals,
    string More)
{
    /// <summary>As many are shown.</summary>
    public const int Most = 200;
}

/// <summary>Stock by item and location on any day: quantity, value, average, and where it stands.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class StockModel(StockStore stock, TimeProvider clock) : SubledgerPage(clock)
{
    /// <summary>Part of a code or name of the item, its group or its location.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Q { get; set; }
    /// <summary>Only what stands below nothing, or has a value without a quantity.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Odd { get; set; }

    /// <summary>All of it.</summary>
    public IReadOnlyList<StockOf> All { get; private set; } = [];
    /// <summary>What fits.</summary>
    public IReadOnlyList<StockOf> Rows { get; private set; } = [];

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    async Task Lay()
    {
        All = await stock.All(Company.Id, Date, Stop);
        Rows = [.. All.Where(s => (!Odd || IsOdd(s)) && (string.IsNullOrWhiteSpace(Q)
            || $"{s.Item} {s.Name} {s.Group} {s.Location}".Contains(Q.Trim(), StringComparison.OrdinalIgnoreCase)))];
    }

    /// <summary>It stands below nothing, or its value has no goods.</summary>
    internal static bool IsOdd(StockOf of) => of.Quantity < 0 || of.Value < 0 || (of.Quantity == 0 && of.Value != 0);

    /// <summary>The stock as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Export(new Table("Stock", ["item", "name", "group", "location", "account", "quantity", "value", "average", "lastMoved"], Rows.Select(s =>
            (IReadOnlyList<object?>)[s.Item, s.Name, s.Group ?? "", s.Location ?? "", NumberOf(s.AccountId), s.Quantity, s.Value, s.Average, s.Last])),
            $"stock-{Date:yyyy-MM-dd}", kind);
    }

    /// <summary>Opens the movements of an item at a place.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetMovesAsync(string item, string? location)
    {
        await Lay();
        if (await Moves(item, location, MovesPanel.Most) is not { } moves)
            return NotFound();
        var here = All.Where(s => s.Item == item && s.Location == location).ToList();
        return Drawer("_Moves", new MovesPanel(this, $"{item}{(location is null ? "" : " at " + location)}", moves, here.Sum(s => s.Quantity),
            here.Sum(s => s.Value), Decimals, At($"stock?handler=movesExport&kind=xlsx&item={Uri.EscapeDataString(item)}&location={
                Uri.EscapeDataString(location ?? "")}&on={Show.Field(Date)}")));
    }

    /// <summary>The movements as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetMovesExportAsync(string item, string? location, string? kind) =>
        await Moves(item, location, MostExported) is not { } moves ? NotFound() : Export(Table(moves), $"{item}-movements", kind);

    async Task<IReadOnlyList<SubledgerMove>?> Moves(string item, string? location, int most) =>
        IdOf("item", item) is { } id && (string.IsNullOrEmpty(location) ? 0 : IdOf("location", location)) is { } place
            ? await stock.Moves(Company.Id, id, place, Date, most, Stop) : null;

    internal static Table Table(IReadOnlyList<SubledgerMove> moves) =>
        new("Movements", ["date", "type", "document", "party", "entry", "quantity", "currency", "amount", "companyAmount"], moves.Select(m =>
            (IReadOnlyList<object?>)[m.Date, m.Type, m.Document, m.Party ?? "", m.Number, m.Quantity, m.Currency, m.DocumentAmount, m.Amount]));
}
