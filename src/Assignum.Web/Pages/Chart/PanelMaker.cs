using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Core;
using Assignum.Storage.Charts;
using Assignum.Storage.Companies;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Showing;

namespace Assignum.Web.Pages.Chart;

/// <summary>Gathers what the panel of an account shows.</summary>
public sealed class PanelMaker(ChartStore charts, BalanceStore balances, EditionStore editions, DimensionStore dimensions, CompanyStore companies,
    RulebookCache books, TimeProvider clock)
{
    const int MostLines = 5;

    /// <summary>The panel of an account; null when the chart has none of that number.</summary>
    public async Task<AccountPanel?> Of(CompanyPage page, ChartBook chart, string number, CancellationToken stop, AccountForm? typed = null,
        IReadOnlyList<FieldFault>? faults = null)
    {
        if (chart.Tree.Find(number) is not { } account || page.Books.Draft.Stored.Labels.Account(account.Number) is not { } id)
            return null;
        var form = typed ?? AccountForm.Of(account, chart.DescriptionOf(account.Number));
        if (typed is null)
            (form.Id, form.Seen) = (id, await charts.LastChangeOf(page.Company.Id, id, stop));
        var labels = page.Books.Draft.Stored.Labels;
        return new AccountPanel(page, form, chart, faults ?? [])
        {
            Title = account.Kind switch { AccountKind.Posting => "Account", AccountKind.Heading => "Heading", _ => "Subtotal" },
            LandsHere = LandsHere.Of(page.Books.Draft.Shown, account, clock.Today()),
            Uses = chart.Uses.Of(account.Number), RuleRow = rule => labels.RuleRow(rule.Id),
            Matched = await charts.MatchedTo(page.Company.Id, id, stop),
            History = await editions.History(page.Company.Id, "account", id, stop),
            Notes = await charts.NotesOf(page.Company.Id, id, stop),
            Lines = await balances.LastLines(page.Company.Id, id, MostLines, stop),
            MergedInto = await charts.MergedInto(page.Company.Id, id, stop),
            Dimensions = await DimensionsOf(page, form, stop), GroupCompany = await GroupCode(page, stop),
            Meanwhile = faults?.Any(f => f.Field == "seen") == true ? Meanwhile(chart, account, form) : [],
        };
    }

    /// <summary>The panel of a new account.</summary>
    /// <param name="page">The page it is for.</param>
    /// <param name="chart">The chart.</param>
    /// <param name="beside">Number of the account it stands beside, or null.</param>
    /// <param name="below">Number of the account it stands below, or null.</param>
    /// <param name="like">Number of the account whose settings it gets, or null.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<AccountPanel> Begin(CompanyPage page, ChartBook chart, string? beside, string? below, string? like, CancellationToken stop)
    {
        var (title, form) = ("New account", AccountForm.New());
        if (chart.Tree.Find(like) is { } copied)
        {
            form = AccountForm.Of(copied, chart.DescriptionOf(copied.Number));
            (title, form.Beside, form.Number) = ($"Copy of {copied.Number} {copied.Name}", copied.Number, "");
        }
        else if (chart.Tree.Find(below) is { } above)
        {
            (title, form.Parent, form.Class) = ($"New account below {above.Number}", above.Number, above.Class.Word());
            form.Beside = chart.Tree.Below(chart.Tree.PlaceOf(above.Number)).Select(p => chart.Tree.Nodes[p].Account).LastOrDefault(a =>
                a.Kind == AccountKind.Posting)?.Number ?? above.Number;
            if (above.Kind == AccountKind.Posting)
                (form.Name, form.Control, form.Manual) = (above.Name, above.Control?.Word(), above.Manual.Word());
        }
        else if (chart.Tree.Find(beside) is { } neighbour)
        {
            (title, form.Parent, form.Class, form.Beside) = ($"New account beside {neighbour.Number}", neighbour.Parent, neighbour.Class.Word(),
                neighbour.Number);
            (form.Control, form.Manual, form.TaxCode, form.ItemTaxGroup, form.TaxRelevance) = (neighbour.Control?.Word(), neighbour.Manual.Word(),
                neighbour.TaxCode, neighbour.ItemTaxGroup, neighbour.TaxRelevance?.Word());
            var described = AccountForm.Of(neighbour, chart.DescriptionOf(neighbour.Number));
            (form.GroupAccount, form.Reporting, form.Activity) = (described.GroupAccount, described.Reporting, described.Activity);
        }
        form.Number = NumberPanel.Of(page, chart, form, null).Answer.Free is [var free, ..] ? free : form.Number;
        return await Typed(page, chart, form, title, [], stop);
    }

    /// <summary>The panel of a new account as it was typed.</summary>
    public async Task<AccountPanel> Typed(CompanyPage page, ChartBook chart, AccountForm form, string title, IReadOnlyList<FieldFault> faults,
        CancellationToken stop) =>
        new(page, form, chart, faults) { Title = title, OffersTaxCodes = true, Dimensions = await DimensionsOf(page, form, stop),
            GroupCompany = await GroupCode(page, stop) };

    /// <summary>The chart of the group, for matching; null where the company belongs to none.</summary>
    public async Task<Rulebook?> GroupBook(CompanyPage page, CancellationToken stop) =>
        page.Company.Group is { } group ? (await books.Of(group, stop)).Draft.Stored.Book : null;

    async Task<string?> GroupCode(CompanyPage page, CancellationToken stop) =>
        page.Company.Group is { } group ? (await companies.Find(group, stop))?.Code : null;

    async Task<IReadOnlyList<DimensionDefined>> DimensionsOf(CompanyPage page, AccountForm form, CancellationToken stop)
    {
        var defined = await dimensions.All(page.Company.Id, stop);
        var others = form.Needs.Keys.Concat(form.Values.Keys).Distinct().Where(code => !defined.Any(d => Fold.Same(d.Code, code)));
        return [.. defined, .. others.Select(code => new DimensionDefined(0, code, "not defined", []))];
    }

    static IReadOnlyList<FieldChange> Meanwhile(ChartBook chart, Account now, AccountForm typed) =>
        typed.Read(chart.Book) is ({ } account, null) && typed.ReadDescription(null) is ({ } description, null)
            ? AccountDifference.Between(now, chart.DescriptionOf(now.Number), account, description) : [];
}
