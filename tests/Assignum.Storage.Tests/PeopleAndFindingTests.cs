using Assignum.Storage.Finding;
using Assignum.Storage.People;
using Assignum.Storage.Uploads;

namespace Assignum.Storage.Tests;

public sealed class PersonStoreTests(Nursery nursery) : IClassFixture<Nursery>
{
    [Fact]
    public async Task A_text_the_database_does_not_take_spoils_no_connection_for_whoever_comes_next()
    {
        var find = new Finding.FindStore(nursery.Source);
        for (var i = 0; i < 20; i++)
        {
            await Assert.ThrowsAsync<UnkeepableTextException>(() => find.Find(nursery.Company, "see\0d", 5, default));
            Assert.NotEmpty(await find.Find(nursery.Company, "seed", 5, default));
        }
    }

    [Fact]
    public async Task A_connection_on_which_anything_went_wrong_is_not_given_back()
    {
        await using var one = Database.Open(nursery.Owner + ";Maximum Pool Size=1");
        Task<int> Backend() => one.Command("select pg_backend_pid()").Value<int>(default);
        var first = await Backend();
        Assert.Equal(first, await Backend());
        await Assert.ThrowsAsync<Npgsql.PostgresException>(() => one.Command("select 1 / $1", 0).Value<int>(default));

        Assert.NotEqual(first, await Backend());
    }

