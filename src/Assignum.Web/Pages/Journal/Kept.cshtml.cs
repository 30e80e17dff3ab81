using Assignum.Core.Posting;
using Assignum.Formats.Events;
using Assignum.Storage.Journal;
using Assignum.Storage.Posting;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Journal;

/// <summary>Journals kept by name: to begin from, and those that come back, posted when they are due.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class KeptModel(KeptJournalStore kept, WaitingJournalStore waiting, PostingStore posting, TimeProvider clock) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Journal";
    /// <summary>A journal with its lines.</summary>
    internal sealed record Shown(KeptJournal Kept, ManualJournal Journal, bool IsDue);
    /// <summary>Those that are kept, the ones that are due first.</summary>
    internal IReadOnlyList<Shown> Journals { get; private set; } = [];
    /// <summary>What did not go as asked.</summary>
    public IReadOnlyList<string> Faults { get; private set; } = [];

    /// <summary>"month".</summary>
    internal static string InWords(Every every) => Core.Words<Every>.Of(every);

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>Posts those that are due and ticked, each once on its day.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(int[] id)
    {
        await Lay();
        var due = Journals.Where(j => j.IsDue && id.Contains(j.Kept.Id)).ToList();
        if (due.Count == 0)
            return await Refuse([id.Length == 0 ? "No journal is ticked. Tick those that are to be posted."
                : "None of them is due any more. Somebody else has posted them; the list shows how it stands."]);
        var (faults, handed, above) = (new List<string>(), 0, await waiting.Above(Company.Id, Stop));
        foreach (var journal in due)
        {
            var needsSecond = journal.Journal.Sum(Decimals) is var sum && sum > above;
            if (await Post(journal, needsSecond, sum) is { } fault)
                faults.Add($"{journal.Kept.Name}: {fault}");
            else
                handed += needsSecond ? 1 : 0;
        }
        if (faults.Count > 0)
            return await Refuse(faults);
        return Done($"{Show.Count(due.Count - handed, "journal")} posted{(handed > 0 ? $", {handed} handed to a second person" : "")}.", At("journal/kept"));
    }

    // By its day an occurrence has one id, so that nothing is posted twice.
    async Task<string?> Post(Shown due, bool needsSecond, decimal sum)
    {
        var day = due.Kept.Next!.Value;
        var id = FormattableString.Invariant($"KEPT-{due.Kept.Id}-{day:yyyyMMdd}");
        var journal = (ManualJournal)due.Journal.On(day) with { Id = id };
        ManualJournal[] journals = due.Kept.Turned
            ? [journal, journal.TurnedRound(new DateOnly(day.Year, day.Month, 1).AddMonths(1), id) with { Id = id + "-TURNED" }] : [journal];
        if (needsSecond)
            foreach (var one in journals)
                await waiting.HandOver(Company.Id, UserId, one.Id, EventWriter.Write(one), sum, Stop);
        else
        {
            var posted = await posting.Post(Company.Id, UserId, [.. journals.Select(Sending.Postable.Own)], Stop);
            if (posted.Select(p => p.WhyNot).FirstOrDefault(why => why is not null) is { } why)
                return why;
        }
        await kept.Posted(Company.Id, due.Kept, Stop);
        return null;
    }

    /// <summary>Keeps one no longer.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostDropAsync(int id)
    {
        if (await kept.Find(Company.Id, id, Stop) is not { } known)
            return await Refuse(["It is kept no longer. The list shows how it stands."]);
        await kept.Drop(Company.Id, id, Stop);
        return Done($"{known.Name} is kept no longer. What it posted stays.", At("journal/kept"));
    }

    async Task<IActionResult> Refuse(IReadOnlyList<string> faults)
    {
        await Lay();
        Faults = faults;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    async Task Lay()
    {
        var today = clock.Today();
        var all = await kept.All(Company.Id, Stop);
        Journals = [.. from one in all let journal = EventReader.Kept(one.Event) as ManualJournal where journal is not null
            select new Shown(one, journal, one.Next <= today)];
    }
}
