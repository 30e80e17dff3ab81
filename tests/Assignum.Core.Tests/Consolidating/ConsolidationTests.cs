using Assignum.Core.Charts;
using Assignum.Core.Consolidating;
using CsCheck;

namespace Assignum.Core.Tests.Consolidating;

public class ConsolidationTests
{
    static readonly DateOnly On = new(2026, 6, 30);

    static readonly Account[] Chart =
    [
        Book.Account("G-100", "Cash", AccountClass.Asset), Book.Account("G-115", "Receivables within the group", AccountClass.Asset), Book.Account("G-205",
            "Payables within the group", AccountClass.Liability),
        Book.Account("G-250", "Overdrafts", AccountClass.Liability), Book.Account("G-300", "Capital", AccountClass.Equity), Book.Account("G-400", "Sales",
            AccountClass.Income),
    ];

    static MemberAccount Account(string number, AccountClass of, decimal balance, string? to, string? credit = null, TranslationRate? rate = null) =>
        new(number, number, of, balance, to is null ? null : new GroupMatch(to, credit, rate)) { Days = [(new(2026, 1, 1), balance)] };

    static decimal Of(Consolidation consolidation, string account) => consolidation.Lines.SingleOrDefault(l => l.Account == account)?.Consolidated ?? 0;

    [Fact]
    public void Assets_go_at_the_closing_rate_equity_as_it_came_in_sales_at_the_average_and_the_rest_is_the_translation_difference()
    {
        var abroad = new MemberBooks("QA", "USD", [Account("10", AccountClass.Asset, 1000, "G-100"), Account("30", AccountClass.Equity, -600, "G-300"),
            Account("40", AccountClass.Income, -400, "G-400")], [])
        {
            RateOn = day => day < new DateOnly(2026, 3, 1) ? 0.90m : 0.95m, Average = 0.92m,
        };

        var made = Consolidation.Of(Chart, [abroad], On, 2);

        // 1,000 × 0.95 − 600 × 0.90 − 400 × 0.92 = 950 − 540 − 368 leaves 42.
        Assert.Equal((950m, -540m, -368m, -42m), (Of(made, "G-100"), Of(made, "G-300"), Of(made, "G-400"), made.Translation.Consolidated));
    }

    [Fact]
    public void A_balance_in_credit_may_go_to_another_account_than_one_in_debit()
    {
        var made = Consolidation.Of(Chart, [new("QN", "EUR", [Account("1000", AccountClass.Asset, -70, "G-100", "G-250"), Account("1010", AccountClass.Asset,
            70, "G-100", "G-250")], [])], On, 2);

        Assert.Equal((70m, -70m), (Of(made, "G-100"), Of(made, "G-250")));
    }

    [Fact]
    public void What_companies_owe_each_other_is_eliminated_and_what_they_do_not_agree_on_is_left_as_their_difference()
    {
        MemberBooks nurseries = new("QN", "EUR", [Account("1130", AccountClass.Asset, 500, "G-115"), Account("30", AccountClass.Equity, -500, "G-300")],
            [new("QL", "1130", 500)]),
            landscapes = new("QL", "EUR", [Account("201900", AccountClass.Liability, -380, "G-205"), Account("30", AccountClass.Equity, 380, "G-300")],
                [new("QN", "201900", -380)]);

        var made = Consolidation.Of(Chart, [nurseries, landscapes], On, 2);

        Assert.Equal((0m, 0m, 120m), (Of(made, "G-115"), Of(made, "G-205"), made.Between.Consolidated));
        Assert.Equal(500, made.Lines.Single(l => l.Account == "G-115").ByCompany["QN"]);
    }

    [Fact]
    public void What_nobody_has_matched_stands_on_a_line_of_its_own_with_its_accounts()
    {
        var made = Consolidation.Of(Chart, [new("QN", "EUR", [Account("1999", AccountClass.Asset, 5, null), Account("2", AccountClass.Liability, -5,
            "G-999")], [])], On, 2);

        Assert.Equal(["1999", "2"], made.NotMatched.Parts.Select(p => p.Account.Number));
    }

    [Fact]
    public void Without_a_rate_a_company_is_named_and_left_out()
    {
        var made = Consolidation.Of(Chart, [new("QA", "USD", [Account("10", AccountClass.Asset, 1, "G-100")], []) { RateOn = _ => null }], On, 2);

        Assert.Contains("no rate of USD", Assert.Single(made.Faults), StringComparison.Ordinal);
        Assert.Empty(made.Lines);
    }

