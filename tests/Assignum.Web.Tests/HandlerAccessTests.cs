using System.Net;
using System.Reflection;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.Extensions.DependencyInjection;

namespace Assignum.Web.Tests;

/// <summary>Every handler of every page, as the code lists them, asked for by every role and under every spelling of its name.</summary>
public sealed class HandlerAccessTests(App app) : IClassFixture<App>
{
    static readonly Dictionary<string, Need[]> May = new()
    {
        ["nobody"] = [Need.Nothing],
        ["vera"] = [Need.Nothing, Need.SignedIn, Need.Reads, Need.ReadsOrAdministers],
        ["ines"] = [Need.Nothing, Need.SignedIn, Need.Reads, Need.Prepares, Need.ReadsOrAdministers, Need.PreparesOrAdministers],
        ["tomas"] = [Need.Nothing, Need.SignedIn, Need.Reads, Need.Prepares, Need.Approves, Need.ReadsOrAdministers, Need.PreparesOrAdministers],
        ["adam"] = [Need.Nothing, Need.SignedIn, Need.Administers, Need.ReadsOrAdministers, Need.PreparesOrAdministers],
    };

    IReadOnlyList<PageHandler> Handlers() => PageHandler.All(app.Services);

    static bool Public(Need need) => need == Need.Nothing;

    [Fact]
    public void Every_handler_says_itself_what_it_needs()
    {
        var silent = typeof(NeedsAttribute).Assembly.GetTypes().Where(t => t.IsSubclassOf(typeof(PageModel)) && !t.IsAbstract)
            .SelectMany(t => t.GetMethods(BindingFlags.Public | BindingFlags.Instance)).Where(m => m.Name.StartsWith("OnGet", StringComparison.Ordinal)
                || m.Name.StartsWith("OnPost", StringComparison.Ordinal))
            .Where(m => m.GetCustomAttribute<NeedsAttribute>() is null).Select(m => m.DeclaringType + "." + m.Name);

        Assert.Empty(silent);
        Assert.True(Handlers().Count > 90);
    }

    [Fact]
    public void Who_acts_how_it_came_and_when_are_never_taken_from_what_was_sent() =>
        Assert.DoesNotContain(Handlers().SelectMany(h => h.Fields), field =>
            field.Split('.')[^1].ToUpperInvariant() is "USER" or "USERID" or "BY" or "SOURCE" or "AT" or "TIME" or "EDITION_BY" or "COMPANYID" or "ID"
            && field is not ("Id" or "id"));

    [Fact]
    public void Only_signing_in_and_what_went_wrong_need_nothing() =>
        Assert.Equal(["/error GET", "/error POST", "/new-password/x GET", "/new-password/x POST", "/sign-in GET", "/sign-in POST"],
            Handlers().Where(h => Public(h.Need)).Select(h => $"{h.Address} {h.Verb}").Distinct().Order(StringComparer.OrdinalIgnoreCase),
            StringComparer.OrdinalIgnoreCase);

    [Theory]
    [InlineData("nobody")]
    [InlineData("vera")]
    [InlineData("ines")]
    [InlineData("tomas")]
    [InlineData("adam")]
    public async Task A_role_reaches_what_is_its_own_and_nothing_else(string name)
    {
        var visitor = await Caller(name);
        foreach (var handler in Handlers().Where(h => !Public(h.Need) && !h.Address.Contains("sign-out", StringComparison.OrdinalIgnoreCase)))
        {
            var allowed = May[name].Contains(handler.Need);
            // A look that is allowed is taken; of an act that is allowed others tests tell.
            if (allowed && handler.Verb == "Post")
                continue;
            var status = handler.Verb == "Post" ? (await visitor.Post(handler.At(handler.Name))).StatusCode
                : (await visitor.GetBare(handler.At(handler.Name))).StatusCode;
            if (allowed)
                Assert.True(status is not (HttpStatusCode.Forbidden or HttpStatusCode.InternalServerError), $"{name} may {handler} and got {status}.");
            else
                Assert.True(status == (name == "nobody" ? HttpStatusCode.Redirect : HttpStatusCode.Forbidden), $"{name} may not {handler} and got {status}.");
        }
    }

    /// <summary>Spellings that some comparison of names somewhere might take for the same.</summary>
    static IEnumerable<string> Spellings(string name)
    {
        yield return name.ToUpperInvariant();
        yield return name.ToLowerInvariant();
        // Letters that lower or upper case turns into plain ones: the Kelvin sign, the long s, the dotless and the dotted i.
        yield return Uri.EscapeDataString(name.Replace('k', '\u212a').Replace('K', '\u212a'));
        yield return Uri.EscapeDataString(name.Replace('s', '\u017f').Replace('S', '\u017f'));
        yield return Uri.EscapeDataString(name.Replace('i', '\u0131').Replace('I', '\u0130'));
        yield return string.Concat(name.Select(c => $"%{(int)c:X2}"));
        yield return name + "&handler=undo";
        yield return "undo&handler=" + name;
        yield return name + "%00";
        yield return "%20" + name;
        yield return "On" + name;
        yield return name + "Async";
    }

    [Theory]
    [InlineData("vera")]
    [InlineData("ines")]
    [InlineData("adam")]
    public async Task No_spelling_of_a_name_opens_an_act_that_is_not_ones_own(string name)
    {
        var visitor = await Caller(name);
        var before = await Rulebook();
        foreach (var handler in Handlers().Where(h => h.Verb == "Post" && !Public(h.Need) && !May[name].Contains(h.Need) && h.Name.Length > 0))
            foreach (var spelling in Spellings(handler.Name))
            {
                var status = (await visitor.Post(handler.At(spelling))).StatusCode;
                // Twice the same key: the framework takes one of the two, and what it takes is asked for its own need.
                Assert.True(status is HttpStatusCode.Forbidden or HttpStatusCode.NotFound or HttpStatusCode.BadRequest,
                    $"{name} asked for {handler.At(spelling)} and got {status}.");
            }
        Assert.Equal(before, await Rulebook());
    }

    [Fact]
    public async Task A_preparer_can_t_release_by_a_name_in_odd_letters()
    {
        var ines = await Caller("ines");
        // "back" with the Kelvin sign once passed the check as "back" and ran the release.
        foreach (var odd in new[] { "bac%E2%84%AA", "BAC%E2%84%AA", "look%00", "undo%E2%80%8B" })
        {
            var answer = await ines.Post("/qn/editions?handler=" + odd, ("draft", "3"), ("stamp", "4"));
            Assert.True(answer.StatusCode is HttpStatusCode.Forbidden or HttpStatusCode.NotFound or HttpStatusCode.BadRequest, $"{odd}: {answer.StatusCode}");
        }
        Assert.StartsWith("2 ", await Rulebook(), StringComparison.Ordinal);
    }

    async Task<string> Rulebook()
    {
        var store = app.Services.GetRequiredService<Storage.Settings.RulebookStore>();
        var company = (await app.Services.GetRequiredService<Storage.Companies.CompanyStore>().Find("QN", default))!;
        var state = await store.StateOf(company.Id, default);
        return $"{state.Edition} {state.Draft} {state.InDraft} {state.AtOnce}";
    }

    // Whoever asks has a page with its token, so that nothing but the role bars the way.
    async Task<Visitor> Caller(string name)
    {
        if (name == "nobody")
            return await new Visitor(app).Get("/sign-in");
        var visitor = await Visitor.SignedIn(app, name);
        return await visitor.Get(name == "adam" ? "/qn/people" : "/qn/chart");
    }
}
