using System.Net;
using AngleSharp.Html.Dom;
using OtpNet;

namespace Assignum.Web.Tests;

/// <summary>What people sign in with: sessions, passwords, links, second factors, and what an administrator may not do.</summary>
public sealed class PeopleSafetyTests(App app) : IClassFixture<App>
{
    const string Fresh = "seven moles under a plum";

    static async Task<Visitor> SignIn(Visitor visitor, string name, string password)
    {
        await visitor.Get("/sign-in");
        return await visitor.Submit("#first", ("name", name), ("password", password));
    }

    async Task<(Visitor Adam, Visitor Person)> Hired(string name, string role = "preparer")
    {
        var adam = await (await Visitor.SignedIn(app, "adam")).Get("/qn/people");
        await adam.Submit("form[action*=Add]", ("name", name), ("shownAs", name.ToUpperInvariant()), ("password", Fresh), ("role", role));
        Assert.Equal(HttpStatusCode.Redirect, adam.Last.StatusCode);
        return (adam, await SignIn(new Visitor(app), name, Fresh));
    }

    [Fact]
    public async Task Sign_ins_failures_lock_outs_refusals_and_grants_are_security_events_without_what_was_typed()
    {
        var (adam, _) = await Hired("watched", "viewer");
        var stranger = new Visitor(app);
        for (var i = 0; i < 6; i++)
            await SignIn(stranger, "watched", "a wrong one, typed");
        await (await Visitor.SignedIn(app, "vera")).Get("/qn/people");
        await (await adam.Get("/qn/people")).Submit("form[action*=Grant]", ("person", "watched"), ("role", "preparer"));

        var events = app.Logged.Where(e => e.Properties.ContainsKey("SecurityEvent")).ToList();
        Assert.Superset(new HashSet<string> { "signed-in", "sign-in-failed", "locked-out", "refused", "people" },
            events.Select(e => e.Properties["SecurityEvent"].ToString().Trim('"')).ToHashSet());
        Assert.All(events, e => Assert.True(e.Properties.ContainsKey("Address") && e.Properties.ContainsKey("Path")));
        Assert.All(app.Logged, e => Assert.DoesNotContain("typed", e.RenderMessage(System.Globalization.CultureInfo.InvariantCulture),
            StringComparison.Ordinal));
    }

    [Fact]
    public async Task Signing_out_ends_the_session_on_the_server_and_what_the_browser_keeps()
    {
        var (_, one) = await Hired("out");
        var kept = one.Cookies;
        Assert.Equal(HttpStatusCode.OK, (await one.Get("/qn/chart")).Last.StatusCode);
        await one.Submit("form.who");
        Assert.Equal("\"storage\"", one.Last.Headers.GetValues("Clear-Site-Data").Single());

        // A cookie that somebody kept opens nothing any more.
        one.Cookies = kept;
        Assert.Equal(HttpStatusCode.Redirect, (await one.Get("/qn/chart")).Last.StatusCode);
    }

