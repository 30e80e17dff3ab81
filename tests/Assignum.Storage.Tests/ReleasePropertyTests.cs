using Assignum.Core.Changes;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Rulebooks;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Tests;

/// <summary>Drafts of chance: releasing some and then the rest, taking back in any order, and bringing back come to what they must.</summary>
public sealed class ReleasePropertyTests(Nursery nursery) : IClassFixture<Nursery>
{
    static readonly DateOnly Day = new(2026, 3, 14);
    static readonly string[] Groups = ["SEEDS", "SAPLINGS", "POTS", "TOOLS"], Parties = ["RETAIL", "TRADE", "COUNCIL", "EXPORT"], Accounts = ["4010", "4015", "4020", "4030"], Items = ["SEED-01", "SEED-02", "POT-12"];
    static int companies;

    [Theory]
    [InlineData(1), InlineData(2), InlineData(3), InlineData(4)]
    public async Task Some_and_then_the_rest_come_to_what_all_at_once_comes_to(int seed)
    {
        var (parts, whole) = (await Company(), await Company());
        foreach (var company in new[] { parts, whole })
            await Change(company, new Random(seed), 14);
        Assert.Null(await nursery.Release(whole));

        var chance = new Random(seed + 100);
        for (var step = 0; step < 30 && await Places(parts) is { Count: > 0 } places; step++)
        {
            List<string> chosen = [.. places.Where(_ => chance.Next(3) == 0)];
            if (chosen.Count == 0)
                chosen = [places[chance.Next(places.Count)]];
            Assert.Null(await nursery.Editions.Release(parts, nursery.User, await nursery.Rulebooks.StateOf(parts, default), "", default, chosen));
            // What was chosen is in force, and waits no longer.
            Assert.Empty((await Places(parts)).Intersect(chosen));
        }
        Assert.Empty(await Places(parts));
        Assert.Equal(await Written(whole, null), await Written(parts, null));
    }

    [Theory]
    [InlineData(11), InlineData(12), InlineData(13)]
    public async Task Taken_back_one_by_one_in_any_order_the_draft_is_the_edition_in_force(int seed)
    {
        var company = await Company();
        var before = await Written(company, null);
        var chance = new Random(seed);
        await Change(company, chance, 14);
        for (var step = 0; step < 200 && await Places(company) is { Count: > 0 } places; step++)
        {
            var place = places[chance.Next(places.Count)];
            var refused = await nursery.Drafts.Undo(company, nursery.User, [place], default);
            // One that another change needs waits until that one is gone.
            if (refused is not null)
                Assert.Contains("can't be taken back alone", refused.Message, StringComparison.Ordinal);
            else
                Assert.DoesNotContain(place, await Places(company));
        }
        Assert.Empty(await Places(company));
        Assert.Equal(before, await Written(company, (await nursery.Rulebooks.StateOf(company, default)).Draft));
    }

    [Theory]
    [InlineData(21), InlineData(22)]
    public async Task An_edition_that_is_brought_back_says_again_what_it_said(int seed)
    {
        var company = await Company();
        var chance = new Random(seed);
        await Change(company, chance, 8);
        Assert.Null(await nursery.Release(company));
        var edition = (await nursery.Rulebooks.StateOf(company, default)).Edition;
        var said = await Written(company, edition);
        // A group that has come since stays: it may have members of its own by then.
        await Change(company, chance, 8, groups: false);
        Assert.Null(await nursery.Release(company));

        Assert.Null(await nursery.Drafts.BringBack(company, nursery.User, edition, default));
        Assert.Equal(said, await Written(company, (await nursery.Rulebooks.StateOf(company, default)).Draft));
        Assert.Equal(said, await Written(company, edition));
    }

    Task<int> Company() => nursery.OpenCompany("REL" + Interlocked.Increment(ref companies));

    // Rules of cells, moved items, new groups with rules, tax codes where groups meet.
    async Task Change(int company, Random chance, int many, bool groups = true)
    {
        for (var i = 0; i < many; i++)
        {
            var draft = (await nursery.Rulebooks.Load(company, (await nursery.Rulebooks.StateOf(company, default)).Draft, default)).Book;
            switch (chance.Next(5))
            {
                case 0 when groups:
                    var code = "NEW" + chance.Next(1000);
                    if (draft.ItemGroups.All(g => g.Code != code))
                        Assert.Null(await nursery.Groups.AddGroup(company, nursery.User, "item", new Group(code, "New", "REDUCED"), default));
                    break;
                case 1:
                    Assert.Null(await nursery.Groups.Move(company, nursery.User, "item", [Items[chance.Next(Items.Length)]], draft.ItemGroups[chance.Next(draft.ItemGroups.Count)].Code, default));
                    break;
                case 2:
                    var own = draft.TaxRules.FirstOrDefault(r => r is { TaxArea: null, PartyTaxGroup: "ABROAD", ItemTaxGroup: "REDUCED" });
                    Assert.Empty(await nursery.Taxes.Set(company, nursery.User, [(new Core.Taxes.TaxRule { PartyTaxGroup = "ABROAD", ItemTaxGroup = "REDUCED", TaxCode = chance.Next(2) == 0 ? "Z0" : "E0" }, own?.TaxCode)], Day, default));
                    break;
                default:
                    FactValue[] when = chance.Next(2) == 0 ? [new(Fact.ItemGroup, draft.ItemGroups[chance.Next(draft.ItemGroups.Count)].Code)]
                        : [new(Fact.ItemGroup, Groups[chance.Next(Groups.Length)]), new(Fact.PartyGroup, Parties[chance.Next(Parties.Length)])];
                    var rule = draft.Rules.FirstOrDefault(r => r.Purpose == Purpose.Revenue && r.Key == RuleKey.TextOf("revenue", when));
                    var account = rule is not null && chance.Next(4) == 0 ? null : Accounts[chance.Next(Accounts.Length)];
                    Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [new CellEdit(when, account, rule?.Id, rule?.Account)], Day, default));
                    break;
            }
        }
    }

    async Task<List<string>> Places(int company)
    {
        var state = await nursery.Rulebooks.StateOf(company, default);
        var (released, draft) = ((await nursery.Rulebooks.Load(company, null, default)).Book, (await nursery.Rulebooks.Load(company, state.Draft, default)).Book);
        return [.. RulebookDifference.Between(released, draft).Select(c => c.Where)];
    }

    // A rulebook as a file, without what differs by chance: the ids and the order of rules.
    async Task<string> Written(int company, int? edition)
    {
        var book = (await nursery.Rulebooks.Load(company, edition, default)).Book;
        Rule[] rules = [.. book.Rules.OrderBy(r => r.Key, StringComparer.Ordinal).ThenBy(r => r.From)];
        var text = new MemoryStream();
        RulebookWriter.Write(text, book with { Company = book.Company with { Code = "X", Name = "X" }, Rules = [.. rules.Select((r, i) => r with { Id = "r" + i })] });
        return System.Text.Encoding.UTF8.GetString(text.ToArray());
    }
}
