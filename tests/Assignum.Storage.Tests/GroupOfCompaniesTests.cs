using Assignum.Core.Charts;
using Assignum.Core.Consolidating;
using Assignum.Core.Preparation;
using Assignum.Storage.Charts;
using Assignum.Storage.Consolidating;
using Assignum.Storage.LateCharges;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Storage.Subledgers;

namespace Assignum.Storage.Tests;

/// <summary>Companies of a group in the books: their accounts go to the group's chart, their books balance there, and between two of them every document
/// stands beside its mirror. And customers who pay late, who are charged once.</summary>
public sealed class GroupOfCompaniesTests(Nursery nursery) : IClassFixture<Nursery>
{
    GroupChartStore Groups => new(nursery.Source, nursery.Rulebooks, nursery.Draft);

    async Task Post(int company, string json) => Assert.All(await nursery.Posting.Post(company, nursery.User, [Nursery.Event(json)], default),
        p => Assert.True(p.Fate == PostingFate.Landed, p.WhyNot));

    // A group with a chart of three, and a company in it.
    async Task<(int Group, int Member)> Company(string code)
    {
        var group = (await nursery.Companies.Open("G" + code, "Group of " + code, "EUR", default)).Id;
        Assert.Null(await nursery.Accounts.Add(group, nursery.User, [.. new[] { ("A", AccountClass.Asset), ("L", AccountClass.Liability), ("I", AccountClass.Income) }
            .Select(a => new NewAccount(new Account { Number = a.Item1, Name = a.Item1, Class = a.Item2 }, AccountDescription.None))], default));
        Assert.Null(await nursery.Release(group));
        var member = await nursery.OpenCompany(code);
        await nursery.Companies.SetGroup(member, nursery.User, group, default);
        return (group, member);
    }

    [Fact]
    public async Task What_is_decided_of_accounts_holds_at_once_and_what_the_group_has_not_is_refused_whole()
    {
        var (_, member) = await Company("DECIDE");
        var edition = (await nursery.Rulebooks.StateOf(member, default)).Edition;
        Assert.Null(await Groups.Decide(member, nursery.User, [new("1010", new GroupMatch("A", "L")), new("4010", new GroupMatch("I", null, TranslationRate.Average))], default));
        Assert.Contains("Z", (await Groups.Decide(member, nursery.User, [new("1020", new GroupMatch("A")), new("1030", new GroupMatch("Z"))], default))!.Message, StringComparison.Ordinal);
        Assert.Contains("9999", (await Groups.Decide(member, nursery.User, [new("9999", new GroupMatch("A"))], default))!.Message, StringComparison.Ordinal);

        var matches = await Groups.Matches(member, default);
        Assert.Equal([("1010", new GroupMatch("A", "L")), ("4010", new GroupMatch("I", null, TranslationRate.Average))], matches.OrderBy(m => m.Key).Select(m => (m.Key, m.Value)));
        Assert.Equal(edition, (await nursery.Rulebooks.StateOf(member, default)).Edition);
        // Who has not seen where it goes by now does not send it elsewhere, nor anything along with it.
        Assert.Contains("A, in credit to L now, nowhere then", (await Groups.Decide(member, nursery.User, [new("1020", new GroupMatch("A")), new("1010", null)],
            default))!.Message, StringComparison.Ordinal);
        Assert.Equal(2, (await Groups.Matches(member, default)).Count);
        Assert.Null(await Groups.Decide(member, nursery.User, [new("1010", null, new GroupMatch("A", "L"))], default));
        Assert.Equal(["4010"], (await Groups.Matches(member, default)).Keys);
    }

