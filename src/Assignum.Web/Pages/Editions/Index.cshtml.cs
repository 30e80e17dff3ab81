using Assignum.Core.Changes;
using Assignum.Core.Findings;
using Assignum.Storage.Checks;
using Assignum.Storage.Settings;
using Assignum.Web.Pages.Checks;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Editions;

/// <summary>What the draft changes, by whom; taking changes back, releasing all or some of them, and the editions before it.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(EditionStore editions, DraftStore drafts, AcceptedFindings accepted, TimeProvider clock) : CompanyPage
{
    const int Most = 100;

    /// <inheritdoc/>
    public override string Step => "Editions";
    /// <summary>Name of a purpose or kind of setting shown alone.</summary>
    [BindProperty(SupportsGet = true, Name = "of")]
    public string? Of { get; set; }
    /// <summary>What sentences must have in them.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Text { get; set; }
    /// <summary>How many changes come before those shown.</summary>
    [BindProperty(SupportsGet = true)]
    public int From { get; set; }
    /// <summary>Changes that fit.</summary>
    public IReadOnlyList<SettingChange> Fitting { get; private set; } = [];
    /// <summary>Changes shown.</summary>
    public IReadOnlyList<SettingChange> Shown { get; private set; } = [];
    /// <summary>Who made or last altered them, by place.</summary>
    public IReadOnlyDictionary<string, ChangeAuthor> Authors { get; private set; } = new Dictionary<string, ChangeAuthor>();
    /// <summary>Editions, newest first.</summary>
    public IReadOnlyList<EditionRow> All { get; private set; } = [];
    /// <summary>What the checks see in the draft and nobody has accepted.</summary>
    public IReadOnlyList<FindingLine> Open { get; private set; } = [];
    /// <summary>Warnings that would part ledger and subledger, and come with what is about to be released.</summary>
    public IReadOnlyList<Finding> Parting { get; private set; } = [];
    /// <summary>The reason that was typed for releasing with them.</summary>
    public string? Reason { get; private set; }
    /// <summary>Who changed what in the draft.</summary>
    public IReadOnlyList<LoggedChange> Log { get; private set; } = [];
    /// <summary>Why an act was refused.</summary>
    public string? Fault { get; private set; }
    /// <summary>Chosen changes that are about to be released; null: none are.</summary>
    public IReadOnlyList<SettingChange>? Chosen { get; private set; }
    /// <summary>Places that were ticked, kept when an act is refused.</summary>
    public IReadOnlySet<string> Ticked { get; private set; } = new HashSet<string>();
    /// <summary>The note that was typed, kept when an act is refused.</summary>
    public string? Note { get; private set; }
    /// <summary>Whether a change was ticked.</summary>
    public bool IsTicked(SettingChange change) => Ticked.Contains(change.Where);
    /// <summary>What goes with them.</summary>
    public IReadOnlyList<TakenAlong> Along { get; private set; } = [];
    /// <summary>How many changes a page shows.</summary>
    public int MostShown => Most;
    /// <summary>Whether the draft can be released whole by the one who looks.</summary>
    public bool MayRelease => MayApprove && Books.Changes.Count > 0 && Books.Draft.Errors.Count == 0;

    /// <summary>Shows the draft.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>What the checks see, for a page that did not wait for it.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetFindingsAsync() =>
        Partial("_Findings", ((CompanyPage)this, (IReadOnlyList<FindingLine>)[.. (await Lines()).Where(l => l.Accepted is null)]));

    /// <summary>Shows what would go with chosen changes, before they are released.</summary>
    [Needs(Need.Approves)]
    public async Task<IActionResult> OnPostLookAsync(string[] chosen)
    {
        Ticked = chosen.ToHashSet(StringComparer.Ordinal);
        Chosen = [.. Books.Changes.Where(c => chosen.Contains(c.Where, StringComparer.Ordinal))];
        if (Chosen.Count == 0)
            return await Refuse("No change is ticked. Tick those to release, or release all.");
        Along = new ChangeNeeds(Books.Released.Stored.Book, Draft.Book, Books.Changes).Of(chosen);
        await Lay();
        return Page();
    }

    /// <summary>Releases the draft as it was seen, whole or by chosen changes.</summary>
    [Needs(Need.Approves)]
    public async Task<IActionResult> OnPostAsync(int draft, long stamp, string? note, string[] chosen, string? reason)
    {
        chosen = [.. chosen.OfType<string>()];
        (Ticked, Note, Reason) = (chosen.ToHashSet(StringComparer.Ordinal), note, reason);
        if (chosen.Length > 0)
        {
            Chosen = [.. Books.Changes.Where(c => Ticked.Contains(c.Where))];
            Along = new ChangeNeeds(Books.Released.Stored.Book, Draft.Book, Books.Changes).Of(chosen);
        }
        await Lay();
        if (Parting.Count > 0 && string.IsNullOrWhiteSpace(reason))
            return await Refuse($"{Show.Count(Parting.Count, "warning")} of this release would part ledger and subledger, first: {Parting[0].Message} Fix " +
                $"{(Parting.Count == 1 ? "it" : "them")}, or say why it is released all the same.");
        if (Parting.Count > 0)
            note = $"{note?.Trim()}{(string.IsNullOrWhiteSpace(note) ? "" : " · ")}Released with {Show.Count(Parting.Count, "warning")} that " +
                $"part{(Parting.Count == 1 ? "s" : "")} ledger and subledger: {reason!.Trim()}";
        if (await editions.Release(Company.Id, UserId, new SettingsState(0, draft, 0, stamp), note ?? "", Stop, chosen.Length == 0 ? null
            : chosen) is { } refusal)
            return await Refuse(refusal.Message);
        return Done($"Edition {draft} is released. What is posted from now on lands by " +
            $"it.{(chosen.Length == 0 ? "" : " The other changes wait in the next draft.")}", At("editions"));
    }

    /// <summary>Takes a change back.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostUndoAsync(string place)
    {
        var sentence = Books.Changes.FirstOrDefault(c => c.Where == place)?.Sentence;
        return await drafts.Undo(Company.Id, UserId, [place], Stop) is { } refusal ? await Refuse(refusal.Message)
            : Done($"Taken back: {sentence}", At("editions"));
    }

    /// <summary>Takes all changes back.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostDiscardAsync(long stamp) =>
        await drafts.Discard(Company.Id, UserId, stamp, Stop) is { } refusal ? await Refuse(refusal.Message)
            : Done($"Draft {Books.State.Draft} is the same as edition {Books.State.Edition} again.", At("editions"));

    /// <summary>Brings an earlier edition back as the draft.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostBackAsync(int edition) =>
        await drafts.BringBack(Company.Id, UserId, edition, Stop) is { } refusal ? await Refuse(refusal.Message)
            : Done($"Draft {Books.State.Draft} is as edition {edition} was. Look at the changes, then release them.", At("editions"));

    /// <summary>Whether four eyes keep the one who looks from releasing a change.</summary>
    public bool IsOwn(SettingChange change) => Company.FourEyes && Authors.GetValueOrDefault(change.Where)?.WasInHandOf(UserId) == true;

    /// <summary>The address with its filters.</summary>
    public string Query(int from = 0) =>
        At($"editions?of={Uri.EscapeDataString(Of ?? "")}&q={Uri.EscapeDataString(Text ?? "")}"
            + (from > 0 ? FormattableString.Invariant($"&from={from}") : ""));

    /// <summary>Where a change is looked at.</summary>
    public string? AddressOf(SettingChange change) =>
        change.Purpose is { } purpose ? At($"rules/{purpose.Name}{(change.Where.StartsWith("ladders/", StringComparison.Ordinal) ? "/ladder" : "/list")}")
            : Trails.Places.Of(this, change.Where)?.Address;

    async Task<IActionResult> Refuse(string fault)
    {
        Fault = fault;
        Response.StatusCode = StatusCodes.Status409Conflict;
        await Lay();
        return Page();
    }

    async Task<IReadOnlyList<FindingLine>> Lines() =>
        Checks.IndexModel.Lines(this, await accepted.Of(Company.Id, Stop), clock.Today());

    async Task Lay()
    {
        if (!IsLarge || HttpMethods.IsPost(Request.Method))
        {
            var lines = await Lines();
            Open = [.. lines.Where(l => l.Accepted is null)];
            var places = Chosen is null ? null : Chosen.Concat(Along.Select(a => a.Change)).Select(c => c.Where).ToHashSet(StringComparer.Ordinal);
            Parting = [.. Open.Where(l => !l.Released && AccountFit.PartingChecks.Contains(l.Finding.Check)).Select(l => l.Finding)
                .Where(f => places is null || places.Contains(f.Where) || places.Contains("accounts/" + f.Account))];
        }
        Fitting = new ChangeFilter(Of, Text).Fitting(Books.Changes);
        Shown = [.. Fitting.Skip(IsPrint ? 0 : Math.Max(0, From)).Take(AtMost(Most))];
        Authors = await editions.Authors(Company.Id, Books.Released.Stored, Draft, [.. Shown, .. Chosen ?? []], Stop);
        All = await editions.All(Company.Id, Stop);
        Log = await editions.Changes(Company.Id, Books.State.Draft, AtMost(50), Stop);
    }
}
