using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Formats.Sheets;
using Assignum.Storage.Assets;
using Assignum.Storage.Controls;
using Assignum.Web.Access;
using Assignum.Web.Pages.Controls;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Assets;

/// <summary>The register of fixed assets on any day, beside its control accounts.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class AssetsModel(AssetStore store, ControlStore controls, TimeProvider clock) : SubledgerPage(clock)
{
    /// <summary>What code or name must have in it.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Filter { get; set; }
    /// <summary>Those shown.</summary>
    public IReadOnlyList<AssetBooks> All { get; private set; } = [];
    /// <summary>What stands on the control accounts of assets, company currency, debit positive.</summary>
    public decimal Ledger { get; private set; }
    /// <summary>What the register comes to, whatever is filtered.</summary>
    public decimal Register { get; private set; }

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>The register as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Export(new Table("Fixed assets", ["asset", "name", "group", "method", "lifeMonths", "percent", "residual", "came", "cost", "accumulated",
            "bookValue", "depreciatedTo"], All.Select(a => (IReadOnlyList<object?>)[a.Asset.Code, a.Asset.Name, a.Asset.Group ?? "",
                a.Asset.Method is { } method ? Words<AssetMethod>.Of(method) : "", a.Asset.LifeMonths, a.Asset.Percent, a.Asset.Residual, a.Came, a.Cost,
                a.Accumulated, a.BookValue, a.DepreciatedTo])), $"fixed-assets-{Date:yyyy-MM-dd}", kind);
    }

    async Task Lay()
    {
        var all = await store.All(Company.Id, Books.Released.Stored, Date, Stop);
        var sought = new Sought(Filter);
        (All, Register) = ([.. all.Where(a => sought.In($"{a.Asset.Code} {a.Asset.Name}"))], all.Sum(a => a.BookValue));
        var stored = Books.Released.Stored;
        int[] accounts = [.. stored.Book.Accounts.Where(a => a.Control == Control.Assets).Select(a => stored.Labels.Account(a.Number)!.Value)];
        Ledger = (await controls.Ledger(Company.Id, accounts, Date, Stop)).Values.Sum();
    }

    /// <summary>How it is depreciated, in words.</summary>
    internal static string MethodOf(Asset asset) => asset.Method switch
    {
        AssetMethod.StraightLine => $"straight line, {asset.LifeMonths} months",
        AssetMethod.DecliningBalance => $"{Show.Plain(asset.Percent ?? 0)} % of book value a year",
        _ => "not depreciated",
    };
}
