using Assignum.Core.Posting;
using Assignum.Storage.Companies;
using Assignum.Storage.Posting;
using Assignum.Storage.Proving;

namespace Assignum.Storage.Tests;

/// <summary>Closing, reopening, ending the year and undoing it, with events that come, are corrected and withdrawn in between: nothing is lost, nothing is doubled.</summary>
public sealed class PeriodModelTests(Nursery nursery) : IClassFixture<Nursery>
{
    const int Months = 4;

    // The books on paper: what each event has in which month, which revisions wait, and which months are closed.
    sealed class Paper
    {
        internal Dictionary<int, decimal> ByMonth { get; } = [];
        internal Dictionary<string, decimal> Standing { get; } = [];
        internal List<(string Id, int Revision, decimal? Amount, int Month, int Came)> Waiting { get; } = [];
        internal HashSet<int> Closed { get; } = [];
        internal bool Moves { get; set; }
        int comes;

        // A null amount withdraws.
        internal void Take(string id, int revision, decimal? amount, int month)
        {
            var before = Waiting.FindIndex(w => w.Id == id);
            var came = before >= 0 ? Waiting[before].Came : comes++;
            if (before >= 0)
                Waiting.RemoveAt(before);
            if (amount is null && !Standing.ContainsKey(id))
                return;
            var open = Closed.Contains(month) ? Moves ? Enumerable.Range(month, 13 - month).Where(m => !Closed.Contains(m)).Select(m => (int?)m).FirstOrDefault() : null : month;
            if (open is not { } posted)
            {
                Waiting.Add((id, revision, amount, month, came));
                return;
            }
            ByMonth[posted] = ByMonth.GetValueOrDefault(posted) + (amount ?? 0) - Standing.GetValueOrDefault(id);
            if (amount is { } stands)
                Standing[id] = stands;
            else
                Standing.Remove(id);
        }

        internal void Retry()
        {
            foreach (var (id, revision, amount, month, _) in Waiting.OrderBy(w => w.Came).ToList())
                Take(id, revision, amount, month);
        }
    }

    static string Journal(string id, int revision, decimal? amount, int month) => FormattableString.Invariant(
        $$"""{"id":"{{id}}","type":"manual-journal","revision":{{revision}},"withdrawn":{{(amount is null ? "true" : "false")}},"date":"2026-{{month:00}}-17","lines":[{"account":"6140","debit":{{amount ?? 1}}},{"account":"2490","credit":{{amount ?? 1}}}]}""");

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    public async Task The_books_are_those_on_paper_at_every_step(int seed)
    {
        var (chance, paper) = (new Random(seed), new Paper());
        var company = await nursery.OpenCompany("PAPER" + seed);
        var year = await nursery.Ask<int>($"select id from fiscal_year where company_id = {company}");
        var revisions = new Dictionary<string, int>();
        for (var step = 0; step < 60; step++)
        {
            switch (chance.Next(8))
            {
                case 0: await Turn(chance.Next(1, Months + 1)); break;
                case 1: await nursery.Retrying.Retry(company, nursery.User, null, default); paper.Retry(); break;
                case 2: await EndOrUndo(); break;
                case 3 when chance.Next(3) == 0: await nursery.Periods.SetMovesLate(company, nursery.User, paper.Moves = !paper.Moves, default); break;
                default: await Post(step); break;
            }
            Assert.Equal(paper.ByMonth.Where(m => m.Value != 0).OrderBy(m => m.Key), await InTheBooks());
            Assert.Equal(paper.Waiting.Select(w => (w.Id, w.Came)).OrderBy(w => w.Came).Select(w => w.Id), (await nursery.Held.All(company, default)).Select(h => h.SourceId));
        }
        foreach (var month in paper.Closed.ToList())
            await Turn(month);
        await nursery.Retrying.Retry(company, nursery.User, null, default);
        paper.Retry();
        Assert.Empty(paper.Waiting);
        Assert.Equal((0, paper.Standing.Values.Sum()), ((await nursery.Held.Total(company, default)).Events, (await InTheBooks()).Values.Sum()));
        Assert.Empty((await new BooksVerifying(nursery.Source).Verify(company, "QN", [], default)).Faults);

        async Task Turn(int month)
        {
            var period = await nursery.PeriodOf(company, month);
            if (paper.Closed.Remove(month))
                Assert.Null(await nursery.Periods.Reopen(company, nursery.User, period, "a bill came late", default));
            else if (paper.Closed.Add(month))
                Assert.Null(await nursery.Periods.Close(company, nursery.User, period, null, default));
        }

        // Sent once more, an event changes nothing.
        async Task Post(int step)
        {
            var id = revisions.Count > 0 && chance.Next(2) == 0 ? revisions.Keys.ElementAt(chance.Next(revisions.Count)) : "J" + step;
            var revision = revisions[id] = revisions.GetValueOrDefault(id) + 1;
            var (amount, month) = (chance.Next(5) == 0 && revision > 1 ? (decimal?)null : chance.Next(1, 100), chance.Next(1, Months + 1));
            var json = Journal(id, revision, amount, month);
            for (var times = chance.Next(1, 3); times > 0; times--)
                Assert.NotEqual(PostingFate.Refused, (await nursery.Posting.Post(company, nursery.User, [Nursery.Event(json)], default))[0].Fate);
            paper.Take(id, revision, amount, month);
        }

        async Task EndOrUndo()
        {
            var look = (await nursery.YearEnds.Look(company, year, default))!;
            Assert.Equal(-paper.ByMonth.Values.Sum(), look.Result);
            if (look.Standing is not null && chance.Next(2) == 0)
                Assert.Null(await nursery.YearEnds.Undo(company, nursery.User, year, default));
            else if (look is { IsWhole: false, Lines.Count: > 0 })
            {
                Assert.Null(await nursery.YearEnds.End(company, nursery.User, year, look.Result, default));
                Assert.True((await nursery.YearEnds.Look(company, year, default))!.IsWhole);
            }
        }

        async Task<Dictionary<int, decimal>> InTheBooks() => (await nursery.AskAll($"""
            select p.number || ' ' || sum(b.debit - b.credit) from balance b join account a on a.id = b.account_id join period p on p.id = b.period_id
            where b.company_id = {company} and a.number = '6140' and not p.adjustment group by p.number having sum(b.debit - b.credit) <> 0 order by p.number
            """)).Select(row => row.Split(' ')).ToDictionary(row => int.Parse(row[0], System.Globalization.CultureInfo.InvariantCulture), row => decimal.Parse(row[1], System.Globalization.CultureInfo.InvariantCulture));
    }

