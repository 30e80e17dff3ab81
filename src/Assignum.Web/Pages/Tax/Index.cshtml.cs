using Assignum.Core;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Pages.Rules;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Tax;

/// <summary>The drawer of a cell of the tax grid.</summary>
/// <param name="Page">The page.</param>
/// <param name="Party">Party tax group, or null for any.</param>
/// <param name="Item">Item tax group, or null for any.</param>
/// <param name="Cell">What holds.</param>
/// <param name="Same">The rules of the cell itself, for the time line.</param>
public sealed record TaxCellPanel(IndexModel Page, string? Party, string? Item, TaxGridCell Cell, IReadOnlyList<TaxRule> Same);

/// <summary>The tax grid: which tax code holds where a party tax group meets an item tax group.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(TaxStore taxes, RulebookCache cache, TimeProvider clock) : DatedPage(clock)
{
    /// <inheritdoc/>
    public override string Step => "Tax";
    /// <summary>The place the grid is shown for; empty: anywhere.</summary>
    [BindProperty(SupportsGet = true, Name = "area")]
    public string? Area { get; set; }
    /// <summary>Places that a rule, a party or a location names.</summary>
    public IReadOnlyList<string> Areas => [.. GridAxes.Of(Draft.Book, Purpose.OutputTax, Fact.TaxArea).Select(a => a.Code!)];
    /// <summary>How many cells, groups meeting groups, no tax rule answers.</summary>
    public int Holes => TaxGrid(Books) is var grid
        ? Draft.Book.PartyTaxGroups.Sum(p => Draft.Book.ItemTaxGroups.Count(i => grid.At(p.Code, i.Code).Code is null)) : 0;

    /// <summary>Shows the grid.</summary>
    [Needs(Need.Reads)]
    public void OnGet()
    {
    }

    /// <summary>The grid as data.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetCells() => new JsonResult(Grid(Books));

    /// <summary>Changes cells in the draft, all or none.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostCellsAsync([FromBody] CellSent?[]? sent)
    {
        if (CellSent.Read(sent) is not { } cellsSent)
            return BadRequest();
        var grid = TaxGrid(Books);
        var reading = new CellReading<TaxCode, (TaxRule, string?)>(cellsSent).Read(
            text => Pick.One(text, Draft.Book.TaxCodes, t => t.Code, t => t.Name, "tax code"), _ => null,
            (cell, code) => Fold.Same(grid.At(cell.Row, cell.Column).Code?.Code, code.Code),
            (cell, code) =>
                (new TaxRule { TaxArea = Asked(Area), PartyTaxGroup = cell.Row, ItemTaxGroup = cell.Column, TaxCode = code?.Code ?? "" }, cell.Own));
        await reading.Save(edits => taxes.Set(Company.Id, UserId, edits, Date, Stop));
        var now = await cache.Of(Company.Id, Stop);
        return new JsonResult(reading.Answer(now, () => Grid(now)));
    }

    /// <summary>Opens what holds in a cell.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetCell(string? row, string? column)
    {
        var key = RuleKey.TextOf("tax", new TaxRule { TaxArea = Asked(Area), PartyTaxGroup = row, ItemTaxGroup = column, TaxCode = "" }.When());
        return Drawer("_Cell", new TaxCellPanel(this, row, column, TaxGrid(Books).At(row, column),
            [.. Draft.Book.TaxRules.Where(r => RuleKey.TextOf("tax", r.When()) == key)]));
    }

    /// <summary>The grid as it prints.</summary>
    public Rules.GridData Printed() => Grid(Books);

    TaxGrid TaxGrid(CompanyBooks books) => new(books.Draft.Shown, Asked(Area), Date);

    static string Said(TaxCode? code, decimal? percent)
    {
        if (code is null)
            return "not a tax code";
        return percent is { } known ? $"{Show.Plain(known)} % · {code.Name}" : $"no rate yet · {code.Name}";
    }

    GridData Grid(CompanyBooks books)
    {
        var (grid, book) = (TaxGrid(books), books.Draft.Stored.Book);
        return GridData.Of("party tax group", "item tax group", [new(null, "any"), .. book.PartyTaxGroups.Select(g => new AxisValue(g.Code, g.Name))],
            [new(null, "any"), .. book.ItemTaxGroups.Select(g => new AxisValue(g.Code, g.Name))], book.PartyTaxGroups.Count, (row, column) =>
        {
            var cell = grid.At(row.Code, column.Code);
            string[]? answer = cell.Rule is null ? null
                : [cell.Code?.Code ?? cell.Rule.TaxCode, Said(cell.Code, cell.Percent), cell.Percent is null ? "x" : ""];
            return (answer, cell.Origin, cell.Origin == CellOrigin.Own ? cell.Rule!.TaxCode : null, true);
        });
    }

    static string? Asked(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();
}
