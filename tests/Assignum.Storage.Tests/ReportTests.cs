using Assignum.Storage.Reports;

namespace Assignum.Storage.Tests;

/// <summary>Sums and statements by any days and dimension are those that the lines come to, one by one.</summary>
public sealed class ReportTests(Nursery nursery) : IClassFixture<Nursery>
{
    ReportStore Reports => new(nursery.Source);

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public async Task Every_report_comes_to_the_sum_of_its_lines(int seed)
    {
        var chance = new Random(seed);
        var company = await nursery.OpenCompany("REPORT" + seed);
        var labels = (await nursery.Rulebooks.Load(company, null, default)).Labels;
        var all = new List<(DateOnly Date, string Account, decimal Amount, string? Value)>();
        var events = new List<Posting.PostableEvent>();
        for (var i = 0; i < 40; i++)
        {
            var (date, amount, value) = (new DateOnly(2026, 1, 1).AddDays(chance.Next(120)), (decimal)chance.Next(-500, 500), chance.Next(3) == 0 ? "100" : null);
            if (amount == 0)
                continue;
            var (debit, credit) = amount > 0 ? ("6140", "2490") : ("2490", "6140");
            var dimensions = value is null ? "" : $",\"dimensions\":{{\"CC\":\"{value}\"}}";
            events.Add(Nursery.Event(FormattableString.Invariant($$"""{"id":"J{{i}}","type":"manual-journal","date":"{{date:yyyy-MM-dd}}","lines":[{"account":"{{debit}}","debit":{{Math.Abs(amount)}}{{dimensions}}},{"account":"{{credit}}","credit":{{Math.Abs(amount)}}{{dimensions}}}]}""")));
            all.Add((date, "6140", amount, value));
            all.Add((date, "2490", -amount, value));
        }
        Assert.All(await nursery.Posting.Post(company, nursery.User, events, default), p => Assert.True(p.WhyNot is null, p.WhyNot));
        for (var times = 0; times < 20; times++)
        {
            var (from, days, value) = (new DateOnly(2026, 1, 1).AddDays(chance.Next(120)), chance.Next(60), chance.Next(2) == 0 ? "100" : null);
            var to = from.AddDays(days);
            var sums = await Reports.Sums(company, new(from, to, value is null ? null : "cc", value), default);
            foreach (var account in new[] { "6140", "2490" })
            {
                var own = all.Where(l => l.Account == account && (value is null || l.Value == value) && l.Date <= to).ToList();
                var expected = new AccountSums(own.Where(l => l.Date < from).Sum(l => l.Amount), own.Where(l => l.Date >= from).Sum(l => Math.Max(0, l.Amount)), own.Where(l => l.Date >= from).Sum(l => Math.Max(0, -l.Amount)));
                Assert.Equal(expected, sums.GetValueOrDefault(labels.Account(account)!.Value));
                var lines = await Reports.Lines(company, labels.Account(account)!.Value, new(from, to, value is null ? null : "cc", value), 0, 1000, default);
                Assert.Equal((own.Count(l => l.Date >= from), expected.Closing), (lines.Count, lines.Count > 0 ? lines[^1].Stands : expected.Closing));
                Assert.Equal(lines.Skip(3).Take(2), await Reports.Lines(company, labels.Account(account)!.Value, new(from, to, value is null ? null : "cc", value), 3, 2, default));
            }
        }
    }

    [Fact]
    public async Task The_year_s_end_is_left_out_where_a_report_asks_for_it()
    {
        var company = await nursery.OpenCompany("WITHOUT");
        await nursery.Posting.Post(company, nursery.User, [Nursery.Event("""{"id":"J","type":"manual-journal","date":"2026-04-30","lines":[{"account":"6140","debit":50},{"account":"2490","credit":50}]}""")], default);
        Assert.Null(await nursery.YearEnds.End(company, nursery.User, await nursery.Ask<int>($"select id from fiscal_year where company_id = {company}"), -50, default));
        var account = (await nursery.Rulebooks.Load(company, null, default)).Labels.Account("6140")!.Value;
        var year = new ReportSpan(new(2026, 1, 1), new(2026, 12, 31));
        Assert.Equal((0, 50m), ((await Reports.Sums(company, year, default))[account].Closing, (await Reports.Sums(company, year with { WithoutYearEnd = true }, default))[account].Closing));
    }

    [Fact]
    public async Task A_document_is_found_by_any_part_of_its_number_and_signs_are_no_patterns()
    {
        var company = await nursery.OpenCompany("DOCS");
        await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("A_1"), Nursery.Invoice("AB1", more: "\"number\":\"2026/17\",")], default);
        Assert.Equal(["A_1"], (await Reports.Documents(company, "a_1", 9, default)).Select(d => d.Document));
        Assert.Equal(["2026/17"], (await Reports.Documents(company, "6/1", 9, default)).Select(d => d.Document));
        Assert.Empty(await Reports.Documents(company, "%", 9, default));
    }
}
