using System.Net;

namespace Assignum.Web.Tests;

/// <summary>What a password may be: long, of any characters, and taken as it was typed.</summary>
public sealed class PasswordTests(App app) : IClassFixture<App>
{
    const string Fresh = "seven moles under a plum";

    async Task<Visitor> Hired(string name)
    {
        var adam = await (await Visitor.SignedIn(app, "adam")).Get("/qn/people");
        await adam.Submit("form[action*=Add]", ("name", name), ("shownAs", ""), ("password", Fresh), ("role", "viewer"));
        return await SignIn(name, Fresh);
    }

    async Task<Visitor> SignIn(string name, string password)
    {
        var visitor = await new Visitor(app).Get("/sign-in");
        return await visitor.Submit("#first", ("name", name), ("password", password));
    }

    [Theory]
    [InlineData("letters only and not one digit")]
    [InlineData("  spaces before, within and after  ")]
    [InlineData("Straße ünder пять 五つの種 🌱")]
    [InlineData("one hundred and twenty-eight characters, which is the most that is taken, and every single one of them counts at sign-in: abcdef")]
    public async Task Any_characters_up_to_128_are_taken_as_typed_and_nothing_is_cut(string password)
    {
        var name = "p" + password.Length;
        var person = await Hired(name);
        await person.Get("/you");
        await person.Submit("#password-form", ("now", Fresh), ("then", password), ("again", password));

        Assert.Equal(HttpStatusCode.Redirect, (await SignIn(name, password)).Last.StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await SignIn(name, password[..^1])).Last.StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await SignIn(name, password.ToUpperInvariant() + "x")).Last.StatusCode);
    }

    [Theory]
    [InlineData("eleven char", "at least 12 characters")]
    [InlineData("refuser of passwords", "contains the name")]
    [InlineData("password123!", "everybody tries first")]
    [InlineData("aaaaaaaaaaaaaaa", "repeats a few characters")]
    public async Task What_is_guessed_first_is_refused_with_what_to_do(string password, string why)
    {
        var name = "refuser";
        var person = await (await Visitor.SignedIn(app, "adam")).Get("/qn/people");
        await person.Submit("form[action*=Add]", ("name", name), ("shownAs", ""), ("password", password), ("role", "viewer"));

        Assert.Contains(why, person.Text, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.BadRequest, (await SignIn(name, password)).Last.StatusCode);
    }

    [Fact]
    public async Task A_password_of_129_characters_is_refused_and_the_old_one_stays()
    {
        var person = await Hired("longer");
        await person.Get("/you");
        var much = string.Concat(Enumerable.Repeat("plum tree ", 13))[..129];
        await person.Submit("#password-form", ("now", Fresh), ("then", much), ("again", much));

        Assert.Contains("At most 128 are taken", person.Text, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await SignIn("longer", Fresh)).Last.StatusCode);
    }
}
