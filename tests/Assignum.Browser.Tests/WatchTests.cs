extern alias demo;
using System.Globalization;
using System.Text.Json;
using Assignum.Core.Posting;
using demo::Assignum.DemoEvents.Year;
using Assignum.Formats.Events;
using Assignum.Formats.Rulebooks;
using Assignum.Storage.Companies;
using Assignum.Storage.People;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using OpenQA.Selenium;

namespace Assignum.Browser.Tests;

/// <summary>The year of the demo in the application: what waits is seen, fixed and closed, each act by its own buttons and keys.</summary>
public sealed class WatchTests(Browser browser) : IClassFixture<Browser>, IAsyncLifetime
{
    const int MostKeys = 40;
    static readonly DateOnly Day = new(2026, 11, 30);
    static bool isIn;

    T The<T>() where T : notnull => browser.Services.GetRequiredService<T>();

    // Edition after edition, each with what happened while it was in force, as ./run brings it in.
    public async Task InitializeAsync()
    {
        if (isIn)
            return;
        isIn = true;
        var company = (await The<CompanyStore>().Find("QN", default))!.Id;
        var (ines, tomas) = ((await The<PersonStore>().Find("ines", default))!.Id, (await The<PersonStore>().Find("tomas", default))!.Id);
        var book = RulebookReader.Read(await File.ReadAllBytesAsync(Path.Combine(AppContext.BaseDirectory, "demo/qn/rulebook.json"))).Book!;
        var year = Thirteen.UpTo(book, Day);
        for (var stage = 0; stage < year.Stages.Count; stage++)
        {
            Assert.Null((await The<RulebookIntoDraft>().Import(company, ines, year.Stages[stage].Book, default)).Refusal);
            Assert.Null(await The<EditionStore>().Release(company, tomas, await The<RulebookStore>().StateOf(company, default), "", default));
            await The<PostingStore>().Post(company, ines, [.. year.Of(stage).Select(happened =>
            {
                var json = EventWriter.Write(happened);
                return new PostableEvent(happened, happened.Connection ?? PostableEvent.Own, json, json, CanonicalJson.Digest(json));
            })], default);
        }
    }

    public Task DisposeAsync() => Task.CompletedTask;

