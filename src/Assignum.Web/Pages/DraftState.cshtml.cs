using System.Globalization;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages;

/// <summary>Tells an open page whether the draft has changed since it was drawn, and by whom.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class DraftStateModel(EditionStore editions, TimeProvider clock) : CompanyPage
{
    const int MostSaid = 3;

    /// <inheritdoc/>
    public override string Step => "Editions";

    /// <summary>The state of the draft; with what others did since it was seen.</summary>
    /// <param name="stamp">The state that was seen.</param>
    /// <param name="since">When it was seen, in ticks of universal time.</param>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync(string? stamp, long since)
    {
        var now = StampOf(Books.State);
        if (stamp == now)
            return new NoContentResult();
        var changes = await editions.Changes(Company.Id, Books.State.Draft, 20, Stop);
        var theirs = changes.Where(c => c.At.Ticks > since && c.By is not null && c.By != User.Identity!.Name).ToList();
        return new JsonResult(new
        {
            stamp = now, changes = Books.Changes.Count, text = TextOf(Books.State, Books.Changes.Count), since = clock.GetUtcNow().UtcTicks,
            said = theirs.Take(MostSaid).Select(c => $"{c.By}: {c.Sentence}"), more = Math.Max(0, theirs.Count - MostSaid),
        });
    }

    /// <summary>What tells one state of the settings from another.</summary>
    public static string StampOf(SettingsState state) =>
        string.Create(CultureInfo.InvariantCulture, $"{state.Edition}-{state.Draft}-{state.AtOnce}-{state.InDraft}");

    /// <summary>"Draft 8: 12 changes".</summary>
    public static string TextOf(SettingsState state, int changes) =>
        $"Draft {state.Draft}: {(changes == 0 ? "no changes" : Showing.Show.Count(changes, "change"))}";
}
