using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Assignum.Web.Trails;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Rules;

/// <summary>The panel of a rule, or of one to be added.</summary>
public sealed record RulePanel(CompanyPage Page, Purpose Purpose, RuleForm Form, Rulebook Book, Refusal? Refusal)
{
    /// <summary>Id of the rule; null for a new one.</summary>
    public string? Id { get; init; }
    /// <summary>Where it comes from and how it was used.</summary>
    public RuleOrigin? Origin { get; init; }
    /// <summary>Rules with the same facts, this one among them, for the time line.</summary>
    public IReadOnlyList<Rule> Same { get; init; } = [];

    /// <summary>Ways to try it.</summary>
    public IReadOnlyList<TrailLinkTo> Tries { get; init; } = [];

    /// <summary>The fault of a field, or null.</summary>
    public string? FaultOf(string field) => Refusal?.Field == field ? Refusal.Message : null;
}

/// <summary>The grid of a purpose: the account that answers wherever two facts of a rung meet.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(RuleStore rules, RuleCells cells, RulebookCache cache, TrailMaker trails, Coverages coverages, TimeProvider clock)
    : PurposePage(coverages, clock)
{
    const int MostRows = 200;

    /// <summary>Name of the rung whose facts stand at the sides.</summary>
    [BindProperty(SupportsGet = true, Name = "rung")]
    public string? RungName { get; set; }
    /// <summary>What code or name at the left must have in it.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Filter { get; set; }
    /// <summary>What code or name at the top must have in it.</summary>
    [BindProperty(SupportsGet = true, Name = "top")]
    public string? TopFilter { get; set; }
    /// <summary>How many columns fit, and how many of them are drawn.</summary>
    public (int Fitting, int Drawn) Columns { get; private set; }
    /// <summary>How many rows come before those shown.</summary>
    [BindProperty(SupportsGet = true, Name = "skip")]
    public int From { get; set; }
    /// <summary>The rung shown.</summary>
    public Rung Rung { get; private set; } = Rung.Default;
    /// <inheritdoc/>
    public override Rung? Here => Rung;
    /// <summary>Facts of the rung beyond two, with the value each has, and those it could have.</summary>
    public IReadOnlyList<(Fact Fact, string Value, IReadOnlyList<AxisValue> Choices)> Given { get; private set; } = [];
    /// <summary>How rows are counted from here on.</summary>
    public int Most => MostRows;

    /// <summary>Shows the grid of a rung.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGet(string? purpose)
    {
        if (!LayGrid(purpose))
            return NotFound();
        var fitting = Rung.Facts.Length > 1 ? Fitting(Draft.Book, Rung.Facts[1], TopFilter).Count() : 0;
        Columns = (fitting, Math.Min(MostRows, fitting));
        return Page();
    }

    /// <summary>The grid as it prints.</summary>
    public GridData Printed() => Grid(Books);

    /// <summary>The grid as data.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetCells(string purpose) => LayGrid(purpose) ? new JsonResult(Grid(Books)) : NotFound();

    /// <summary>The head of the page, drawn again with the cell that changed it.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetHead(string? purpose) => LayGrid(purpose) ? Partial("_PurposeHead", this) : NotFound();

    /// <summary>The meters of all purposes, for the list at the left.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetMeters(string? purpose)
    {
        if (!Lay(purpose))
            return NotFound();
        CountAll();
        return Partial("_Meters", this);
    }

    /// <summary>Changes cells in the draft, all or none.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostCellsAsync(string purpose, string? stamp, [FromBody] CellSent?[]? sent)
    {
        if (!LayGrid(purpose))
            return NotFound();
        if (CellSent.Read(sent) is not { } cellsSent)
            return BadRequest();
        var grid = RuleGrid();
        var reading = new CellReading<Account, CellEdit>(cellsSent).Read(
            text => AccountPick.One(text, Draft.Book.Accounts, Purpose),
            cell => grid.OwnRung(cell.Row, cell.Column) is null ? $"The ladder has no rung for {NamedRung(grid, cell)}. Add it to the ladder first." : null,
            (cell, account) => Fold.Same(grid.At(cell.Row, cell.Column).Account?.Number, account.Number),
            (cell, account) => new CellEdit(grid.When(cell.Row, cell.Column), account?.Number, cell.Own, cell.Seen));
        await reading.Save(edits => cells.Set(Company.Id, UserId, Purpose, edits, Date, Stop));
        var now = await cache.Of(Company.Id, Stop);
        // Who has seen the state before this change needs only what it changed.
        var alone = stamp == DraftStateModel.StampOf(Books.State) && now.State == Books.State with { InDraft = Books.State.InDraft + 1 };
        return new JsonResult(reading.Answer(now, () => alone ? PartOf(now, cellsSent) : Grid(now), a => Core.Findings.AccountFit.InWords(Purpose, a)));
    }

    static string NamedRung(RuleGrid grid, CellSent cell) => cell.Row is null && cell.Column is null ? "the company default"
        : string.Join(" + ", grid.When(cell.Row, cell.Column).Select(w => w.Fact.InWords()));

    /// <summary>Opens the trail of a cell.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetCellAsync(string purpose, string? row, string? column)
    {
        if (!LayGrid(purpose))
            return NotFound();
        var grid = RuleGrid();
        var when = grid.When(row, column);
        var links = new List<TrailLinkTo>();
        if (grid.OwnRung(row, column) is { } own && MayPrepare && grid.At(row, column).Origin != CellOrigin.Own)
            links.Add(new("Add a rule for it",
                AtPurpose() + $"?handler=rule&rung={Uri.EscapeDataString(own.Name)}"
                + string.Concat(when.Select(w => $"&{w.Fact.Name()}={Uri.EscapeDataString(w.Code)}")),
                InDrawer: true));
        links.AddRange(TryLinks.All(this, Purpose, when));
        var facts = Whereabouts.FactsOf(Books.Draft.Shown, Asked.Of(when));
        return Drawer("_Trail", await trails.OfFacts(this, Books.Draft, Purpose, facts, Date, links, Stop));
    }

    /// <summary>Opens the panel of a rule, or of a new one on a rung.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetRuleAsync(string purpose, long? row, string? rung)
    {
        if (!LayGrid(purpose))
            return NotFound();
        if (row is null)
        {
            var form = new RuleForm { Rung = rung ?? Ladder.FirstOrDefault(r => r.Facts is [Fact.ItemGroup])?.Name ?? Ladder[^1].Name };
            foreach (var fact in form.RungOf(Draft.Book, Purpose).Facts)
                form.Facts[fact.Name()] = Request.Query[fact.Name()].ToString();
            return Drawer("_Rule", new RulePanel(this, Purpose, form, Draft.Book, null));
        }
        if (Draft.Book.Rules.FirstOrDefault(r => Draft.Labels.RuleRow(r.Id) == row) is not { } rule)
            return Drawer("_RuleGone", this);
        return Drawer("_Rule", new RulePanel(this, Purpose, RuleForm.Of(rule, row.Value, Draft.Book), Draft.Book, null)
        {
            Id = rule.Id, Origin = await rules.OriginOf(Company.Id, row.Value, Stop),
                Same = [.. Draft.Book.Rules.Where(r => r.Purpose == Purpose && r.Rung.Equals(rule.Rung) && r.Key == rule.Key)],
                Tries = TryLinks.All(this, Purpose, rule.When),
        });
    }

    /// <summary>Adds or changes a rule in the draft.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostRuleAsync(string purpose, [FromForm] RuleForm form)
    {
        if (!LayGrid(purpose))
            return NotFound();
        var (rule, refusal) = form.Read(Draft.Book, Purpose);
        refusal ??= form.Row is { } row ? await rules.Change(Company.Id, UserId, row, rule!, Stop) : await rules.Add(Company.Id, UserId, rule!, Stop);
        return refusal is null
            ? Done($"{Purpose.Title}, {rule!.InWords}, lands on {rule.Account} in draft {Books.State.Draft}.", AtPurpose("list") + "#rung-" + rule.Rung.Name)
            : Drawer("_Rule", new RulePanel(this, Purpose, form, Draft.Book,
                refusal) { Id = Draft.Book.Rules.FirstOrDefault(r => Draft.Labels.RuleRow(r.Id) == form.Row)?.Id });
    }

    /// <summary>Ends a rule in the draft.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostEndAsync(string purpose, [FromForm] RuleForm form, DateOnly? lastDay)
    {
        if (!LayGrid(purpose) || form.Row is not { } row)
            return NotFound();
        return await rules.End(Company.Id, UserId, row, lastDay, Stop) is { } refusal
            ? Drawer("_Rule", new RulePanel(this, Purpose, form, Draft.Book, refusal))
            : Done($"The rule ends{(lastDay is { } day ? " after " + Show.Day(day) : "")} in draft {Books.State.Draft}.", AtPurpose("list"));
    }

    bool LayGrid(string? name)
    {
        if (!Lay(name))
            return false;
        Rung = Ladder.FirstOrDefault(r => r.Name == RungName) ?? FirstShown();
        Given = [.. Rung.Facts.Skip(2).Select(fact =>
        {
            IReadOnlyList<AxisValue> choices = [.. GridAxes.Of(Draft.Book, Purpose, fact).Take(MostRows)];
            var asked = Request.Query[fact.Name()].ToString();
            var first = choices.Count > 0 ? choices[0].Code ?? "" : "";
            return (fact, asked.Length > 0 ? asked : first, choices);
        })];
        return true;
    }

    // The rung that says most at a glance: two facts where there are any rules on such a one, groups before members.
    Rung FirstShown() =>
        Ladder.Where(r => r.Facts.Length == 2).OrderByDescending(r => r.Facts.Count(f => f is Fact.ItemGroup or Fact.PartyGroup)).ThenByDescending(r =>
            CountOn(r) > 0).FirstOrDefault()
        ?? Ladder.FirstOrDefault(r => r.Facts.Length == 1 && CountOn(r) > 0) ?? Ladder.FirstOrDefault(r => r.Facts.Length > 0) ?? Ladder[0];

    RuleGrid RuleGrid() => RuleGrid(Books);

    RuleGrid RuleGrid(CompanyBooks books) =>
        new(books.Draft.Shown, Purpose, Rung.Facts.IsEmpty ? Fact.ItemGroup : Rung.Facts[0], Rung.Facts.Length > 1 ? Rung.Facts[1] : null,
            [.. Given.Where(g => g.Value.Length > 0).Select(g => new FactValue(g.Fact, g.Value))], Date);

    GridData Grid(CompanyBooks books)
    {
        var (book, grid) = (books.Draft.Stored.Book, RuleGrid(books));
        List<AxisValue> rows = Rung.Facts.IsEmpty ? [] : [.. Fitting(book, grid.Down, Filter)];
        List<AxisValue> columns = grid.Across is { } across ? [Any, .. Fitting(book, across, TopFilter).Take(MostRows)] : [OnlyColumn];
        return Drawn(books, grid, [.. From == 0 || IsPrint ? [Any] : Enumerable.Empty<AxisValue>(), .. rows.Skip(IsPrint ? 0 : From).Take(AtMost(MostRows))],
            columns, rows.Count);
    }

    static readonly AxisValue Any = new(null, "any"), OnlyColumn = new(null, "lands on");

    // An edit of a cell changes that cell; one of “any” changes all that may fall back on it.
    GridData PartOf(CompanyBooks books, IReadOnlyList<CellSent> sent)
    {
        var grid = RuleGrid(books);
        if (sent.Any(c => c.Row is null) || (grid.Across is not null && sent.Any(c => c.Column is null)))
            return Grid(books);
        List<AxisValue> columns = grid.Across is null ? [OnlyColumn] : [.. sent.Select(c => c.Column).Distinct().Select(code => new AxisValue(code, ""))];
        return Drawn(books, grid, [.. sent.Select(c => c.Row).Distinct().Select(code => new AxisValue(code, ""))], columns, 0) with { IsPart = true };
    }

    static GridData Drawn(CompanyBooks books, RuleGrid grid, IReadOnlyList<AxisValue> rows, IReadOnlyList<AxisValue> columns, int total) =>
        GridData.Of(grid.Down.InWords(), grid.Across?.InWords() ?? "", rows, columns, total, (row, column) =>
        {
            var cell = grid.At(row.Code, column.Code);
            return (cell.Account is { } account ? [account.Number, account.Name, SignOf(account, cell)] : null, cell.Origin, cell.Origin == CellOrigin.Own
                ? cell.Rule!.Id : null, grid.OwnRung(row.Code, column.Code) is not null);
        }) with { Stamp = DraftStateModel.StampOf(books.State) };

    static string SignOf(Account account, GridCell cell)
    {
        if (account.Suspense)
            return "s";
        return cell.Postable ? "" : "x";
    }

    IEnumerable<AxisValue> Fitting(Rulebook book, Fact fact, string? filter)
    {
        var sought = new Sought(filter);
        return GridAxes.Of(book, Purpose, fact).Where(v => sought.In($"{v.Code} {v.Name}"));
    }
}