    static (string Event, decimal Amount)[] Planted(string trouble)
    {
        using var troubles = JsonDocument.Parse(File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "demo/qn/troubles.json")));
        return [.. troubles.RootElement.GetProperty("troubles").EnumerateArray().Single(t => t.GetProperty("trouble").GetString() == trouble).GetProperty("documents").EnumerateArray()
            .Select(d => (d.GetProperty("event").GetString()!, d.GetProperty("amount").GetDecimal()))];
    }

    // j goes down the list until the row with some words is stood on.
    void DownTo(string words)
    {
        for (var i = 0; i < 12; i++)
        {
            browser.Key("j");
            if (browser.All("tr.at").Any(r => r.Text.Contains(words, StringComparison.Ordinal)))
                return;
        }
        Assert.Fail($"No row with {words} is reached.");
    }

    void AllKeys(string who, Action acts)
    {
        browser.SignIn(who);
        browser.Open("/qn/desk");
        browser.Sees("Held, by cause");
        browser.KeysPressed = 0;
        acts();
        Assert.InRange(browser.KeysPressed, 1, MostKeys);
    }

    async Task<List<string>> Ask(string sql)
    {
        await using var command = The<NpgsqlDataSource>().CreateCommand(sql);
        await using var rows = await command.ExecuteReaderAsync();
        var all = new List<string>();
        while (await rows.ReadAsync())
            all.Add(rows.GetString(0));
        return all;
    }

    static string Money(decimal amount) => amount.ToString("#,##0.00", CultureInfo.InvariantCulture);

    [Fact]
    public async Task Forty_shipments_without_a_rule_are_found_fixed_by_a_preparer_released_by_an_approver_and_posted_in_their_order_by_keys_alone()
    {
        var planted = Planted("one-missing-rule");
        AllKeys("ines", () =>
        {
            DownTo("BULBS");
            Assert.Contains(Money(planted.Sum(p => p.Amount)), browser.Find("tr.at").Text, StringComparison.Ordinal);
            browser.Key(Keys.Enter);
            browser.Has("#fix-account", "5010 Cost of seeds");
            browser.Sees("Land on 5010", "#drawer");
            Assert.Equal(planted.Select(p => p.Event + " " + Money(p.Amount)).Order(), browser.All("#waiting tbody tr").Select(r =>
                r.FindElement(By.CssSelector(".mono.link")).Text + " " + r.FindElements(By.CssSelector("td"))[4].Text).Order());
            browser.Key(Keys.Enter);
            browser.Sees("lands on 5010 in draft", ".done");
        });
        Assert.Empty(await Ask("select source_id from event where outcome = 'landed' and posting > 1 and type = 'shipment'"));
        AllKeys("tomas", () =>
        {
            browser.Sees("fix in the draft", "#held");
            DownTo("BULBS");
            browser.Key(Keys.Enter);
            browser.Sees($"Release this change and post {planted.Length} events", "#drawer");
            browser.Key(Keys.Enter);
            browser.Sees($"{planted.Length} events landed, in the order in which they came", "#retry");
        });
        var order = await Ask("select e.source_id from entry n join event e on e.company_id = n.company_id and e.id = n.event_id where e.type = 'shipment' and e.posting > 1 order by n.number");
        Assert.Equal(await Ask("select source_id from event where posting = 1 and source_id in (select source_id from event where type = 'shipment' and posting > 1) order by id"), order);
        Assert.Equal(planted.Select(p => p.Event).Order(), order.Order());
    }

    [Fact]
    public void Two_invoices_without_a_tax_rule_are_found_and_post_when_the_groups_have_a_code()
    {
        var planted = Planted("no-tax-rule");
        AllKeys("tomas", () =>
        {
            DownTo("ABROAD");
            Assert.Contains(Money(planted.Sum(p => p.Amount)), browser.Find("tr.at").Text, StringComparison.Ordinal);
            browser.Key(Keys.Enter);
            browser.Sees("Tax code for party tax group ABROAD", "#drawer");
            browser.TypeKeys("Z0");
            browser.Until(() => browser.Find("#drawer").Text.Contains("What will happen", StringComparison.Ordinal), "what will happen");
            browser.Key(Keys.Tab);
            browser.Key(Keys.Tab);
            browser.Key(Keys.Enter);
            browser.Sees("2 events landed, in the order in which they came", "#retry");
        });
        foreach (var (document, _) in planted)
        {
            browser.Open("/qn/document-trail?document=" + document);
            browser.Sees("Sales invoice", "#chain");
        }
    }

    [Fact]
    public void An_item_nobody_has_made_is_added_where_its_invoices_wait_and_they_post()
    {
        browser.SignIn("ines");
        browser.Open("/qn/held");
        browser.Click("#causes tr:has(td:nth-child(2)) a[href*='unknown-code']");
        browser.Sees("There is no item BENCH-OAK here", "#drawer");
        browser.Click("#fix button.main");
        browser.Sees("has no name", "#drawer .fault");
        browser.Type("#fix-name", "Oak bench");
        browser.Choose("#fix-is", "non-stock");
        browser.Type("#fix-group", "TOOLS" + Keys.Tab);
        browser.Click("#fix button.main");
        browser.Sees("6 events landed", "#retry");
    }

    [Fact]
    public void An_event_that_will_never_post_is_set_aside_with_a_reason_and_one_is_looked_at_whole()
    {
        browser.SignIn("ines");
        browser.Open("/qn/held");
        browser.Click("#causes a[href*='tax-differs']");
        browser.Sees("TILL-20261016", "#waiting");
        browser.Click("#waiting a.link");
        browser.Sees("The source charged", "#drawer");
        browser.Click("#drawer summary");
        browser.Sees("\"takings\"", "#drawer pre");
        browser.Click("#drawer form button");
        browser.Sees("Say why it will never post", "#drawer");
        browser.Type("#why", "the till's own test");
        browser.Click("#drawer form button");
        browser.Sees("is set aside", ".done");
        Assert.DoesNotContain("TILL-20261016", browser.Find("main").Text.Replace("TILL-20261016 is set aside", "", StringComparison.Ordinal), StringComparison.Ordinal);
        browser.Open("/qn/held");
        browser.Click(".head .do button");
        browser.Sees("still wait", "#retry");
    }

    [Fact]
    public void A_month_s_end_is_signed_line_by_line_closed_kept_and_opened_again_with_a_reason()
    {
        browser.SignIn("tomas");
        browser.Open("/qn/month-end");
        Choose("February 2026");
        browser.Sees("February 2026:");
        Assert.NotNull(browser.Find(".head .do button:disabled"));
        browser.Click("#suspense button[value=true]");
        browser.Sees("Say why it is left as it is", ".fault");
        while (browser.All("#lines .sign-line") is [_, ..])
        {
            var name = browser.Find("#lines tr:has(.sign-line)").GetAttribute("id");
            browser.Type($"#{name} [name=reason]", name == "suspense" ? "reclassified in March" : "known");
            browser.Click($"#{name} button[value={(name == "timing" ? "false" : "true")}]");
            browser.Until(() => browser.All("#lines").Count == 1 && browser.All($"#{name} .sign-line").Count == 0, $"{name}, signed");
        }
        browser.Click(".head .do button:enabled");
        browser.Sees("February 2026 is closed", ".done");
        browser.Sees("left: reclassified in March", "#kept");
        browser.Sees("Head of the chain", "#history");
        browser.Open("/qn/try-out?type=manual-journal");
        browser.Type("[name='date']", "2026-02-17" + Keys.Tab);
        browser.Type("[name='Lines[0].account']", "6140" + Keys.Tab);
        browser.Type("[name='Lines[0].debit']", "1" + Keys.Tab);
        browser.Type("[name='Lines[1].account']", "2490" + Keys.Tab);
        browser.Type("[name='Lines[1].credit']", "1" + Keys.Tab);
        browser.Sees("The period of 2026-02-17 is closed", "#result");

        browser.Open("/qn/month-end");
        Choose("February 2026, closed");
        browser.Click("form:has(#reason) button");
        browser.Sees("Say why the period is opened again", ".fault");
        browser.Type("#reason", "the auditor asks for a correction");
        browser.Click("form:has(#reason) button");
        browser.Sees("February 2026 is open again", ".done");
        browser.Sees("the auditor asks for a correction", "#history");
        browser.Sees("✓ left: reclassified in March", "#suspense");
    }

    void Choose(string period)
    {
        browser.Click($"#period option:nth-child({Array.FindIndex([.. browser.All("#period option")], o => o.Text == period) + 1})");
        browser.Click("form:has(#period) button");
    }

    [Fact]
    public void A_subledger_is_closed_for_a_month_and_opened_a_year_is_opened_and_ended_and_its_end_taken_back()
    {
        browser.SignIn("tomas");
        browser.Open("/qn/periods");
        browser.Click("#periods button[title='Close receivables  for January 2026']");
        browser.Sees("Receivables: closed for the period", ".done");
        browser.Click("#periods button[title='Open receivables again for January 2026']");
        browser.Sees("Receivables: open again", ".done");
        browser.Click("tr.part:has(th:first-child) a[href*='end=']");
        browser.Sees("goes to retained earnings", "#year-end");
        browser.Click("#year-end button");
        browser.Sees("has ended", ".done");
        browser.Click("tr.part form button");
        browser.Sees("has not ended any more", ".done");

        browser.SignIn("adam");
        browser.Open("/qn/companies");
        browser.Click("#next-year summary");
        browser.Choose("#cut", "quarters");
        browser.Click("#next-year button");
        browser.Sees("is open.", ".done");
        browser.Choose("#moves", "true");
        browser.Click("form:has(#moves) button");
        browser.Sees("is posted on the first open day", ".done");
        browser.Choose("#moves", "false");
        browser.Click("form:has(#moves) button");
        browser.Sees("is held", ".done");
    }

    [Fact]
    public async Task What_is_open_in_other_currencies_is_revalued_after_it_was_seen_and_taken_back_on_the_next_day()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rates");
        browser.Open("/qn/revaluation?on=2026-10-31");
        browser.Sees("There is no rate of", ".fault");
        Assert.Null(await The<Storage.Rates.RateStore>().Set((await The<CompanyStore>().Find("QN", default))!.Id, 1, [new("USD", new(2026, 10, 31), 0.93m), new("NOK", new(2026, 10, 31), 0.0861m)], true, default));
        browser.Open("/qn/revaluation?on=2026-10-31");
        browser.Sees("unrealised", "#written");
        browser.Click(".head .do button");
        browser.Sees("Revalued on 2026-10-31, and taken back on 2026-11-01", ".done");
        browser.Open("/qn/revaluation?on=2026-10-31");
        browser.Sees("Everything stands at the rates of the day");
    }

    [Fact]
    public void The_books_prove_themselves()
    {
        browser.SignIn("vera");
        browser.Open("/qn/proof");
        browser.Click(".head .do button");
        browser.Sees("Nothing is wrong.", "#proved");
        Assert.Equal(6, browser.All("#steps td.s").Count);
    }

    [Fact]
    public void Reports_lead_from_the_trial_balance_to_the_entry_and_the_balance_sheet_comes_to_the_same_on_both_sides()
    {
        browser.SignIn("vera");
        browser.Open("/qn/trial-balance");
        browser.Choose("#beside", "year-before");
        browser.Type("main [name=q]", "suspense" + Keys.Enter);
        browser.Sees("Difference", "#trial");
        browser.Click("#trial tbody a");
        browser.Sees("1999 Suspense", "h1");
        browser.Sees("Balance before", "#lines");
        browser.Click("#lines tbody a");
        browser.Until(() => browser.Path.StartsWith("/qn/journal/", StringComparison.Ordinal), "the entry");

        browser.Open("/qn/balance-sheet");
        var sums = browser.All("#statement tr.sum td.num").Select(c => c.Text).ToList();
        Assert.Equal(sums[^2], sums[^1]);
        browser.Open("/qn/income-statement");
        browser.Sees("Gross profit", "#statement");
        browser.Open("/qn/document-trail");
        browser.Type("#document", Planted("invoiced-in-march-shipped-in-april")[0].Event + Keys.Enter);
        browser.Sees("Shipment", "#chain");
    }

    [Fact]
    public void The_desk_tells_what_waits_and_what_others_changed_since()
    {
        browser.SignIn("vera");
        browser.Open("/qn/desk");
        browser.Sees("Receivables", "#gauges");
        browser.Sees("reached suspense", "#others");
        browser.Click("#others a[href*='map']");
        browser.Sees("on suspense with");
    }
}
