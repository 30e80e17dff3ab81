using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Consolidating;
using Assignum.Formats.Sheets;
using Assignum.Storage.Consolidating;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.GroupChart;

/// <summary>The trial balance of a group: its companies in its own chart and currency, each figure back to the accounts that make it.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class ConsolidatedModel(GroupChartStore store, TimeProvider clock) : DatedPage(clock)
{
    /// <inheritdoc/>
    public override string Step => "Reports";
    /// <summary>The companies.</summary>
    public IReadOnlyList<GroupMember> Members { get; private set; } = [];
    /// <summary>What it comes to.</summary>
    public Consolidation It { get; private set; } = null!;

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>Opens the accounts that make a line.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetPartsAsync(string? account)
    {
        await Lay();
        return It.All.FirstOrDefault(l => Key(l) == account) is { } line ? Drawer("_Parts", (this, line)) : NotFound();
    }

    /// <summary>A line as an address names it.</summary>
    public static string Key(GroupLine line) => line.Account ?? line.Title;

    /// <summary>The lines as a table to take away, or the accounts that make them.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind, bool parts)
    {
        await Lay();
        return parts
            ? Export(new Table("Accounts", ["groupAccount", "groupName", "company", "account", "name", "balance", "rate", "translated"], It.All.SelectMany(l =>
                l.Parts.Select(p => (IReadOnlyList<object?>)[l.Account ?? "", l.Title, p.Company, p.Account.Number, p.Account.Name, p.Account.Balance,
                    Words<TranslationRate>.Of(p.Account.Rate), p.Translated]))), $"consolidated-accounts-{Date:yyyy-MM-dd}", kind)
            : Export(new Table("Consolidated", ["account", "name", .. Members.Select(m => m.Code), "eliminated", "consolidated"], It.All.Select(l =>
                (IReadOnlyList<object?>)[l.Account ?? "", l.Title, .. Members.Select(m => (object?)l.ByCompany.GetValueOrDefault(m.Code)), l.Eliminated,
                    l.Consolidated])), $"consolidated-{Date:yyyy-MM-dd}", kind);
    }

    async Task Lay()
    {
        Members = await store.Members(Company.Id, Stop);
        var chart = Books.Released.Stored.Book.Accounts;
        It = Consolidation.Of([.. ChartTree.Of(chart).Nodes.Select(n => n.Account).Where(a => a.Kind == AccountKind.Posting)],
            await store.Books(Company.Id, Company.Currency, Date, Stop), Date, Decimals);
    }
}
