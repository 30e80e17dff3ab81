using Assignum.Core.Rulebooks;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Tests;

/// <summary>Two acts at the same moment: nothing is lost, and nothing lands by an edition that is no longer in force.</summary>
public sealed class AtTheSameTimeTests(Nursery nursery) : IClassFixture<Nursery>
{
    static readonly DateOnly Day = new(2026, 3, 14);

    [Fact]
    public async Task What_was_landed_before_a_release_and_posted_after_it_lands_by_the_new_edition()
    {
        var company = await nursery.OpenCompany("STALE");
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Revenue("4030", await Own(company))], Day, default));
        await using var holder = await nursery.Source.OpenConnectionAsync();
        await using var held = await holder.BeginTransactionAsync();
        await PostingStore.Lock(holder, company, default);

        // The release waits for the lock first; what is posted has landed by edition 2 by then, and waits behind it.
        var release = nursery.Release(company);
        await Waiting(1);
        var posting = nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("STALE-1")], default);
        await Waiting(2);
        await held.CommitAsync();

        Assert.Null(await release);
        var entry = (await nursery.Journal.Entry(company, (await posting).Single().EntryId!.Value, default))!;
        Assert.Equal((3, "4030"), (entry.Edition, entry.Lines.Single(l => l.Purpose == "revenue").Account));
    }

    [Fact]
    public async Task Of_two_who_saw_the_same_cell_one_is_taken_and_the_other_is_told()
    {
        var company = await nursery.OpenCompany("RACE");
        var accounts = new[] { "4010", "4020", "4030", "4040", "4050" };
        for (var round = 0; round < 12; round++)
        {
            var seen = await Own(company);
            string[] wanted = [accounts[(round * 2) % 5], accounts[((round * 2) + 1) % 5]];
            var faults = await Task.WhenAll(wanted.Select(w => nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Revenue(w, seen)], Day, default)));

            // One that wanted what stands there already changes nothing and is refused nothing.
            var now = (await Own(company)).Account;
            var refused = Enumerable.Range(0, 2).Where(i => faults[i].Count > 0).ToList();
            Assert.True(refused.Count <= 1);
            Assert.Contains(now, wanted.Where((_, i) => !refused.Contains(i)).Append(seen.Account));
            if (wanted.All(w => w != seen.Account))
                Assert.Single(refused);
        }
    }

    [Fact]
    public async Task Of_two_who_saw_the_same_estimates_or_finish_of_a_project_one_is_taken_and_the_other_is_told()
    {
        var company = await nursery.OpenCompany("PROJECTS");
        var text = new EventText(Formats.Events.EventWriter.Write, Formats.Events.EventReader.Kept);
        var store = new Projects.ProjectStore(nursery.Source, nursery.Posting, text);
        var project = (await nursery.Rulebooks.Load(company, null, default)).Labels.IdOf("project", "P-1")!.Value;
        DateOnly? finished = null;
        for (var round = 0; round < 12; round++)
        {
            var said = await Task.WhenAll(Enumerable.Range(0, 4).Select(i => store.Say(company, nursery.User, project, null, new(Day, i, i), "", round, default)));
            Assert.Single(said, s => s is null);
            Assert.Equal(round + 1, (await store.History(company, project, default)).Count);

            var seen = finished;
            var days = Enumerable.Range(0, 4).Select(i => round % 2 == 0 ? Day.AddDays(round + i) : (DateOnly?)null).ToList();
            var told = await Task.WhenAll(days.Select(day => store.Finish(company, nursery.User, project, seen, day, default)));
            Assert.Single(told, t => t is null);
            finished = await store.FinishOf(company, project, default);
            Assert.Equal(days[Array.FindIndex(told, t => t is null)], finished);
        }
    }

    async Task<(string? Id, string? Account)> Own(int company)
    {
        var draft = await nursery.Rulebooks.Load(company, (await nursery.Rulebooks.StateOf(company, default)).Draft, default);
        var rule = draft.Book.Rules.SingleOrDefault(r => r.Purpose == Purpose.Revenue
            && r.When.Select(w => w.Code).Order(StringComparer.Ordinal).SequenceEqual(["SEEDS", "TRADE"]));
        return (rule?.Id, rule?.Account);
    }

    static CellEdit Revenue(string account, (string? Id, string? Account) seen) =>
        new([new(Fact.ItemGroup, "SEEDS"), new(Fact.PartyGroup, "TRADE")], account, seen.Id, seen.Account);

    async Task Waiting(long count)
    {
        for (var i = 0; i < 200; i++)
        {
            if (await nursery.Ask<long>(
                "select count(*) from pg_locks l join pg_stat_activity a using (pid) where not l.granted and a.datname = current_database()") >= count)
                return;
            await Task.Delay(25);
        }
        Assert.Fail($"{count} were expected to wait for the posting lock.");
    }
}
