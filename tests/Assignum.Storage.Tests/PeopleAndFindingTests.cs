using Assignum.Storage.Finding;
using Assignum.Storage.People;
using Assignum.Storage.Uploads;

namespace Assignum.Storage.Tests;

public sealed class PersonStoreTests(Nursery nursery) : IClassFixture<Nursery>
{
    [Fact]
    public async Task Names_compare_by_their_fold_and_roles_are_granted_by_company()
    {
        var id = await nursery.People.Add("Tomas", "Tomas", "hash", default);
        await nursery.People.Grant(nursery.Company, id, Role.Approver, nursery.User, default);
        await nursery.People.Grant(nursery.Company, id, Role.Approver, nursery.User, default);

        Assert.Equal(id, (await nursery.People.Find(" TOMAS ", default))!.Id);
        Assert.Equal([("QN", Role.Approver)], await nursery.People.RolesOf(id, default));

        var grant = (await nursery.People.Grants(nursery.Company, default)).Single(g => g.Person == "Tomas");
        Assert.True(await nursery.People.EndGrant(nursery.Company, grant.Id, nursery.User, default));
        Assert.Empty(await nursery.People.RolesOf(id, default));
        Assert.Equal("Ines", (await nursery.People.Grants(nursery.Company, default)).Single(g => g.Person == "Tomas").EndedBy);
    }

    [Fact]
    public async Task Five_failures_in_a_row_lock_a_name_for_a_while()
    {
        var id = await nursery.People.Add("vera", "Vera", "hash", default);
        for (var i = 0; i < PersonStore.MostFailures; i++)
        {
            Assert.Null((await nursery.People.Find("vera", default))!.LockedUntil);
            await nursery.People.NoteFailure(id, default);
        }
        Assert.True((await nursery.People.Find("vera", default))!.LockedUntil > DateTime.UtcNow);

        await nursery.People.ForgetFailures(id, default);
        Assert.Null((await nursery.People.Find("vera", default))!.LockedUntil);
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
        var found = await Find("sap");
        Assert.Contains(found, f => f.Code == "4020");
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
