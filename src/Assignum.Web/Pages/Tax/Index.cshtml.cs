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
        var (edits, places, faults) = (new List<(TaxRule, string?)>(), new List<int>(), new List<object[]>());
        for (var i = 0; i < cellsSent.Length; i++)
        {
            var (cell, text) = (cellsSent[i], cellsSent[i].Text?.Trim() ?? "");
            var code = text.Length == 0 ? default : Pick.One(text, Draft.Book.TaxCodes, t => t.Code, t => t.Name, "tax code");
            if (code.Fault is { } fault)
                faults.Add([i, fault]);
            else if (cell.Typed || cell.Own is not null || code.Thing is null || !Fold.Same(grid.At(cell.Row, cell.Column).Code?.Code, code.Thing.Code))
            {
                edits.Add((new TaxRule { TaxArea = Asked(Area), PartyTaxGroup = cell.Row, ItemTaxGroup = cell.Column, TaxCode = code.Thing?.Code ?? "" },
                    cell.Own));
                places.Add(i);
            }
        }
        if (faults.Count == 0 && edits.Count > 0)
            faults.AddRange((await taxes.Set(Company.Id, UserId, edits, Date, Stop)).Select(f => (object[])[f.Edit < 0 ? -1 : places[f.Edit], f.Message]));
        var now = await cache.Of(Company.Id, Stop);
        return new JsonResult(new CellsAnswered(faults, faults.Count > 0 ? null : Grid(now), edits.Count == 0 ? "Nothing changes: the cells are so already."
            : $"{Show.Count(edits.Count, "cell")} changed in draft {now.State.Draft}.", DraftStateModel.TextOf(now.State, now.Changes.Count),
            DraftStateModel.StampOf(now.State), []));
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