    [Fact]
    public async Task Sessions_are_seen_and_ended_and_a_changed_password_ends_the_others()
    {
        var (_, one) = await Hired("sees");
        var two = await SignIn(new Visitor(app), "sees", Fresh);
        var three = await SignIn(new Visitor(app), "sees", Fresh);

        await one.Get("/you");
        Assert.Equal(3, one.Page.QuerySelectorAll("table tbody tr").Length);
        await one.Submit("form[action*=End]");
        Assert.Single(new[] { (await two.Get("/qn/chart")).Last.StatusCode, (await three.Get("/qn/chart")).Last.StatusCode }, s => s == HttpStatusCode.OK);

        await one.Get("/you");
        await one.Submit("#password-form", ("now", "wrong"), ("then", Fresh + "!"), ("again", Fresh + "!"));
        Assert.Contains("This is not your password", one.Text, StringComparison.Ordinal);
        await one.Submit("#password-form", ("now", Fresh), ("then", "short"), ("again", "short"));
        Assert.Contains("at least 12 characters", one.Text, StringComparison.Ordinal);
        await one.Submit("#password-form", ("now", Fresh), ("then", Fresh + "!"), ("again", Fresh + "!"));
        Assert.Equal(HttpStatusCode.Redirect, one.Last.StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await one.Get("/qn/chart")).Last.StatusCode);
        Assert.All(new[] { await two.Get("/qn/chart"), await three.Get("/qn/chart") }, v => Assert.Equal(HttpStatusCode.Redirect, v.Last.StatusCode));
    }

    [Fact]
    public async Task A_link_sets_a_password_once_and_a_disabled_person_signs_in_no_more()
    {
        var (adam, person) = await Hired("linked");
        await adam.Get("/qn/people");
        await PressFor(adam, "linked", "Link");
        var link = new Uri(adam.Page.QuerySelector("#link")!.TextContent).AbsolutePath;
        var guest = await new Visitor(app).Get(link);
        await guest.Submit("form", ("then", "another plum tree"), ("again", "another plum tree"));
        Assert.Equal("/sign-in", guest.Last.Headers.Location!.OriginalString);
        Assert.Contains("leads nowhere", (await guest.Get(link)).Text, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await person.Get("/qn/chart")).Last.StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await SignIn(person, "linked", "another plum tree")).Last.StatusCode);

        await adam.Get("/qn/people");
        await PressFor(adam, "linked", "Disable");
        Assert.Equal(HttpStatusCode.Redirect, (await person.Get("/qn/chart")).Last.StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await SignIn(person, "linked", "another plum tree")).Last.StatusCode);
        Assert.Contains("LINKED can sign in no more", (await adam.Get("/qn/companies")).Text, StringComparison.Ordinal);
    }

    static async Task PressFor(Visitor adam, string name, string handler)
    {
        var row = adam.Page.QuerySelectorAll("#signing-in tbody tr").Single(r => r.Children[1].TextContent == name);
        var button = row.QuerySelectorAll("button").OfType<IHtmlButtonElement>().First(b =>
            b.GetAttribute("formaction")!.Contains("handler=" + handler, StringComparison.OrdinalIgnoreCase));
        button.Id = "pressed";
        await adam.Press("#pressed");
    }

    [Fact]
    public async Task A_second_factor_is_asked_for_and_no_code_works_twice()
    {
        var (_, person) = await Hired("coded");
        await person.Get("/you");
        await person.Submit("#offer-form");
        var totp = new Totp(Base32Encoding.ToBytes(person.Page.QuerySelector("#secret")!.TextContent));
        await person.Submit("#take-form", ("code", "000000"), ("now", Fresh));
        Assert.Contains("The code does not fit", person.Text, StringComparison.Ordinal);
        var code = totp.ComputeTotp();
        await person.Submit("#take-form", ("code", code), ("now", Fresh));
        Assert.Equal(HttpStatusCode.Redirect, person.Last.StatusCode);

        var again = await SignIn(new Visitor(app), "coded", Fresh);
        Assert.NotNull(again.Page.QuerySelector("#second"));
        await again.Submit("#second", ("code", code));
        Assert.Contains("each works once", again.Text, StringComparison.Ordinal);
        await again.Submit("#second", ("code", totp.ComputeTotp(DateTime.UtcNow.AddSeconds(30))));
        Assert.Equal(HttpStatusCode.OK, (await again.Get("/qn/chart")).Last.StatusCode);
    }

    [Fact]
    public async Task Where_a_second_factor_is_demanded_an_approver_without_one_does_not_release()
    {
        var (adam, approver) = await Hired("approves", "approver");
        await Factor("true");
        Assert.Null((await approver.Get("/qn/editions")).Page.QuerySelector("#release"));
        Assert.Contains("wants a second factor", (await approver.Get("/you")).Text, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Forbidden, (await (await approver.Get("/qn/chart")).Post("/qn/editions", ("draft", "3"), ("stamp", "0"))).StatusCode);
        await Factor("");

        async Task Factor(string wanted)
        {
            await adam.Get("/qn/companies");
            await adam.Submit("form[action*=Factor]", ("wanted", wanted.Length == 0 ? null : wanted));
        }
    }

    [Fact]
    public async Task Nobody_grants_themselves_a_role_that_posts_or_releases_and_others_companies_people_are_not_seen()
    {
        var adam = await (await Visitor.SignedIn(app, "adam")).Get("/qn/people");
        foreach (var role in new[] { "preparer", "approver" })
        {
            await adam.Submit("form[action*=Grant]", ("person", "adam"), ("role", role));
            Assert.Contains("Nobody grants themselves", adam.Text, StringComparison.Ordinal);
        }

        await adam.Get("/qn/companies");
        await adam.Submit("form[action*=Open]", ("code", "QALONE"), ("name", "Alone"), ("currency", "EUR"), ("starts", "2026-01-01"));
        await adam.Get("/qalone/people");
        await adam.Submit("form[action*=Add]", ("name", "alone"), ("shownAs", "Alone"), ("password", Fresh), ("role", "administrator"));
        var alone = await SignIn(new Visitor(app), "alone", Fresh);
        await alone.Get("/qalone/people");
        Assert.DoesNotContain("vera", alone.Text, StringComparison.OrdinalIgnoreCase);
        // Somebody who also works elsewhere signs in there with the same password: that is not hers to reset.
        Assert.Equal(HttpStatusCode.BadRequest, (await alone.Post("/qalone/people?handler=link", ("person", "1"))).StatusCode);
    }

    [Fact]
    public async Task Names_that_exist_and_names_that_don_t_are_answered_alike_at_every_step()
    {
        await Hired("alike");
        var (known, unknown) = (new Visitor(app), new Visitor(app));
        for (var i = 0; i < 7; i++)
        {
            await SignIn(known, "alike", "wrong");
            await SignIn(unknown, "alike-not", "wrong");
            Assert.Equal(known.Page.QuerySelector(".fault")!.TextContent, unknown.Page.QuerySelector(".fault")!.TextContent);
            Assert.Equal(known.Last.StatusCode, unknown.Last.StatusCode);
        }
        Assert.Contains("has to wait here for 1 min", known.Text, StringComparison.Ordinal);
    }
}
