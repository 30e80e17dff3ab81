using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Counts;
using Assignum.Formats.Events;
using Assignum.Formats.Sheets;
using Assignum.Storage.Journal;
using Assignum.Storage.Posting;
using Assignum.Storage.Subledgers;
using Assignum.Web.Access;
using Assignum.Web.Pages.Controls;
using Assignum.Web.Showing;
using Assignum.Web.Trails;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.TryOut;

/// <summary>An event of any type, landed while it is typed, with tax, T-accounts, entry and trails; posted when somebody says so.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed partial class IndexModel(PostingStore posting, JournalStore journal, KeptJournalStore kept, WaitingJournalStore waiting, StandingStock stock,
    OpenItemStore openItems, TermsStore terms, StandingStore standing, TrailMaker trails, TimeProvider clock) : CompanyPage
{
    const int FirstLines = 2, MostItems = 5_000, LongestName = 100, LargestCount = 4 << 20;

    /// <inheritdoc/>
    public override string Step => "Try-out";
    /// <summary>The form.</summary>
    public TryOutForm Form { get; private set; } = new();
    /// <summary>What it came to; null while nothing is typed.</summary>
    public TryOutResult? Result { get; private set; }
    /// <summary>Why it was not posted.</summary>
    public string? Fault { get; private set; }

    DateOnly Today => clock.Today();

    /// <summary>Shows an empty form, or one begun by the address.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync(string? party, string? item, string? location, string? type, string? example)
    {
        var book = Draft.Book;
        Form = new TryOutForm { Id = NewId(), Kind = EventForm.Find(type), Date = Today };
        while (Form.Lines.Count < FirstLines && Form.Kind.Columns.Count > 0)
            Form.AddLine();
        if (example is not null && EventSamples.Of(Form.Kind.Name) is { } sample)
        {
            Form.Kind.Fill(Form, new EventReader().Read(System.Text.Encoding.UTF8.GetBytes(sample), 1).Event!, book);
            await LaySettling();
            await Land();
            return;
        }
        if (Form.Kind is FieldsForm fields && fields.Head.Any(f => f.Name is not ("party" or "location") && Request.Query.ContainsKey(f.Name)))
        {
            fields.Begun(Form, name => Request.Query[name].FirstOrDefault(), book);
            await LaySettling();
            await Land();
            return;
        }
        if (item is null && party is null && location is null)
        {
            await LaySettling();
            return;
        }
        Form[Form.Kind.Head.Any(f => f.Name == "party") ? "party" : "Party"] = Named(party, book.Parties.FirstOrDefault(p => Fold.Same(p.Code, party))?.Name);
        Form["Location"] = Named(location, book.Locations.FirstOrDefault(l => Fold.Same(l.Code, location))?.Name);
        if (item is not null)
            (Form.Lines[0]["Sold"], Form.Lines[0]["Price"]) = (Named(item, Sellable.Of(book).FirstOrDefault(s => Fold.Same(s.Code, item))?.Name), "100");
        await LaySettling();
        await Land();
    }

    /// <summary>Begins a form with the event of an entry: of today, or of a journal the other way round, on the first day of the month after it.</summary>
    /// <param name="entry">Id of the entry.</param>
    /// <param name="turned">The other way round.</param>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetCopyAsync(long entry, bool turned)
    {
        if (await journal.Entry(Company.Id, entry, Stop) is not { } known || EventReader.Kept(known.Received) is not { } happened)
            return NotFound();
        happened = happened.On(Today);
        if (turned && happened is ManualJournal given)
            happened = given.TurnedRound(new DateOnly(known.Date.Year, known.Date.Month, 1).AddMonths(1), known.SourceId);
        return await Begin(happened);
    }

    /// <summary>Begins a form with a journal that is kept.</summary>
    /// <param name="id">Its id.</param>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetKeptAsync(int id) =>
        await kept.Find(Company.Id, id, Stop) is { } known && EventReader.Kept(known.Event) is { } happened ? await Begin(happened.On(known.Next ?? Today))
            : NotFound();

    /// <summary>Begins a form with a journal that was sent back.</summary>
    /// <param name="id">Its id.</param>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetSentBackAsync(int id) =>
        await waiting.Find(Company.Id, id, Stop) is { } known && EventReader.Kept(known.Event) is { } happened ? await Begin(happened) : NotFound();

    async Task<IActionResult> Begin(BusinessEvent happened)
    {
        Form = new TryOutForm { Id = NewId(), Kind = EventForm.Find(happened.TypeName), Date = happened.Date };
        Form.Kind.Fill(Form, happened, Draft.Book);
        Form.Date = happened.Date;
        await LaySettling();
        await Land();
        return Page();
    }

    /// <summary>A count laid beside the books; null while there is none.</summary>
    public Count? Count { get; private set; }
    /// <summary>Rows of it that count nothing.</summary>
    public IReadOnlyList<RefusedCount> NotCounted { get; private set; } = [];

    /// <summary>Begins a form with what a count sheet has more or less than the books.</summary>
    /// <param name="date">The day of the count.</param>
    /// <param name="countFile">The sheet.</param>
    /// <param name="countBlock">Or rows pasted out of one.</param>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnPostCountAsync([FromForm] DateOnly? date, IFormFile? countFile, string? countBlock)
    {
        Form = TryOutForm.Of(Request.Form, date);
        if (!Count.Takes(Form.Kind.Name))
            return NotFound();
        using var content = new MemoryStream();
        if (countFile is { Length: > LargestCount })
            return Refuse($"The file has {countFile.Length >> 20} MB, and a count sheet has less than {LargestCount >> 20}. Choose the sheet of the count.");
        if (countFile is not null)
            await countFile.CopyToAsync(content, Stop);
        else
            content.Write(System.Text.Encoding.UTF8.GetBytes(countBlock ?? ""));
        var read = SheetFile.Read(content.ToArray(), Stop);
        if (read.Sheets.Count == 0)
            return Refuse(content.Length == 0 ? "Nothing is counted. Choose a sheet, or paste its rows: item, location, quantity." : read.Fault!);
        var (counts, refused) = CountSheet.Read(read.Sheets[0], Books.Released.Compiled!);
        NotCounted = refused;
        if (counts.Count == 0)
            return refused.Count > 0 ? Refuse("No row of the sheet counts anything; what is wrong with each stands below.")
                : Refuse("There is no count in it. Give an item, a location and a quantity in each row.");
        Count = Count.Of(counts, await stock.All(Company.Id, Stop), Decimals);
        var made = Count.Made(Form.Kind.Name, Form.Id, Form.Date ?? Today);
        Form = new TryOutForm { Id = Form.Id, Kind = Form.Kind, Date = made.Date };
        Form.Kind.Fill(Form, made, Draft.Book);
        Form.Date = made.Date;
        await Land();
        return Page();
    }

    // What was found is named, as if it had been typed here.
    internal static string? Named(string? code, string? name) => code is null || name is null ? code : Pick.Written(code, name);

    /// <summary>Lands what is typed.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnPostLandAsync([FromForm] DateOnly? date)
    {
        Form = TryOutForm.Of(Request.Form, date);
        await LaySettling(true);
        await Land();
        return Partial("_Result", this);
    }

    /// <summary>Opens the trail of a row.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnPostTrailAsync([FromForm] DateOnly? date, int row)
    {
        Form = TryOutForm.Of(Request.Form, date);
        await Land();
        if (Result?.Sofar is not { } landed || row < 0 || row >= landed.Rows.Count)
            return NotFound();
        return Partial("_Trail", await trails.OfRow(this, Result.Book, landed.Rows[row], Result.Happened.Date, landed.Totals, Stop));
    }

    /// <summary>Opens what is missing, with the way to its mend.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnPostReasonAsync([FromForm] DateOnly? date, int reason)
    {
        Form = TryOutForm.Of(Request.Form, date);
        await Land();
        return Result is null || reason < 0 || reason >= Result.Reasons.Count ? NotFound()
            : Partial("_Trail", TrailMaker.OfReason(this, Result.Book, Result.Reasons[reason], Result.Happened.Date));
    }

    /// <summary>Posts it for real, by the edition in force.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostPostAsync([FromForm] DateOnly? date)
    {
        Form = TryOutForm.Of(Request.Form, date);
        await LaySettling();
        await Land();
        if (Result is not { Faults.Count: 0 })
            return Refuse($"The {Form.Kind.InWords} is not complete. Fix what is marked, then post it.");
        if (Result.Objections is [var objection, ..])
            return Refuse(objection.Message);
        if (!Result.LandsInForce)
            return Refuse($"Edition {Books.State.Edition} would hold this {Form.Kind.InWords}, and posting goes by it. Release the draft first, or fix what " +
                "is missing.");
        var postable = Sending.Postable.Own(Result.Happened);
        if (NeedsSecond is { } sum)
        {
            await waiting.HandOver(Company.Id, UserId, Result.Happened.Id, postable.Received, sum, Stop);
            return Done("The journal waits for a second person, who posts it or sends it back.", At("journal/waiting"));
        }
        var posted = (await posting.Post(Company.Id, UserId, [postable], Stop))[0];
        return posted switch
        {
            { Fate: PostingFate.Landed or PostingFate.Known, EntryId: { } entry } =>
                Done($"Entry {posted.EntryNumber} is posted{(posted.Fate == PostingFate.Known ? " already; nothing was posted twice" : "")}.",
                At("journal/" + entry)),
            { Fate: PostingFate.Landed or PostingFate.Known } =>
                Done($"The {Form.Kind.InWords} has landed without an entry: it comes to nothing.", At("journal")),
            _ => Refuse(posted.WhyNot!),
        };
    }

    /// <summary>Keeps the journal by a name, to be begun from or to come back.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostKeepAsync([FromForm] DateOnly? date, string? keepName, Every? keepEvery, DateOnly? keepFrom, bool keepTurned)
    {
        Form = TryOutForm.Of(Request.Form, date);
        await Land();
        var name = keepName?.Trim() ?? "";
        if (Result is not { Faults.Count: 0, Happened: ManualJournal journal })
            return Refuse("The journal is not complete. Fix what is marked, then keep it.");
        if (name.Length is 0 or > LongestName)
            return Refuse(name.Length == 0 ? "The name under which the journal is kept is missing. Type one, such as \"Rent of the yard\"."
                : $"The name has {name.Length} letters, and {LongestName} are kept. Shorten it.");
        var made = new KeptJournal(0, name, EventWriter.Write(journal), keepEvery, keepEvery is null ? null : keepFrom ?? journal.Date, keepTurned, "");
        return await kept.Keep(Company.Id, UserId, made, Stop) is { } refusal ? Refuse(refusal.Message)
            : Done($"{name} is kept{(made.Next is { } next ? $", and is due on {Show.Day(next)}" : "")}.", At("journal/kept"));
    }

    /// <summary>The amount above which a second person posts a journal; null: nobody need.</summary>
    public decimal? SecondAbove { get; private set; }
    /// <summary>What the journal comes to, where a second person has to post it; null: one may.</summary>
    public decimal? NeedsSecond => SecondAbove is { } above && Result?.Happened is ManualJournal journal && journal.Sum(Decimals) is var sum && sum > above
        ? sum : null;

    async Task Land()
    {
        if (Form.Kind.Name == ManualJournal.Name)
            SecondAbove = await waiting.Above(Company.Id, Stop);
        if (Form.IsEmpty)
            return;
        if (string.IsNullOrWhiteSpace(Form.Id))
            Form.Id = NewId();
        var typed = Form.Kind.Read(Form, Draft.Book, Today);
        var book = Books.Draft.Compiled is null ? Books.Released : Books.Draft;
        Result = new TryOutResult { Page = this, Happened = typed.Happened, Faults = typed.Faults, Book = book, Places = typed.Places };
        if (!typed.CanLand)
            return;
        var prepared = await posting.Prepare(Company.Id, book, typed.Happened, Stop);
        var outcome = Landing.Try(book.Compiled!, prepared.Happened, out var sofar);
        var posts = book == Books.Released ? prepared : await posting.Prepare(Company.Id, Books.Released, typed.Happened, Stop);
        var inForce = Landing.Land(Books.Released.Compiled!, posts.Happened);
        IReadOnlyList<HeldReason> objections = [.. await posting.Objections(Company.Id, prepared.Happened, Stop), .. prepared.Objections];
        Result = Result with
        {
            Prepared = prepared, Sofar = sofar, Objections = objections, Reasons = [.. outcome is Held held ? held.Reasons : [], .. objections],
            SameInForce = TryOutResult.Same(outcome, inForce), InForce = inForce as Landed,
        };
    }

    Microsoft.AspNetCore.Mvc.RazorPages.PageResult Refuse(string fault)
    {
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    string NewId() => $"TYPED-{clock.GetUtcNow():yyyyMMdd}-{Guid.NewGuid().ToString("N")[..8].ToUpperInvariant()}";

    /// <summary>Rows of the entry with the accounts they stand on, for the T-accounts.</summary>
    public static IReadOnlyList<TAccount> TAccounts(IReadOnlyList<EntryRow> rows) =>
        [.. rows.Select((row, i) => (row, i)).GroupBy(r => r.row.Account.Number)
            .Select(g => new TAccount(g.Key, g.First().row.Account.Name,
                [.. g.Select(r => new TAmount(r.i, r.row.Amount, Show.Purpose(r.row.Purpose?.Name)))]))];
}

/// <summary>An account drawn as a T.</summary>
public sealed record TAccount(string Number, string Name, IReadOnlyList<TAmount> Amounts);

/// <summary>An amount in a T.</summary>
/// <param name="Row">Row of the entry, from 0.</param>
/// <param name="Amount">Debit positive.</param>
/// <param name="Purpose">What it is for.</param>
public sealed record TAmount(int Row, decimal Amount, string Purpose);
