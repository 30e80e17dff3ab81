using Assignum.Storage.Companies;

namespace Assignum.Storage.Tests;

/// <summary>A practice company is a copy of another's set-up, and stays apart from it.</summary>
public sealed class PracticeTests(Nursery nursery) : IClassFixture<Nursery>
{
    [Fact]
    public async Task It_has_years_people_and_rates_is_the_only_one_and_is_put_away_with_its_code_free_again()
    {
        var practices = new PracticeStore(nursery.Source);
        var company = (await nursery.Companies.Find(nursery.Company, default))!;
        await nursery.People.Grant(nursery.Company, nursery.User, People.Role.Preparer, null, default);
        await nursery.Ask<int>($"insert into exchange_rate (company_id, currency, day, rate) values ({company.Id}, 'USD', '2026-01-02', 0.9) returning 1");

        var practice = await practices.Open(company, nursery.User, default);

        Assert.Equal(practice, await practices.Of(company.Id, default));
        Assert.Equal(("QN-PRACTICE", company.Id), (practice.Code, practice.PracticeOf));
        Assert.Equal("1 1 1", await nursery.Ask<string>($"select (select count(*) from fiscal_year where company_id = {practice.Id}) || ' ' || (select count(*) from exchange_rate where company_id = {practice.Id}) || ' ' || (select count(*) from user_role where company_id = {practice.Id})"));
        var again = await practices.Open(company, nursery.User, default);
        Assert.NotEqual(practice.Id, again.Id);
        Assert.Equal(again.Id, (await nursery.Companies.Find("qn-practice", default))!.Id);
        Assert.True(await practices.PutAway(again, nursery.User, default));
        Assert.False(await practices.PutAway(again, nursery.User, default));
        Assert.Null(await nursery.Companies.Find("QN-PRACTICE", default));
        // A real company is never put away.
        Assert.False(await practices.PutAway(company, nursery.User, default));
        Assert.False(await nursery.Ask<bool>($"select put_practice_away({company.Id})"));
    }
}
