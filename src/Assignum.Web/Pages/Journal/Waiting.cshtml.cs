using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Events;
using Assignum.Storage.Journal;
using Assignum.Storage.Posting;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Journal;

/// <summary>Journals by hand that wait for a second person, with the entry they would make; and one's own that were sent back.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class WaitingModel(WaitingJournalStore waiting, PostingStore posting) : CompanyPage
{
    const int LongestWord = 200;

    /// <inheritdoc/>
    public override string Step => "Journal";
    /// <summary>A journal with what would come of it.</summary>
    internal sealed record Shown(WaitingJournal Waiting, ManualJournal Journal, Outcome Outcome);
    /// <summary>Those that wait, the oldest first.</summary>
    internal IReadOnlyList<Shown> Journals { get; private set; } = [];
    /// <summary>One's own that were sent back.</summary>
    public IReadOnlyList<WaitingJournal> SentBack { get; private set; } = [];
    /// <summary>The amount above which a second person posts; null: nobody need.</summary>
    public decimal? Above { get; private set; }
    /// <summary>What did not go as asked.</summary>
    public string? Fault { get; private set; }

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>Posts one that somebody else has typed.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(int id)
    {
        await Lay();
        if (Journals.FirstOrDefault(j => j.Waiting.Id == id) is not { } known)
            return await Refuse("It waits no longer. The list shows how it stands.");
        if (IsOwn(known.Waiting))
            return await Refuse("You typed it yourself. Somebody else posts it.");
        var posted = (await posting.Post(Company.Id, UserId, [Sending.Postable.Own(known.Journal) with { SeenByTwo = true }], Stop))[0];
        if (posted.WhyNot is { } why)
            return await Refuse(why);
        await waiting.Answer(Company.Id, UserId, id, posted: true, "", Stop);
        return Done($"Entry {posted.EntryNumber} is posted.", posted.EntryId is { } entry ? At("journal/" + entry) : At("journal/waiting"));
    }

    /// <summary>Sends one back, with the reason; one's own is taken back so.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostBackAsync(int id, string? word)
    {
        word = word?.Trim() ?? "";
        if (word.Length is 0 or > LongestWord)
            return await Refuse(word.Length == 0 ? "Why it goes back is missing. Say it in a few words."
                : $"The reason is longer than {LongestWord} letters. Shorten it.");
        return await waiting.Answer(Company.Id, UserId, id, posted: false, word, Stop) is { } refusal ? await Refuse(refusal.Message)
            : Done("The journal is sent back, and nothing is posted.", At("journal/waiting"));
    }

    /// <summary>Whether one typed it oneself.</summary>
    internal bool IsOwn(WaitingJournal journal) => journal.User == UserId;

    async Task<IActionResult> Refuse(string fault)
    {
        await Lay();
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    async Task Lay()
    {
        Above = await waiting.Above(Company.Id, Stop);
        SentBack = await waiting.SentBack(Company.Id, UserId, Stop);
        var all = await waiting.Waiting(Company.Id, Stop);
        Journals = [.. from one in all let journal = EventReader.Kept(one.Event) as ManualJournal where journal is not null
            select new Shown(one, journal, Landing.Land(Books.Released.Compiled!, journal))];
    }
}
