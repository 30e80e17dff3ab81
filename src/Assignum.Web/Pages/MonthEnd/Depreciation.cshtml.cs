using Assignum.Core.Assets;
using Assignum.Core.Posting;
using Assignum.Formats.Sheets;
using Assignum.Storage.Assets;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.MonthEnd;

/// <summary>What fixed assets are depreciated by up to a day: shown before it posts.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class DepreciationModel(AssetStore store, TimeProvider clock) : RunPage(clock)
{
    /// <summary>What is depreciated, and what can't be.</summary>
    public IReadOnlyList<Depreciation> Proposed { get; private set; } = [];
    /// <summary>How many assets there are.</summary>
    public int Assets { get; private set; }
    /// <summary>The figures as they are shown, so that only what was seen is posted.</summary>
    public string Seen => string.Join(';', Proposed.Select(d => FormattableString.Invariant($"{d.Asset.Code}/{d.From:yyyyMMdd}/{d.Amount}")));

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>The figures as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Export(new Table("Depreciation", ["asset", "name", "group", "from", "to", "cost", "accumulated", "depreciation", "bookValue"],
            Proposed.Select(d => (IReadOnlyList<object?>)[d.Asset.Code, d.Asset.Name, d.Asset.Group ?? "", d.From, d.To, d.Cost, d.Accumulated, d.Amount,
                d.BookValue - d.Amount])), $"depreciation-{On:yyyy-MM-dd}", kind);
    }

    /// <summary>Posts it.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(string? seen)
    {
        await Lay();
        if (seen != Seen || !MayPost)
            return Refuse(Changed);
        var made = (AssetDepreciation)Outcomes[0].Happened;
        var (why, entry) = await store.Post(Company.Id, UserId, made, Stop);
        return why is null ? Done($"{Show.Count(made.Lines.Count, "asset")} depreciated up to {Show.Day(On)}.", At("journal/" + entry)) : Refuse(why);
    }

    async Task Lay()
    {
        var all = await store.All(Company.Id, Books.Released.Stored, On, Stop);
        Assets = all.Count;
        Proposed = await store.Propose(Company.Id, all, On, Decimals, Stop);
        LandAll(await store.Made(Company.Id, Proposed, On, Stop) is { } made ? [made] : []);
    }
}
