using System.Net;
using System.Text;
using Assignum.Storage.Checks;
using Assignum.Storage.Companies;
using Assignum.Storage.Posting;
using Microsoft.Extensions.DependencyInjection;

namespace Assignum.Web.Tests;

/// <summary>Checks with their places and acceptances, groups with accounts typed, copies, and what is said at the moment of typing.</summary>
public sealed class ChecksAndChangesTests(App app) : IClassFixture<App>
{
    [Fact]
    public async Task Each_finding_leads_to_a_place_that_is_there()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/checks");
        var links = ines.Page.QuerySelectorAll("table.findings td:nth-child(3) a").Select(a => a.GetAttribute("href")!).ToList();

        Assert.Equal(ines.Rows("table.findings tbody tr").Length, links.Count);
        foreach (var link in links.Distinct())
            Assert.Equal(HttpStatusCode.OK, (await ines.Get(link)).Last.StatusCode);
    }

    [Fact]
    public async Task A_finding_is_accepted_with_a_reason_until_a_day_and_opened_again()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/checks");
        var open = ines.Rows("table.findings tbody tr").Length;
        var accept = ines.Page.QuerySelectorAll("table.findings a[href*='handler=accept']").First(a =>
            a.GetAttribute("aria-label")!.Contains("Sales discount has rules", StringComparison.Ordinal)).GetAttribute("href")!;
        await ines.Get(accept);
        await ines.Submit("#drawer form", ("reason", "  "));
        Assert.Contains("why this may stay as it is", ines.Text, StringComparison.Ordinal);
        await ines.Get(accept);
        await ines.Submit("#drawer form", ("reason", "Discounts stay with the revenue."), ("until", "2020-01-01"));
        Assert.Contains("has passed already", ines.Text, StringComparison.Ordinal);
        await ines.Get(accept);
        await ines.Submit("#drawer form", ("reason", "Discounts stay with the revenue."), ("until", "2099-12-31"));
        await ines.Follow();

        Assert.Equal(open - 1, ines.Rows("table.findings tbody tr").Length);
        await ines.Get("/qn/checks?view=accepted");
        Assert.Contains("Accepted by Ines", ines.Text, StringComparison.Ordinal);
        Assert.Contains("until 2099-12-31: Discounts stay with the revenue.", ines.Text, StringComparison.Ordinal);
        // Who only reads sees it, and can't end it.
        Assert.Null((await (await Visitor.SignedIn(app, "vera")).Get("/qn/checks?view=accepted")).Page.QuerySelector("table.findings button"));
        await ines.Submit("table.findings form");
        await ines.Follow();
        Assert.Equal(open, ines.Rows("table.findings tbody tr").Length);
    }

    [Fact]
    public async Task A_release_that_parts_ledger_and_subledger_asks_for_a_reason_and_keeps_it()
    {
        var tomas = await (await Visitor.SignedIn(app, "tomas")).Get("/qn/rules/receivable");
        Task<System.Text.Json.JsonElement> Typed(string account) => tomas.Send("/qn/rules/receivable?rung=partyGroup&handler=cells",
            new[] { new { row = "RETAIL", column = (string?)null, text = account, own = (string?)null, seen = (string?)null, typed = true } });
        Assert.Contains("blocked for anything else: receivable on it would part ledger and subledger", (await Typed("1310")).GetProperty("faults").GetRawText(), StringComparison.Ordinal);

        var said = await Typed("1000");
        Assert.Empty(said.GetProperty("faults").EnumerateArray());
        Assert.Contains(said.GetProperty("warnings").EnumerateArray(), w =>
            w.GetString()!.Contains("control account of bank, so ledger and subledger would differ", StringComparison.Ordinal));

        await tomas.Get("/qn/editions");
        Assert.Contains("1 warning that would part ledger and subledger comes with this release", tomas.Text.ReplaceLineEndings(" "), StringComparison.Ordinal);
        await tomas.Submit("#release", ("reason", ""));
        Assert.Equal(HttpStatusCode.Conflict, tomas.Last.StatusCode);
        Assert.Contains("or say why it is released all the same", tomas.Text, StringComparison.Ordinal);
        await tomas.Submit("#release", ("note", "Spring"), ("reason", "Until the retail ledger is moved."));
        await tomas.Follow();
        Assert.Contains("Spring · Released with 1 warning that parts ledger and subledger: Until the retail ledger is moved.", tomas.Text,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_a_group_lands_on_is_typed_for_all_purposes_in_one_act()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/groups/item?group=TOOLS&view=lands");
        var names = ines.Page.QuerySelectorAll(".lands-form input[name=purpose]").Select(i => i.GetAttribute("value")!).ToList();
        var typed = names.Select(n => n switch { "sales-return" => "returns goods", "stock-difference" => "4 1 no such", _ => null }).ToList();
        (string, string?)[] Fields(IReadOnlyList<string?> accounts) =>
            [.. ines.Page.QuerySelectorAll(".lands-form input[name=account]").Select((i, at) => ("account", accounts[at] ?? i.GetAttribute("value")))];

        await ines.Submit(".lands-form", Fields(typed));
        Assert.Equal(HttpStatusCode.BadRequest, ines.Last.StatusCode);
        Assert.Contains("Nothing was changed. Stock difference: There is no posting account", ines.Text, StringComparison.Ordinal);
        Assert.Contains(ines.Page.QuerySelectorAll(".lands-form input[name=account]"), i => i.GetAttribute("value") == "returns goods");

        typed[names.IndexOf("stock-difference")] = "5110";
        await ines.Submit(".lands-form", Fields(typed));
        await ines.Follow();
        Assert.Contains("2 purposes of TOOLS changed in draft", ines.Text, StringComparison.Ordinal);
        Assert.Contains(ines.Rows(".lands-form tbody tr"), r => r.StartsWith("Stock difference", StringComparison.Ordinal)
            && r.Contains("5110", StringComparison.Ordinal) && r.EndsWith("item group", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_new_group_starts_as_a_copy_of_another_with_all_its_rules()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/groups/item?handler=group");
        await ines.Submit("#drawer form", ("Code", "BULBS"), ("Name", "Bulbs"), ("CopyOf", "SEEDS"));
        await ines.Follow();
        Assert.Contains("with all rules of SEEDS", ines.Text, StringComparison.Ordinal);
        async Task<string[]> RulesOf(string group) =>
            [.. (await ines.Get($"/qn/rules/revenue/list?q={group}")).Rows().Where(r => r.StartsWith(group, StringComparison.Ordinal)).Select(r =>
            r.Replace(group, "…", StringComparison.Ordinal).Replace("in the draft", "", StringComparison.Ordinal).Trim())];
        Assert.Equal(await RulesOf("SEEDS"), await RulesOf("BULBS"));
    }

    [Fact]
    public async Task All_purposes_of_a_group_are_copied_at_once()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/rules/revenue/copy?from=group&of=itemGroup%3DSEEDS&to=itemGroup%3DCOMPOST&all=true");
        var purposes = ines.Page.QuerySelectorAll("main form[method=post] tbody td:nth-child(2)").Select(t => t.TextContent).Distinct().ToList();

        Assert.True(purposes.Count > 2);
        Assert.Contains("Cost of sales", purposes);
        await ines.Submit("main form[method=post]");
        await ines.Follow();
        Assert.Matches(@"rules? copied to", ines.Text);
    }

    [Fact]
    public async Task A_moved_item_whose_stock_stands_elsewhere_says_where()
    {
        var company = (await app.Services.GetRequiredService<CompanyStore>().Find("QN", default))!.Id;
        await app.Services.GetRequiredService<PostingStore>().Post(company, null,
            [Invoices.Of("STANDS-1", new(2026, 10, 2), "C-12", "SEED-07", 4, ships: true)], default);
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/groups/item?q=SEED-07");
        await ines.Submit("#members", ("members", "SEED-07"), ("to", "POTS"));
        await ines.Follow();

        Assert.Matches(@"Stock of SEED-07, .*, stands on 1320 Seeds, and the group's account is 13\d\d .*\. It stays there until it is moved\.", ines.Text);
    }

    [Fact]
    public async Task An_account_lists_the_rules_that_land_on_it_and_the_members_behind_them()
    {
        var vera = await (await Visitor.SignedIn(app, "vera")).Get("/qn/chart/4010/lands");
        Assert.Contains("Revenue, Seeds", vera.Text, StringComparison.Ordinal);
        Assert.Contains(vera.Rows(), r => r.StartsWith("SEED-04 Meadow mix", StringComparison.Ordinal));
        Assert.DoesNotContain(vera.Rows(), r => r.StartsWith("POT-", StringComparison.Ordinal));
        var text = Encoding.UTF8.GetString(await vera.Download("/qn/chart/4010/lands?handler=export&kind=csv"));
        Assert.Contains("4010,revenue,SEEDS,SEED-04", text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Add_beside_carries_group_account_reporting_codes_and_activity()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/chart?handler=account&number=4010");
        string? Value(string selector) => ines.Page.QuerySelector(selector) is { } field ? field.GetAttribute("value") ?? field.TextContent : null;
        var (group, activity, reporting) = (Value("#acc-group"), Value("#acc-activity"), Value("#acc-reporting"));
        await ines.Get("/qn/chart?handler=new&beside=4010");

        Assert.NotEmpty(reporting!.Trim());
        Assert.Equal((group, activity, reporting), (Value("#acc-group"), Value("#acc-activity"), Value("#acc-reporting")));
    }

    [Theory]
    [InlineData("unruled", "2490")]
    [InlineData("ungrouped", null)]
    public async Task Views_show_accounts_that_no_rule_or_no_group_account_uses(string view, string? among)
    {
        var vera = await (await Visitor.SignedIn(app, "vera")).Get($"/qn/chart?view={view}");
        if (among is not null)
            Assert.Contains(vera.Rows(), r => r.StartsWith(among, StringComparison.Ordinal));
        Assert.DoesNotContain(vera.Rows(), r => r.StartsWith("1100 ", StringComparison.Ordinal) && view == "unruled");
    }

    [Fact]
    public async Task The_journal_is_narrowed_by_event_document_and_amount_with_its_sum()
    {
        var vera = await (await Visitor.SignedIn(app, "vera")).Get("/qn/journal?event=sales-credit-note");
        Assert.All(vera.Rows("#entries tbody tr"), r => Assert.Contains("Sales credit note", r, StringComparison.Ordinal));
        await vera.Get("/qn/journal?document=2026-104");
        var rows = vera.Rows("#entries tbody tr");
        Assert.All(rows, r => Assert.Contains("2026-104", r, StringComparison.Ordinal));
        var sum = rows.Sum(r => decimal.Parse(r.Split(' ')[^1], System.Globalization.CultureInfo.InvariantCulture));
        Assert.EndsWith(sum.ToString("N2", System.Globalization.CultureInfo.InvariantCulture), vera.Rows("#entries tfoot tr")[0], StringComparison.Ordinal);
        Assert.Contains("2026-1046", Assert.Single((await vera.Get("/qn/journal?amount=387.12")).Rows("#entries tbody tr")), StringComparison.Ordinal);
        Assert.Equal(rows.Length, Encoding.UTF8.GetString(await vera.Download("/qn/journal?document=2026-104&handler=export&kind=csv")).Split("\r\n",
            StringSplitOptions.RemoveEmptyEntries).Length - 1);
    }

    [Fact]
    public async Task Editions_are_chosen_by_date_and_note()
    {
        var vera = await (await Visitor.SignedIn(app, "vera")).Get("/qn/editions/compare");
        Assert.Contains(vera.Page.QuerySelectorAll("#from option"), o =>
            System.Text.RegularExpressions.Regex.IsMatch(o.TextContent, @"^Edition \d, \d{4}-\d\d-\d\d"));
    }

    [Fact]
    public async Task A_supplier_typed_as_customer_is_named_as_what_it_is()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/try-out");
        var suppliers = (await ines.Read("/qn/choose/party?q=S-20"))[0];
        using var answer = await ines.Post("/qn/try-out?handler=land", ("Party", "S-20"), ("Lines[0].Sold", "SEED-01"), ("Lines[0].Price", "1"));
        Assert.Contains($"S-20 {suppliers.GetProperty("name").GetString()} is a supplier. Name a customer, or give S-20 the role both.",
            WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Where_the_edition_in_force_gives_another_entry_it_stands_beside_and_is_what_posts()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/rules/revenue");
        await ines.Send("/qn/rules/revenue?rung=item&handler=cells",
            new[] { new { row = "POT-12", column = (string?)null, text = "4050", own = (string?)null, seen = (string?)null, typed = true } });
        await ines.Get("/qn/try-out?party=C-10&item=POT-12");
        var (posts, tried) = (ines.Rows("#posts tbody tr"), ines.Rows("#entry tbody tr"));

        Assert.Contains(posts, r => r.StartsWith("≠ 4030", StringComparison.Ordinal));
        Assert.Contains(tried, r => r.StartsWith("4050", StringComparison.Ordinal));
        Assert.StartsWith("Post the entry of edition", ines.Page.QuerySelector("#post button")!.TextContent.Trim(), StringComparison.Ordinal);
        await ines.Submit("#try");
        await ines.Follow();
        Assert.Contains(ines.Rows(), r => r.StartsWith("4030", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_button_that_can_t_be_pressed_says_why()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/try-out");
        var button = ines.Page.QuerySelector("#post button")!;

        Assert.True(button.HasAttribute("disabled"));
        Assert.Equal("Type a customer and what is sold.", ines.Page.GetElementById(button.GetAttribute("aria-describedby")!)!.TextContent);
    }

    [Fact]
    public async Task Unknown_tax_codes_and_missing_parents_are_left_out_or_made_by_choice()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/chart/import?paste=yes");
        await ines.Submit("main form[method=post]",
            ("rows", "number\tname\tclass\tparent\ttax code\tactive\tcontrol\n4911\tBees\tincome\t491\tZ99\taktiv\tDebitoren\n4912\tHives\tincome\t491\t\tinaktiv\t\n"));
        await ines.Follow();
        var file = ines.Page.QuerySelector("input[name=file]")!.GetAttribute("value");
        string Address(string tax, string parents) =>
            $"/qn/chart/import?file={file}&sheet=&header=1&header-was=1&placing=column&f.0=number&f.1=name&f.2=class&f.3=parent&f.4=taxCode&f.5=active&f.6=control&unknown-tax={tax}&unknown-parents={parents}";
        int Refused() => ines.Rows("form#mapped > table tbody tr").Count(r => r.Contains(" refused ", StringComparison.Ordinal));

        await ines.Get(Address("refused", "refused"));
        Assert.Equal(2, Refused());
        await ines.Get(Address("left-out", "left-out"));
        Assert.Equal(0, Refused());
        await ines.Get(Address("made", "made"));
        Assert.Equal(0, Refused());
        Assert.Contains("Made with the chart, without rates: tax code Z99.", ines.Text, StringComparison.Ordinal);
        Assert.Contains(ines.Rows("form#mapped > table tbody tr"), r => r.Contains("Heading 491", StringComparison.Ordinal)
            && r.Contains("made, because rows stand under it", StringComparison.Ordinal));
        await ines.Press("form#mapped button[formaction*='handler=take']");
        await ines.Follow();

        await ines.Get("/qn/chart?handler=account&number=4911");
        Assert.Equal(("491", "Z99", "receivables"),
            (ines.Page.QuerySelector("#acc-parent")!.GetAttribute("value"),
            ines.Page.QuerySelector("#acc-tax option[selected], [name=TaxCode] option[selected]")!.GetAttribute("value"),
            ines.Page.QuerySelector("[name=Control] option[selected]")!.GetAttribute("value")));
        Assert.Contains("inactive", (await ines.Get("/qn/chart?q=4912")).Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_new_company_says_what_is_still_missing_step_by_step()
    {
        await app.Services.GetRequiredService<CompanyStore>().Open("QT", "Quillmoss Trials", "EUR", default);
        var people = app.Services.GetRequiredService<Storage.People.PersonStore>();
        await people.Grant((await app.Services.GetRequiredService<CompanyStore>().Find("QT", default))!.Id, (await people.Find("ines", default))!.Id,
            Storage.People.Role.Preparer, null, default);
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qt/begin");

        Assert.StartsWith("1 Chart No account yet.", ines.Rows()[0], StringComparison.Ordinal);
        Assert.Equal(6, ines.Rows().Length);
        Assert.NotNull(ines.Page.QuerySelector("nav.rail a[href='/qt/begin']"));
        Assert.Null((await ines.Get("/qn/chart")).Page.QuerySelector("nav.rail a[href='/qn/begin']"));
    }

    [Fact]
    public async Task Trails_of_tax_say_which_groups_met_and_goods_that_leave_bear_no_tax_code()
    {
        var vera = await (await Visitor.SignedIn(app, "vera")).Get("/qn/journal?purpose=output-tax");
        await vera.Get(vera.Page.QuerySelector("#entries tbody a")!.GetAttribute("href")!);
        Assert.All(vera.Rows().Where(r => r.Contains(" inventory ", StringComparison.Ordinal) || r.Contains(" cost of sales ", StringComparison.Ordinal)), r =>
            Assert.DoesNotMatch(@"\b(S20|R8|Z0)\b", r));
        var tax = vera.Page.QuerySelectorAll("main tbody tr").First(r =>
            r.TextContent.Contains("output tax", StringComparison.Ordinal)).QuerySelector("a.num")!.GetAttribute("href")!;
        Assert.Matches(@"(S20|R8): where \S+ × \S+ meet", (await vera.Get(tax)).Text);
    }

    [Fact]
    public void The_key_of_a_finding_holds_for_draft_and_release_and_not_for_another_account() =>
        Assert.NotEqual(AcceptedFindings.KeyOf(new("class-mismatch", Core.Findings.Severity.Warning, "rules/r1", "x", "4000")),
            AcceptedFindings.KeyOf(new("class-mismatch", Core.Findings.Severity.Warning, "rules/r1", "x", "4010")));
}
