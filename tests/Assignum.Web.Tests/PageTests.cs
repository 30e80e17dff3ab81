using System.Net;
using System.Text;

namespace Assignum.Web.Tests;

public sealed class RulesAndTryOutTests(App app) : IClassFixture<App>
{
    static (string, string?)[] Voucher(Visitor visitor) =>
    [
        ("Party", "larkfield"), ("Lines[0].Sold", "voucher 25"), ("Lines[0].Quantity", "2"), ("Lines[0].Price", "25"), ("Lines[0].Shipped", null), ("Id", visitor.Page.QuerySelector("#try input[name=Id]")!.GetAttribute("value")),
    ];

    [Fact]
    public async Task From_suspense_to_a_rule_a_release_and_an_entry_with_its_trail()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/rules/revenue?handler=rule&rung=itemGroup&itemGroup=VOUCHER");
        await ines.Submit("#drawer form", ("Account", "nothing like it"));
        Assert.Contains("no posting account with", ines.Page.QuerySelector("#drawer .fault")!.TextContent, StringComparison.Ordinal);
        await ines.Submit("#drawer form", ("Account", "Council con"));
        await ines.Follow();
        Assert.Contains("VOUCHER", ines.Page.QuerySelector(".done")!.TextContent, StringComparison.Ordinal);

        // The draft has it, the edition in force has not: the invoice still lands on suspense.
        await ines.Get("/qn/try-out");
        await ines.Submit("#try", Voucher(ines));
        await ines.Follow();
        Assert.Contains(ines.Rows(), r => r.StartsWith("1999 Suspense revenue", StringComparison.Ordinal));

        var tomas = await (await Visitor.SignedIn(app, "tomas")).Get("/qn/editions");
        await tomas.Submit("#release", ("note", "Vouchers have a place."));
        Assert.Contains("Edition 3 is released", (await tomas.Follow()).Page.QuerySelector(".done")!.TextContent, StringComparison.Ordinal);

        await ines.Get("/qn/try-out");
        await ines.Submit("#try", Voucher(ines));
        await ines.Follow();
        Assert.Contains(ines.Rows(), r => r.StartsWith("4220 Council contracts revenue", StringComparison.Ordinal));
        await ines.Get(ines.Page.QuerySelector("main tbody a.num")!.GetAttribute("href")!);
        var trail = ines.Page.QuerySelector("#drawer")!.TextContent;
        Assert.Contains("edition 3, released", trail, StringComparison.Ordinal);
        Assert.Contains("by Tomas", trail, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_date_that_can_t_be_read_is_not_taken_for_none()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/rules/revenue?handler=rule&rung=itemGroup&itemGroup=OVERHEAD");
        await ines.Submit("#drawer form", ("Account", "4120"), ("From", "31.2.2026"));

        Assert.Equal(HttpStatusCode.BadRequest, ines.Last.StatusCode);
        Assert.Contains("“31.2.2026” can't be read", ines.Text, StringComparison.Ordinal);
        Assert.DoesNotContain("OVERHEAD", (await ines.Get("/qn/rules/revenue")).Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_same_form_sent_twice_posts_once()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/try-out");
        var form = ines.Page;
        await ines.Submit("#try", Voucher(ines));
        var first = ines.Last.Headers.Location!.OriginalString;
        await ines.Get("/qn/try-out");
        await ines.Submit("#try", [.. Voucher(ines).Where(f => f.Item1 != "Id"), ("Id", form.QuerySelector("#try input[name=Id]")!.GetAttribute("value"))]);

        Assert.Equal(first, ines.Last.Headers.Location!.OriginalString);
    }

    [Fact]
    public async Task What_would_be_held_is_named_with_a_link_to_its_mend_and_is_not_posted()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/try-out?party=C-70&item=SEED-04");
        Assert.Contains("No tax code holds for party tax group ABROAD, item tax group REDUCED", ines.Text, StringComparison.Ordinal);
        Assert.NotNull(ines.Page.QuerySelector("#result a[href='/qn/tax?row=ABROAD&column=REDUCED']"));

        await ines.Submit("#try", ("Lines[0].Price", "10"));
        Assert.Equal(HttpStatusCode.BadRequest, ines.Last.StatusCode);
        Assert.Contains("would hold this sales invoice", ines.Page.QuerySelector(".fault")!.TextContent, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("Lines[0].Quantity", "many", "can't be read as a number")]
    [InlineData("Lines[0].Sold", "clay pot", "fits several")]
    [InlineData("Party", "zzz", "no customer")]
    public async Task What_can_t_be_read_is_named_and_nothing_is_posted(string field, string value, string why)
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/try-out");
        await ines.Submit("#try", [.. Voucher(ines).Where(f => f.Item1 != field), (field, value)]);

        Assert.Equal(HttpStatusCode.BadRequest, ines.Last.StatusCode);
        Assert.Contains(why, ines.Text, StringComparison.Ordinal);
    }
}

