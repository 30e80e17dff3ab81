using Assignum.Core;
using Assignum.Storage.Assets;
using Assignum.Web.Access;
using Assignum.Web.Pages.Controls;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Assets;

/// <summary>One fixed asset: what it cost, what it is worth, and everything that moved it.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class AssetModel(AssetStore store, TimeProvider clock) : SubledgerPage(clock)
{
    /// <summary>What stands of it.</summary>
    public AssetBooks It { get; private set; } = null!;
    /// <summary>What moved it, the latest first.</summary>
    public IReadOnlyList<AssetLine> Lines { get; private set; } = [];

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync(string asset)
    {
        if (IdOf("asset", asset) is not { } id
            || (await store.All(Company.Id, Books.Released.Stored, Date, Stop)).FirstOrDefault(a => Fold.Same(a.Asset.Code, asset)) is not { } found)
            return NotFound();
        (It, Lines) = (found, await store.Lines(Company.Id, id, Stop));
        return Page();
    }

    /// <summary>Address of a form that begins with the asset as it stands.</summary>
    public string Form(string type, params (string Field, string Value)[] more) => At("try-out?type=" + type
        + string.Concat(more.Select(m => $"&{m.Field}={Uri.EscapeDataString(m.Value)}")));
}