    [Fact]
    public async Task The_books_of_a_group_balance_and_what_is_open_between_companies_stands_with_its_partner()
    {
        var (group, member) = await Company("BOOKS");
        await Post(member, """{"id":"I-1","type":"sales-invoice","date":"2026-03-14","party":"QL","lines":[{"item":"DES-H","quantity":1,"price":100}]}""");
        await Post(member, """{"id":"I-2","type":"sales-invoice","date":"2026-03-20","party":"C-10","lines":[{"item":"DES-H","quantity":1,"price":50}]}""");
        var books = Assert.Single(await Groups.Books(group, "EUR", new(2026, 3, 31), default));

        Assert.Equal(0, books.Accounts.Sum(a => a.Balance));
        Assert.Equal([("QL", "1130", 120m)], books.Partners.Select(p => (p.Partner, p.Account, p.Amount)));

        var party = (await nursery.Rulebooks.Load(member, null, default)).Labels.IdOf("party", "QL")!.Value;
        var item = Assert.Single(await Groups.Between(member, party, new(2026, 3, 31), default));
        Assert.Equal(("I-1", 120m, 120m), (item.Document, item.Opened, item.Open));
        await Post(member, """{"id":"P-1","type":"customer-payment","date":"2026-04-02","party":"QL","moneyAccount":"MAIN","amount":100,"settles":[{"event":"I-1","amount":100}]}""");
        Assert.Equal((120m, 20m), Assert.Single(await Groups.Between(member, party, new(2026, 4, 30), default)) is var paid ? (paid.Opened, paid.Open) : default);
        // What was open then is still said of then.
        Assert.Equal(120, Assert.Single(await Groups.Between(member, party, new(2026, 3, 31), default)).Open);
        await Post(member, """{"id":"I-1","type":"sales-invoice","date":"2026-03-14","party":"QL","revision":2,"withdrawn":true,"lines":[{"item":"DES-H","quantity":1,"price":100}]}""");
        Assert.DoesNotContain(await Groups.Between(member, party, new(2026, 4, 30), default), b => b.Open == 20);
    }

    [Fact]
    public async Task Who_pays_late_is_charged_once_for_each_day_and_reminded_at_most_once_in_thirty()
    {
        var company = await nursery.OpenCompany("LATE");
        var text = new EventText(Formats.Events.EventWriter.Write, Formats.Events.EventReader.Kept);
        var store = new LateChargeStore(nursery.Source, new(nursery.Source), new(nursery.Source), nursery.Posting, text);
        var book = new LandingBook(await nursery.Rulebooks.Load(company, null, default));
        var group = nursery.Ask<int>($"select id from grouping where company_id = {company} and code = 'TRADE'");
        await new TermsStore(nursery.Source).Set(company, nursery.User, (null, await group, "TRADE"), null, new Terms(0, 0, 0, 0) { LatePercent = 10, ReminderFee = 5 }, default);
        await Post(company, """{"id":"I-1","type":"sales-invoice","date":"2026-03-01","dueDate":"2026-03-31","party":"C-10","lines":[{"item":"DES-H","quantity":1,"price":1000}]}""");

        // 1,200 at ten per cent: thirty days of 365.
        Assert.Equal((9.86m, 5m), await Charge(new(2026, 4, 30)));
        Assert.Equal((0m, 0m), await Charge(new(2026, 4, 30)));
        // Ten days more, and no second reminder yet.
        Assert.Equal((3.29m, 0m), await Charge(new(2026, 5, 10)));
        await Post(company, """{"id":"P-1","type":"customer-payment","date":"2026-05-10","party":"C-10","moneyAccount":"MAIN","amount":1200,"settles":[{"event":"I-1","amount":1200}]}""");
        Assert.Equal((0m, 0m), await Charge(new(2026, 6, 30)));

        async Task<(decimal Interest, decimal Fee)> Charge(DateOnly on)
        {
            var proposed = (await store.Propose(company, book, on, default)).Where(p => p.Items.Any(i => i.Document == "I-1")).ToList();
            Assert.Null(await store.Post(company, nursery.User, proposed, await store.Made(company, proposed, on, default), on, default));
            return (proposed.Sum(p => p.Interest), proposed.Sum(p => p.Fee));
        }
    }
}