    [Fact]
    public async Task A_session_ends_when_somebody_ends_it_with_its_time_and_with_the_person()
    {
        var id = await nursery.People.Add("sessions", "Ses", "hash", default);
        async Task<bool> Runs(Guid session) => await nursery.Sessions.Holder(session, id, default) is not null;
        var (one, two, three) = (await nursery.Sessions.Begin(id, "a", "b", false, default), await nursery.Sessions.Begin(id, "a", "b", true, default),
            await nursery.Sessions.Begin(id, "a", "b", false, default));
        Assert.True((await nursery.Sessions.Holder(two, id, default))!.SecondFactor);
        Assert.Null(await nursery.Sessions.Holder(one, nursery.User, default));
        Assert.Equal(3, (await nursery.Sessions.Running(id, default)).Count);

        await nursery.Sessions.End(one, nursery.User, default);
        Assert.True(await Runs(one));
        await nursery.Sessions.End(one, id, default);
        Assert.False(await Runs(one));

        await using (var owner = Npgsql.NpgsqlDataSource.Create(nursery.Owner))
        await using (var late = owner.CreateCommand($"update user_session set ends_at = now() where id = '{two}'"))
            await late.ExecuteNonQueryAsync();
        Assert.False(await Runs(two));

        await nursery.People.Disable(nursery.Company, nursery.User, id, true, default);
        Assert.False(await Runs(three));
        Assert.Contains("Ses can sign in no more.", await nursery.Ask<string>("select string_agg(sentence, ' ') from change_log where subject = 'person'"),
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_link_sets_a_password_once_and_ends_every_session()
    {
        var id = await nursery.People.Add("linked", "Lin", "hash", default);
        var session = await nursery.Sessions.Begin(id, "a", "b", false, default);
        byte[] hash = [1, 2, 3];
        await nursery.People.MakeLink(nursery.Company, nursery.User, id, hash, TimeSpan.FromHours(1), default);
        Assert.Equal(id, (await nursery.People.OfLink(hash, default))!.Id);

        Assert.True(await nursery.People.UseLink(hash, "another", default));
        Assert.False(await nursery.People.UseLink(hash, "third", default));
        Assert.Null(await nursery.People.OfLink(hash, default));
        Assert.Equal("another", (await nursery.People.Find("linked", default))!.PasswordHash);
        Assert.Null(await nursery.Sessions.Holder(session, id, default));
    }

    [Fact]
    public async Task A_code_works_once_and_an_approver_without_one_only_prepares_where_it_is_demanded()
    {
        var id = await nursery.People.Add("coded", "Cod", "hash", default);
        await nursery.People.Grant(nursery.Company, id, Role.Approver, nursery.User, default);
        Assert.True(await nursery.People.UseStep(id, 100, default));
        Assert.False(await nursery.People.UseStep(id, 100, default));
        Assert.False(await nursery.People.UseStep(id, 99, default));

        await nursery.Companies.SetSecondFactor(nursery.Company, nursery.User, true, default);
        Assert.Equal([("QN", Role.Preparer)], await nursery.People.RolesOf(id, false, default));
        Assert.Equal([("QN", Role.Approver)], await nursery.People.RolesOf(id, true, default));
        await nursery.Companies.SetSecondFactor(nursery.Company, nursery.User, false, default);
    }

    [Fact]
    public async Task Names_compare_by_their_fold_and_roles_are_granted_by_company()
    {
        var id = await nursery.People.Add("Tomas", "Tomas", "hash", default);
        await nursery.People.Grant(nursery.Company, id, Role.Approver, nursery.User, default);
        await nursery.People.Grant(nursery.Company, id, Role.Approver, nursery.User, default);

        Assert.Equal(id, (await nursery.People.Find(" TOMAS ", default))!.Id);
        Assert.Equal([("QN", Role.Approver)], await nursery.People.RolesOf(id, false, default));

        var grant = (await nursery.People.Grants(nursery.Company, default)).Single(g => g.Person == "Tomas");
        Assert.True(await nursery.People.EndGrant(nursery.Company, grant.Id, nursery.User, default));
        Assert.Empty(await nursery.People.RolesOf(id, false, default));
        Assert.Equal("Ines", (await nursery.People.Grants(nursery.Company, default)).Single(g => g.Person == "Tomas").EndedBy);
    }

    [Fact]
    public async Task Five_failures_in_a_row_make_a_name_wait_at_that_address_and_nowhere_else()
    {
        async Task<bool> Waits(string name, string address) => await nursery.Sessions.LockedUntil(name, address, default) is not null;
        for (var i = 1; i < SessionStore.MostFailures; i++)
            Assert.False(await nursery.Sessions.NoteFailure("Vera", "10.0.0.1", default));
        Assert.True(await nursery.Sessions.NoteFailure(" vera ", "10.0.0.1", default));

        Assert.True(await Waits("VERA", "10.0.0.1"));
        // A colleague at another address never notices that somebody guesses at her name.
        Assert.False(await Waits("vera", "10.0.0.2"));
        // Names that do not exist wait just the same.
        for (var i = 0; i < SessionStore.MostFailures; i++)
            await nursery.Sessions.NoteFailure("nobody", "10.0.0.1", default);
        Assert.True(await Waits("nobody", "10.0.0.1"));

        await nursery.Sessions.Forget("vera", null, default);
        Assert.False(await Waits("vera", "10.0.0.1"));
    }
}

public sealed class FindStoreTests(Nursery nursery) : IClassFixture<Nursery>
{
    Task<List<Found>> Find(string text) => new FindStore(nursery.Source).Find(nursery.Company, text, 10, default);

    [Theory]
    [InlineData("4010", "4010")]
    [InlineData("of SEEDS", "4010")]
    [InlineData("seed-01", "SEED-01")]
    [InlineData("larkf", "C-10")]
    [InlineData("gärtnerei", "C-70")]
    public async Task Any_part_of_number_or_name_finds_in_any_case(string text, string code) => Assert.Contains(await Find(text), f => f.Code == code);

    [Fact]
    public async Task An_exact_code_comes_first_and_no_kind_crowds_out_the_others()
    {
        Assert.Equal("POTS", (await Find("pots"))[0].Code);
        var found = await Find("seed");
        Assert.Contains(found, f => f.Code == "4010");
        Assert.Equal(5, found.Count(f => f.Kind == "item"));
    }

    [Theory]
    [InlineData("%")]
    [InlineData("_")]
    [InlineData("\\")]
    public async Task Signs_of_patterns_are_only_signs(string text) => Assert.All(await Find(text), f => Assert.Contains(text, f.Code + f.Name, StringComparison.Ordinal));

    [Fact]
    public async Task A_file_waits_for_the_one_who_uploaded_it_and_nobody_else()
    {
        var uploads = new UploadStore(nursery.Source);
        var other = await nursery.People.Add("other", "Other", "hash", default);
        var id = await uploads.Keep(nursery.Company, nursery.User, "../secret/cha\u0000rt.csv", new MemoryStream([1, 2, 3]), default);

        Assert.Equal("chart.csv", (await uploads.Find(nursery.Company, nursery.User, id, default))!.Name);
        Assert.Equal([1, 2, 3], await uploads.Content(nursery.Company, id, default));
        Assert.Null(await uploads.Find(nursery.Company, other, id, default));
        await uploads.Forget(nursery.Company, id, default);
        Assert.Null(await uploads.Find(nursery.Company, nursery.User, id, default));
    }
}