public sealed class GroupsTaxAndJournalTests(App app) : IClassFixture<App>
{
    [Fact]
    public async Task Ticked_members_move_with_the_draft()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/groups/item?group=TOOLS");
        await ines.Submit("#members", ("members", "TOOL-05"), ("members", "TOOL-06"), ("to", "PACKING"));
        Assert.Contains(await Rows(ines), r => r.StartsWith("TOOL-05", StringComparison.Ordinal));

        await ines.Get("/qn/groups/item");
        await ines.Submit("#members", ("to", "PACKING"));
        Assert.Contains("No member is chosen", ines.Page.QuerySelector(".fault")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("TOOL-05", (await ines.Get("/qn/editions")).Text, StringComparison.Ordinal);

        static async Task<string[]> Rows(Visitor visitor) => (await visitor.Follow()).Rows();
    }

    [Fact]
    public async Task New_groups_and_members_are_added_and_faults_named()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/groups/item?handler=group");
        await ines.Submit("#drawer form", ("Code", ""), ("Name", "Bulbs"));
        Assert.Contains("code is empty", ines.Page.QuerySelector("#drawer .fault")!.TextContent, StringComparison.Ordinal);
        await ines.Submit("#drawer form", ("Code", "BULBS"), ("Name", "Bulbs"), ("TaxGroup", "REDUCED"));
        await (await ines.Follow()).Get("/qn/groups/item?handler=member&group=BULBS");
        await ines.Submit("#drawer form", ("Code", "BULB-01"), ("Name", "Snowdrop, 25"), ("Kind", "stock"), ("Cost", "3,40"));
        Assert.Contains("You write numbers as 1,234.50", ines.Page.QuerySelector("#drawer .fault")!.TextContent, StringComparison.Ordinal);
        await ines.Submit("#drawer form", ("Code", "BULB-01"), ("Name", "Snowdrop, 25"), ("Kind", "stock"), ("Cost", "3.40"));
        Assert.Contains("BULB-01 Snowdrop, 25 stock BULBS", Assert.Single((await ines.Follow()).Rows()), StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_item_without_a_cost_leads_to_its_panel_and_lands_at_once_when_it_has_one()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/groups/item?handler=member&group=POTS");
        await ines.Submit("#drawer form", ("Code", "POT-77"), ("Name", "Amphora"), ("Kind", "stock"));
        await ines.Get("/qn/try-out?party=C-10&item=POT-77");
        await ines.Get(ines.Page.QuerySelector("#result td.mend a")!.GetAttribute("href")!);
        await ines.Submit("#drawer form", ("Cost", "-1"));
        Assert.NotNull(ines.Page.QuerySelector(".field:has(#m-cost) .fault"));
        await ines.Submit("#drawer form", ("Cost", "12.40"), ("Name", "Amphora, large"));

        Assert.Contains("POT-77 Amphora, large", Assert.Single((await ines.Follow()).Rows()), StringComparison.Ordinal);
        Assert.DoesNotContain("would be held", (await ines.Get("/qn/try-out?party=C-10&item=POT-77")).Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_journal_is_filtered_by_account_purpose_party_and_date_and_every_amount_has_its_trail()
    {
        var vera = await (await Visitor.SignedIn(app, "vera")).Get("/qn/journal");
        Assert.Equal(50, vera.Rows().Length);
        Assert.Equal(3, (await vera.Get("/qn/journal?purpose=cash-difference")).Rows().Length);
        Assert.All((await vera.Get("/qn/journal?party=C-50")).Rows(), r => Assert.Contains("Bramblecote Council", r, StringComparison.Ordinal));
        Assert.Single((await vera.Get("/qn/journal?account=4320&from=2026-11-01&to=2026-11-30")).Rows());
        Assert.Contains("lies after the last", (await vera.Get("/qn/journal?from=2026-11-30&to=2026-11-01")).Text, StringComparison.Ordinal);

        await vera.Get("/qn/journal/3");
        foreach (var address in vera.Page.QuerySelectorAll("main tbody a.num").Select(a => a.GetAttribute("href")!).ToList())
        {
            await vera.Get(address);
            Assert.Equal(HttpStatusCode.OK, vera.Last.StatusCode);
            Assert.Contains("edition 2, released", vera.Page.QuerySelector("#drawer")!.TextContent, StringComparison.Ordinal);
        }
        Assert.Equal(HttpStatusCode.NotFound, (await vera.Get("/qn/journal/999")).Last.StatusCode);
    }

    [Theory]
    [InlineData("4010", "/qn/chart?handler=account&number=4010")]
    [InlineData("larkf", "/qn/groups/party?q=C-10")]
    [InlineData("r12", "/qn/rules/revenue?handler=rule")]
    [InlineData("cost of s", "/qn/rules/cost-of-sales")]
    [InlineData("try", "/qn/try-out")]
    public async Task The_find_box_leads_to_what_was_typed(string text, string address) =>
        Assert.Contains((await (await Visitor.SignedIn(app, "vera")).Get("/qn/find?q=" + Uri.EscapeDataString(text))).Page.QuerySelectorAll("a"), a => a.GetAttribute("href")!.StartsWith(address, StringComparison.Ordinal));
}