    [Fact]
    public async Task A_subledger_that_is_closed_takes_nothing_while_the_rest_of_the_period_goes_on()
    {
        var company = await nursery.OpenCompany("PARTLY");
        var march = await nursery.PeriodOf(company, 3);
        Assert.Null(await nursery.Periods.CloseFor(company, nursery.User, march, "receivables", true, default));
        var posted = await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("A"), Nursery.Event(Journal("J", 1, 5, 3))], default);
        Assert.Equal([PostingFate.Held, PostingFate.Landed], posted.Select(p => p.Fate));
        Assert.StartsWith("Receivables are closed for the period of 2026-03-14", posted[0].Reasons.Single().Message, StringComparison.Ordinal);

        await nursery.Periods.SetMovesLate(company, nursery.User, true, default);
        Assert.Equal(new Core.HeldEvents.HeldGroup("closed-period", HeldCause.ClosedPeriod, null, [], "Open period", "events of a closed period", null, null, null),
            Core.HeldEvents.HeldGrouping.Of(Nursery.Book, (await nursery.Held.All(company, default)).Single().Reasons.Single()) with { When = [] });
        Assert.Equal((1, 0), (await nursery.Retrying.Retry(company, nursery.User, null, default)) is var tried ? (tried.Landed, tried.Held) : default);
        Assert.Equal(["2026-04-01 2026-03-14 2026-03-14 2026-03-14"], await nursery.AskAll($"select date || ' ' || document_date || ' ' || tax_date || ' ' || moved_from from event where company_id = {company} and outcome = 'landed' and source_id = 'A'"));
        Assert.Contains("Something was posted since", (await nursery.Periods.Close(company, nursery.User, march, 0, default))!.Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(PeriodCut.Months, 12, "2026-12-01")]
    [InlineData(PeriodCut.Quarters, 4, "2026-10-01")]
    [InlineData(PeriodCut.FourFourFive, 12, "2026-11-26")]
    public void A_year_is_cut_as_it_is_asked_for(PeriodCut cut, int periods, string last)
    {
        var starts = PeriodStore.Cut(new(2026, 1, 1), new(2026, 12, 31), cut).ToList();
        Assert.Equal((periods, last), (starts.Count, starts[^1].ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture)));
    }
}
