using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using Assignum.Formats.Events;
using Assignum.Storage.Journal;
using Assignum.Storage.Posting;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Assignum.Web.Trails;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Journal;

/// <summary>One entry with its ledger and subledger lines, and the trail of each amount.</summary>
[Authorize(Policy = Policies.Reads)]
[RequestSizeLimit(LargestRequest), RequestFormLimits(MultipartBodyLengthLimit = LargestRequest)]
public sealed class EntryModel(JournalStore journal, RulebookCache books, PostingStore posting, TrailMaker trails, ChainStore chains,
    AttachmentStore attachments, WaitingJournalStore waiting, TimeProvider clock) : CompanyPage
{
    const int LargestRequest = AttachmentStore.Largest + (2 << 20);

    /// <inheritdoc/>
    public override string Step => "Journal";
    /// <summary>The entry.</summary>
    public EntryWhole Entry { get; private set; } = null!;
    /// <summary>The event as received, laid out.</summary>
    public string Received => LaidOut.Json(Entry.Received);
    /// <summary>The event as prepared, laid out; null where nothing was filled in.</summary>
    public string? Prepared => Entry.Prepared is { } prepared ? LaidOut.Json(prepared) : null;

    /// <summary>What the event hangs together with; null where it stands alone.</summary>
    internal (ChainDrawing Drawing, bool More)? Chain { get; private set; }

    /// <summary>Shows the entry.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync(long id) => await Find(id) ? Page() : NotFound();

    /// <summary>Why it was not taken back, or not posted again.</summary>
    public string? Fault { get; private set; }
    /// <summary>The day it is taken back on, as typed.</summary>
    public DateOnly Day { get; private set; }
    /// <summary>It stands, and does not go with another one.</summary>
    public bool MayBeTakenBack => MayPrepare && Entry is { ReversedBy: null, Reverses: null or 0 } && !GoesWithAnother;
    /// <summary>It is a change of cost that another event made needful: it goes with that.</summary>
    public bool GoesWithAnother => Entry.SourceId.EndsWith(CostCorrection.Suffix, StringComparison.Ordinal);
    /// <summary>It was typed or uploaded here.</summary>
    public bool IsOwn => Fold.Same(Entry.Source, PostableEvent.Own);

    /// <summary>Takes the entry back: another one turns every amount and every movement round.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostBackAsync(long id, DateOnly? day, string? reason)
    {
        if (!await Find(id))
            return NotFound();
        Day = day ?? Entry.Date;
        if (string.IsNullOrWhiteSpace(reason))
            return Refuse("Why it is taken back is missing. Say it in a few words; it stands on the entry that does so.");
        return await Post(happened => happened with { Withdrawn = true, Date = Day, TaxDate = happened.EffectiveTaxDate,
            Text = reason.Trim() }) is { } refused ? refused
            : Done($"Entry {Entry.Number} is taken back.", At("journal/" + id));
    }

    /// <summary>Posts the event once more by the edition in force: what it wrote before is taken back.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAgainAsync(long id)
    {
        if (!await Find(id))
            return NotFound();
        var again = 0L;
        return await Post(happened => happened, entry => again = entry) is { } refused ? refused
            : Done($"Entry {Entry.Number} is taken back, and its event is posted by edition {Books.State.Edition}.", At("journal/" + again));
    }

    /// <summary>Who typed it, where a second person has posted it.</summary>
    public string? TypedBy { get; private set; }
    /// <summary>Documents kept with the entry.</summary>
    public IReadOnlyList<Attachment> Attachments { get; private set; } = [];
    /// <summary>Why a document was not added.</summary>
    public string? AttachmentFault { get; private set; }

    /// <summary>Keeps a document with the entry.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAttachAsync(long id, IFormFile? file)
    {
        if (!await Find(id))
            return NotFound();
        if ((AttachmentFault = AttachedFile.Fault(file)) is null)
        {
            using var content = new MemoryStream((int)file!.Length);
            await file.CopyToAsync(content, Stop);
            if (AttachedFile.KindOf(file.FileName, content.GetBuffer().AsSpan(0, (int)content.Length)) is { } kind)
            {
                await attachments.Add(Company.Id, UserId, id, Path.GetFileName(file.FileName), kind, content.ToArray(), Stop);
                return Done($"{Path.GetFileName(file.FileName)} is kept with entry {Entry.Number}.", At("journal/" + id));
            }
            AttachmentFault = $"{file.FileName} is no PDF, no PNG or JPEG picture, and no XLSX or CSV sheet. Save it as one of these.";
        }
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    /// <summary>A document of the entry, to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAttachmentAsync(long id, int file) => await attachments.Find(Company.Id, id, file, Stop) is { } found
        ? File(found.Content, AttachedFile.TypeOf(found.Kind), found.Name) : NotFound();

    // A double click does nothing twice: what was typed here is a later revision, and what a source sent, whose revisions are the source's, is posted again
    // only while this entry stands. Who was needed to post it has seen it.
    async Task<IActionResult?> Post(Func<BusinessEvent, BusinessEvent> change, Action<long>? landed = null)
    {
        if (!MayBeTakenBack)
            return Refuse(GoesWithAnother ? "It goes with the event that made it needful: take that one back." : "It does not stand any more.");
        if (EventReader.Kept(Entry.Received) is not { } received)
            throw new InvalidOperationException("What was received can be read.");
        var happened = change(received);
        var postable = IsOwn ? Sending.Postable.Own(happened with { Revision = Entry.Revision + 1 })
            : Sending.Postable.Of(happened with { Revision = Entry.Revision }, Entry.Source, Entry.Received) with { Again = Entry.EventId };
        var posted = (await posting.Post(Company.Id, UserId, [postable with { SeenByTwo = true }], Stop))[0];
        if (posted.WhyNot is { } why)
            return Refuse(why);
        landed?.Invoke(posted.EntryId ?? Entry.Id);
        return null;
    }

    Microsoft.AspNetCore.Mvc.RazorPages.PageResult Refuse(string fault)
    {
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    /// <summary>Opens the trail of a line.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetTrailAsync(long id, int line)
    {
        if (!await Find(id) || Entry.Lines.FirstOrDefault(l => l.No == line) is not { } found)
            return NotFound();
        return Drawer("_Trail", await trails.OfLine(this, await books.OfEdition(Company.Id, found.Edition, Stop), Entry, found, Stop));
    }

    async Task<bool> Find(long id)
    {
        if (await journal.Entry(Company.Id, id, Stop) is not { } entry)
            return false;
        Entry = entry;
        Day = clock.Today() < entry.Date ? entry.Date : clock.Today();
        Attachments = await attachments.Of(Company.Id, id, Stop);
        TypedBy = IsOwn ? await waiting.TypedBy(Company.Id, entry.SourceId, Stop) : null;
        var chain = await chains.Of(Company.Id, entry.EventId, Stop);
        if (chain.Ties.Count > 0)
            Chain = (ChainDrawing.Of(chain, entry.EventId, Decimals), chain.More);
        return true;
    }
}