    static readonly Gen<MemberBooks> Members = Gen.Select(Gen.Int[0, 8], Gen.Select(Gen.Int[0, 7], Gen.Int[-90_000, 90_000], Gen.Int[0, 6], Gen.Int[0,
        3]).Array[1, 12], Gen.Int[0, 2_000_000], Gen.Int[1, 2_000_000], Gen.Int[-900, 900].Array[0, 4])
        .Select(m =>
        {
            var accounts = m.Item2.Select((a, i) => new MemberAccount("A" + i, "", (AccountClass)a.Item1, a.Item2 / 100m, a.Item3 == 6 ? null
                : new GroupMatch(Chart[a.Item3].Number, a.Item4 == 0 ? "G-250" : null, a.Item4 == 3 ? null : (TranslationRate)a.Item4))
                { Days = [(new(2026, 1, 5), a.Item2 / 300m), (new(2026, 2, 5), (a.Item2 / 100m) - (a.Item2 / 300m))] }).ToList();
            // Books balance.
            accounts.Add(new("REST", "", AccountClass.Equity, -accounts.Sum(a => a.Balance), new GroupMatch("G-300")) { Days = [(new(2026, 1, 1),
                -accounts.Sum(a => a.Balance))] });
            return new MemberBooks("C" + m.Item1, "XXX", accounts, [.. m.Item5.Select((p, i) => new PartnerBalance("C" + (i % 3), "A" + (i % m.Item2.Length),
                p / 100m))])
            {
                RateOn = day => (day.Month + m.Item3) / 1_000_000m, Average = m.Item4 / 1_000_000m,
            };
        });

    [Fact]
    public void Consolidated_balances_come_to_nothing_and_eliminations_to_the_difference_between_the_companies() => Members.Array[1, 4].Sample(all =>
    {
        var members = all.DistinctBy(m => m.Code).ToList();
        var made = Consolidation.Of(Chart, members, On, 2);

        Assert.Equal(0, made.All.Sum(l => l.Consolidated));
        Assert.Equal(made.Between.Consolidated, -made.Lines.Append(made.NotMatched).Sum(l => l.Eliminated));
        // Slowly: each balance between companies that both belong to the group, at the closing rate.
        var owed = members.Sum(m => m.Partners.Where(p => members.Exists(o => o.Code == p.Partner)).Sum(p => Math.Round(p.Amount * m.RateOn(On)!.Value, 2,
            MidpointRounding.AwayFromZero)));
        Assert.Equal(owed, made.Between.Consolidated);
        Assert.All(made.All, l => Assert.True(Money.HasAtMost(l.Consolidated, 2)));
    }, iter: 2000);
}

public class BetweenCompaniesTests
{
    static readonly DateOnly On = new(2026, 6, 30), Day = new(2026, 6, 20);

    static BetweenItem Item(string document, decimal opened, decimal? open = null, decimal? booked = null, DateOnly? date = null) =>
        new(document, date ?? Day, "EUR", opened, date > On ? 0 : open ?? opened, date > On ? 0 : booked ?? open ?? opened);

    public static TheoryData<decimal?, decimal?, decimal?, decimal?, bool, BetweenReason> Pairs => new()
    {
        { 100, 100, -100, -100, false, BetweenReason.Agrees }, { 100, 100, null, null, false, BetweenReason.OnlyHere }, { null, null, -100, -100, false,
            BetweenReason.OnlyThere },
        { 100, 100, -90, -90, false, BetweenReason.OtherAmount }, { 100, 100, -100, -100, true, BetweenReason.OtherDate }, { 100, 40, -100, -100, false,
            BetweenReason.OtherSettlement },
    };

    [Theory]
    [MemberData(nameof(Pairs))]
    public void A_document_says_why_the_companies_differ(decimal? ours, decimal? open, decimal? theirs, decimal? openThere, bool later, BetweenReason reason)
    {
        BetweenItem[] here = ours is { } o ? [Item("R-1", o, open)] : [], there = theirs is { } t ? [Item("r-1", t, openThere, date: later ? On.AddDays(2)
            : null)] : [];

        Assert.Equal(reason, Assert.Single(BetweenCompanies.Compare(here, there, On)).Reason);
    }

    [Fact]
    public void The_same_document_at_another_rate_is_said() =>
        Assert.Equal(BetweenReason.OtherRate, Assert.Single(BetweenCompanies.Compare([Item("R-1", 100, 100, 92)], [Item("R-1", -100, -100, -91)], On)).Reason);

    [Fact]
    public void Documents_settled_on_both_sides_are_not_shown() => Assert.Empty(BetweenCompanies.Compare([Item("R-1", 100, 0, 0)], [Item("R-1", -100, 0, 0)],
        On));

    static readonly Gen<BetweenItem[]> Side = Gen.Select(Gen.Int[0, 9], Gen.Int[-500, 500], Gen.Int[0, 2], Gen.Int[-3, 3]).Array[0, 12].Select(items =>
        items.Select(i => Item("R-" + i.Item1, i.Item2, i.Item3 == 0 ? 0 : i.Item2, i.Item3 == 0 ? 0 : i.Item2 + i.Item4, i.Item3 == 2 ? On.AddDays(3)
            : null)).ToArray());

    [Fact]
    public void The_lines_come_to_the_difference_of_the_two_balances_and_only_where_they_agree_to_nothing() => Gen.Select(Side, Side).Sample((ours, theirs) =>
    {
        var lines = BetweenCompanies.Compare(ours, theirs, On);

        Assert.Equal(ours.Sum(i => i.Booked) + theirs.Sum(i => i.Booked), lines.Sum(l => l.Difference));
        Assert.All(lines.Where(l => l.Reason == BetweenReason.Agrees), l => Assert.Equal(0, l.Difference));
    }, iter: 2000);
}
