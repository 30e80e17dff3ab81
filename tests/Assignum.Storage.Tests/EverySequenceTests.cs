using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Formats.Events;
using Assignum.Storage.Controls;
using Assignum.Storage.Posting;
using Assignum.Storage.Proving;
using Assignum.Storage.Subledgers;

namespace Assignum.Storage.Tests;

/// <summary>Events of every type in any order, taken back in any order: whatever lands, subledgers and control accounts move together.</summary>
public sealed class EverySequenceTests(Nursery nursery) : IClassFixture<Nursery>
{
    // Lines by account, not by party, item or money account, move the ledger alone; they are what the comparison is there to find.
    static readonly string[] ByHand = [ManualJournal.Name, OpeningBalance.Name, Reclassification.Name, YearEnd.Name];

    static readonly string[] Types = [.. EventTypes.All.Select(type => type.Name).Except(ByHand).Where(type => EventSamples.Of(type) is not null)];

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    public async Task Every_entry_is_the_same_in_ledger_and_subledger_at_every_step(int seed)
    {
        var chance = new Random(seed);
        var company = await nursery.OpenCompany("EVERY" + seed);
        var labels = (await nursery.Rulebooks.Load(company, null, default)).Labels;
        (int, string)[] accounts = [.. Nursery.Book.Accounts.Where(a => a.Control is not null).Select(a => (labels.Account(a.Number)!.Value, a.Control!.Value.Word()))];
        var (landed, types) = (new List<string>(), new HashSet<string>());
        for (var step = 0; step < 50; step++)
        {
            List<string> batch = [.. Enumerable.Range(0, chance.Next(1, 4)).Select(i => Next(step, i))];
            var posted = await nursery.Posting.Post(company, nursery.User, [.. batch.Select(json => Nursery.Event(json))], default);
            foreach (var (json, _) in batch.Zip(posted).Where(p => p.Second.Fate == PostingFate.Landed && !p.First.Contains("withdrawn", StringComparison.Ordinal)))
            {
                landed.Add(json);
                types.Add(Nursery.Event(json).Happened.TypeName);
            }
            Assert.All(await new ControlStore(nursery.Source).Compare(company, accounts, new(2027, 12, 31), default), d => Assert.Equal((d.Of, d.Day, d.Ledger, false), (d.Of, d.Day, d.Subledger, d.Apart)));
            // A change of cost says itself how much value it takes.
            Assert.All(await new StockStore(nursery.Source).All(company, new(2027, 12, 31), default), s => Assert.True(s.Quantity <= 0 || s.Value >= 0 || types.Contains("cost-change"), $"{s.Item}: {s.Quantity} worth {s.Value}"));
        }
        Assert.InRange(types.Count, 15, Types.Length);
        Assert.Empty(await nursery.Journal.BalancesOffTheirLines(company, default));
        Assert.Empty((await new BooksVerifying(nursery.Source).Verify(company, "QN", [], default)).Faults);

        string Next(int step, int place)
        {
            if (landed.Count > 0 && chance.Next(4) == 0)
            {
                var back = landed[chance.Next(landed.Count)];
                landed.Remove(back);
                return back.Replace("\"type\"", "\"revision\":2,\"withdrawn\":true,\"type\"", StringComparison.Ordinal);
            }
            return EventSamples.Of(Types[chance.Next(Types.Length)])!.Replace("\"id\":\"", $"\"id\":\"S{step}-{place}-", StringComparison.Ordinal);
        }
    }
}
