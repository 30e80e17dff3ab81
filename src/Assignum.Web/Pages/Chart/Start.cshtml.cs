using Assignum.Core.Charts;
using Assignum.Formats.Charts;
using Assignum.Storage.Charts;
using Assignum.Storage.Companies;
using Assignum.Storage.Posting;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages.Chart;

/// <summary>Starts a chart: from a template, from another company's chart, from a file, or empty.</summary>
[Authorize(Policy = Policies.Prepares)]
public sealed class StartModel(ChartImportStore imports, CompanyStore companies, RulebookCache books) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Chart";
    /// <summary>Companies whose charts can be copied: others that the one who acts may read, with how many accounts they have.</summary>
    public IReadOnlyList<(CompanyRow Company, int Accounts)> Others { get; private set; } = [];
    /// <summary>The template looked at; null: none.</summary>
    public ChartTemplate? Chosen { get; private set; }
    /// <summary>What its chart would look like.</summary>
    public ChartTree? Preview { get; private set; }
    /// <summary>Why it was not started.</summary>
    public string? Fault { get; private set; }
    /// <summary>Whether there is a chart already.</summary>
    public bool Begun => Draft.Book.Accounts.Count > 0;

    /// <summary>Shows the ways to start, and a template where one is named.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnGetAsync(string? template)
    {
        await Lay();
        if (template is not null && ChartTemplates.RowsOf(template) is { } rows)
        {
            Chosen = ChartTemplates.All.First(t => t.Name == template);
            Preview = ChartTree.Of([.. ChartImport.Plan(rows, new ChartBook(Draft.Book with { Accounts = [], Rules = [] })).ParentsFirst().Select(r =>
                r.Account!)]);
        }
        return Page();
    }

    /// <summary>Starts from a template.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostTemplateAsync(string template)
    {
        if (ChartTemplates.RowsOf(template) is not { } rows)
            return NotFound();
        return await Take($"The chart {ChartTemplates.All.First(t => t.Name == template).Title.ToLowerInvariant()}", chart => ChartImport.Plan(rows, chart));
    }

    /// <summary>Starts from another company's chart, without its tax settings, which belong to its own tax codes.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostCompanyAsync(string from)
    {
        await Lay();
        if (Others.FirstOrDefault(o => o.Company.Code == from).Company is not { } other)
            return NotFound();
        var accounts = (await books.Of(other.Id, Stop)).Draft.Stored.Book.Accounts;
        List<ChartRow> rows = [.. accounts.Select((a, i) =>
            new ChartRow(i + 1, a.Number, a.Name, Words(a.Class), a.Kind.ToString(), a.Parent ?? "") { Control = a.Control?.ToString() ?? "",
            Manual = a.Manual.ToString(), Active = a.Active ? "yes" : "no" })];
        return await Take($"The chart of {other.Name}", chart => ChartImport.Plan(rows, chart));

        static string Words(AccountClass accountClass) => Core.Words<AccountClass>.Of(accountClass);
    }

    async Task<IActionResult> Take(string what, Func<ChartBook, ChartPlan> plan)
    {
        if (Begun)
            return await Refuse("The chart has accounts already. Add to it by a file, or account by account.");
        var done = await imports.Import(Company.Id, UserId, plan, wholeOrNothing: true, (_, _) => Task.CompletedTask, Stop);
        return done.Refusal is { } refusal ? await Refuse(refusal.Message)
            : Done($"{what} is in draft {Books.State.Draft}: {Show.Count(done.Plan.Count(ChartRowFate.New), "account")}.", At("chart"));
    }

    async Task<PageResult> Refuse(string fault)
    {
        await Lay();
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    async Task Lay()
    {
        var others = new List<(CompanyRow, int)>();
        foreach (var other in (await companies.All(Stop)).Where(c => c.Id != Company.Id && User.Reads(c.Code)))
            others.Add((other, (await books.Of(other.Id, Stop)).Draft.Stored.Book.Accounts.Count));
        Others = [.. others.Where(o => o.Item2 > 0)];
    }
}
