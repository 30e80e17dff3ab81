using Assignum.Core.Changes;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Tests;

/// <summary>Two people at one draft: nobody overwrites what they have not seen, every hand counts, and what the database refuses is said in words.</summary>
public sealed class SavedAsSeenTests(Nursery nursery) : IClassFixture<Nursery>, IAsyncLifetime
{
    static readonly DateOnly Day = new(2026, 3, 14);
    int company, tomas;

    public async Task InitializeAsync()
    {
        var code = "Y" + Guid.NewGuid().ToString("N")[..8];
        company = await nursery.OpenCompany(code);
        tomas = await nursery.People.Add("t" + code, "Tomas", "hash", default);
    }

    public Task DisposeAsync() => Task.CompletedTask;

    int Ines => nursery.User;

    async Task<StoredRulebook> Draft() => await nursery.Rulebooks.Load(company, (await nursery.Rulebooks.StateOf(company, default)).Draft, default);

    async Task<Refusal?> Release(int user, params string[] chosen) =>
        await nursery.Editions.Release(company, user, await nursery.Rulebooks.StateOf(company, default), "", default, chosen.Length == 0 ? null : chosen);

    static void Stale(Refusal? refusal, string changed)
    {
        Assert.NotNull(refusal);
        Assert.Contains("Somebody else has changed", refusal.Message, StringComparison.Ordinal);
        Assert.Contains(changed, refusal.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_group_that_somebody_else_has_changed_is_not_overwritten()
    {
        var seen = AsSeen.Group((await Draft()).Book, "item", "POTS").Now;
        Assert.Null(await nursery.Groups.ChangeGroup(company, tomas, "item", "POTS", "Pots and tubs", "REDUCED", default, seen));

        Stale(await nursery.Groups.ChangeGroup(company, Ines, "item", "POTS", "Pots", "STANDARD", default, seen), "tax group is REDUCED now, you saw STANDARD");
        Stale(await nursery.Shapes.Rename(company, Ines, "item", "POTS", "POTTERY", default, seen), "name is Pots and tubs now");
        Stale(await nursery.Shapes.Merge(company, Ines, "item", "POTS", "TOOLS", true, default, seen), "tax group is REDUCED now");
        Stale(await nursery.Shapes.Delete(company, Ines, "item", "POTS", default, seen), "tax group is REDUCED now");
    }

    [Fact]
    public async Task A_member_that_somebody_else_has_changed_is_not_overwritten()
    {
        var seen = AsSeen.Member((await Draft()).Book, "item", "SEED-01").Now;
        Assert.Null(await nursery.Groups.ChangeMember(company, tomas, "item", "SEED-01", "Field poppy", 0.99m, default,
            new MemberChange("SEED-01") { Group = "POTS" }, seen));

        Stale(await nursery.Groups.ChangeMember(company, Ines, "item", "SEED-01", "Poppy", 0.85m, default, seen: seen),
            "cost is 0.99 now, you saw 0.85; group is POTS now, you saw SEEDS");
    }

    [Fact]
    public async Task Members_move_only_as_they_were_seen()
    {
        var seen = await nursery.Rulebooks.StateOf(company, default);
        Assert.Null(await nursery.Groups.Move(company, tomas, "item", ["SEED-01"], "POTS", default, seen));

        Assert.Contains("have changed since you looked", (await nursery.Groups.Move(company, Ines, "item", ["SEED-01"], "TOOLS", default, seen))!.Message,
            StringComparison.Ordinal);
        Assert.Equal("POTS", (await Draft()).Book.Items.Single(i => i.Code == "SEED-01").Group);
    }

    [Fact]
    public async Task A_tax_code_that_somebody_else_has_changed_is_not_overwritten()
    {
        var was = (await Draft()).Book.TaxCodes.Single(t => t.Code == "R8");
        var seen = SettingKinds.TaxCodes.SeenOf(was);
        Assert.Null(await nursery.Taxes.Save(company, tomas, "R8", was with { Category = "AA" }, default, seen: seen));

        Stale(await nursery.Taxes.Save(company, Ines, "R8", was with { Direction = TaxDirection.Sales }, default, seen: seen), "category is AA now, you saw S");
        Stale(await nursery.Taxes.Delete(company, Ines, "R8", default, seen), "category is AA now");
    }

    [Fact]
    public async Task Options_that_somebody_else_has_changed_are_not_overwritten()
    {
        var was = (await Draft()).Book.Company.Options;
        var seen = SettingKinds.Options.SeenOf(was);
        Assert.Null(await nursery.Taxes.SetOptions(company, tomas, was with { TaxTolerance = 0.05m }, default, seen));

        Stale(await nursery.Taxes.SetOptions(company, Ines, was with { SeparateDiscounts = true }, default, seen), "tax tolerance is 0.05 now, you saw none");
    }

    [Fact]
    public async Task Dimensions_that_somebody_else_has_changed_are_not_overwritten()
    {
        var seen = await nursery.Dimensions.Seen(company, default);
        Assert.Null(await nursery.Dimensions.Define(company, tomas, "CC", "Cost centre", [("100", "Sales")], default, seen));

        Stale(await nursery.Dimensions.Define(company, Ines, "CC", "Cost centres", [], default, seen), "the dimensions");
        Stale(await nursery.Dimensions.Remove(company, Ines, "CC", default, seen), "the dimensions");
    }

    [Fact]
    public async Task Everybody_who_had_a_hand_in_a_place_is_kept_from_releasing_it()
    {
        Assert.Null(await nursery.IntoDraft.Import(company, Ines,
            Nursery.Book with { ProjectGroups = [new("DESIGN", "Design"), new("BUILD", "Build")],
            Projects = [new Project { Code = "P-1", Group = "DESIGN", Tasks = [new ProjectTask("10", "Plans", "DESIGN")] }] },
            default) is { Refusal: var refused } ? refused : null);
        Assert.Null(await Release(Ines));
        await nursery.Companies.SetFourEyes(company, Ines, true, default);

        // One moves the project, another its task: the place is the same.
        Assert.Null(await nursery.Groups.Move(company, Ines, "project", ["P-1"], "BUILD", default));
        Assert.Null(await nursery.Groups.Move(company, tomas, "task", ["P-1/10"], "BUILD", default));
        // One adds a rule, another changes it.
        Assert.Null(await nursery.Rules.Add(company, Ines,
            new Rule { Id = "mine", Purpose = Purpose.GiftCard, When = [new(Fact.Connection, "till")], Account = "2120" }, default));
        var stored = await Draft();
        Assert.Null(await nursery.Rules.Change(company, tomas, stored.Labels.RuleRow("mine")!.Value,
            stored.Book.Rules.Single(r => r.Id == "mine") with { Note = "So it is." }, default));
        // One gives an account a class, another takes it over.
        foreach (var (user, suspense) in new[] { (Ines, true), (tomas, false) })
        {
            stored = await Draft();
            var id = stored.Labels.Account("4015")!.Value;
            Assert.Null(await nursery.Accounts.Change(company, user, id, await nursery.Chart.LastChangeOf(company, id, default),
                stored.AccountOf(id)! with { Suspense = suspense, Manual = ManualPolicy.Warn }, AccountDescription.None, null, default));
        }

        foreach (var place in new[] { "projects/P-1", "rules/mine", "accounts/4015" })
            foreach (var user in new[] { Ines, tomas })
                Assert.Contains("You had a hand in 1 of these changes", (await Release(user, place))!.Message, StringComparison.Ordinal);
        var vera = await nursery.People.Add("v" + Guid.NewGuid().ToString("N")[..8], "Vera", "hash", default);
        Assert.Null(await Release(vera));
    }

    [Fact]
    public async Task Whoever_takes_a_change_back_and_leaves_nothing_has_no_hand_in_what_comes_after()
    {
        await nursery.Companies.SetFourEyes(company, Ines, true, default);
        Assert.Null(await nursery.Groups.Move(company, tomas, "item", ["SEED-01"], "POTS", default));
        Assert.Null(await nursery.Drafts.Undo(company, tomas, ["items/SEED-01"], default));
        Assert.Null(await nursery.Groups.Move(company, Ines, "item", ["SEED-01"], "TOOLS", default));

        Assert.Null(await Release(tomas));
    }

    [Fact]
    public async Task A_release_of_places_that_nobody_knows_makes_no_edition()
    {
        Assert.Null(await nursery.Groups.Move(company, Ines, "item", ["SEED-01"], "POTS", default));
        var before = (await nursery.Rulebooks.StateOf(company, default)).Edition;

        Assert.Contains("None of the 1 chosen changes is in the draft any more", (await Release(tomas, "rules/r99999"))!.Message, StringComparison.Ordinal);
        Assert.Contains("is not in the draft any more", (await Release(tomas, "rules/r99999", "items/SEED-01"))!.Message, StringComparison.Ordinal);
        Assert.Equal(before, (await nursery.Rulebooks.StateOf(company, default)).Edition);
    }

    [Fact]
    public async Task A_class_waits_for_its_release()
    {
        var stored = await Draft();
        var id = stored.Labels.Account("4015")!.Value;
        Assert.Null(await nursery.Accounts.Change(company, Ines, id, await nursery.Chart.LastChangeOf(company, id, default),
            stored.AccountOf(id)! with { Class = AccountClass.OtherIncome }, AccountDescription.None, null, default));

        Assert.Equal(AccountClass.Income, (await nursery.Rulebooks.Load(company, null, default)).AccountOf(id)!.Class);
        Assert.Equal(AccountClass.OtherIncome, (await Draft()).AccountOf(id)!.Class);
        Assert.Null(await Release(tomas));
        Assert.Equal(AccountClass.OtherIncome, (await nursery.Rulebooks.Load(company, null, default)).AccountOf(id)!.Class);
        Assert.Equal(AccountClass.Income, (await nursery.Rulebooks.Load(company, 2, default)).AccountOf(id)!.Class);
    }

    [Fact]
    public async Task A_new_item_in_a_group_of_the_draft_waits_there_with_its_author_and_is_discarded_with_it()
    {
        Assert.Null(await nursery.Groups.AddGroup(company, Ines, "item", new Group("HERBS", "Herbs", "REDUCED"), default));
        Assert.Null(await nursery.Groups.AddItem(company, tomas, new Item { Code = "HERB-1", Name = "Thyme", Kind = ItemKind.Stock, Group = "HERBS" },
            default));

        var (released, draft) = (await nursery.Rulebooks.Load(company, null, default), await Draft());
        Assert.Null(released.Book.Items.Single(i => i.Code == "HERB-1").Group);
        Assert.Equal("HERBS", draft.Book.Items.Single(i => i.Code == "HERB-1").Group);
        var changes = RulebookDifference.Between(released.Book, draft.Book);
        Assert.Equal(tomas, (await nursery.Editions.Authors(company, released, draft, changes, default))["items/HERB-1"].Made);

        Assert.Null(await nursery.Drafts.Discard(company, Ines, draft.State.InDraft, default));
        Assert.Empty(RulebookDifference.Between(released.Book, (await Draft()).Book));
        Assert.Null(await nursery.Groups.AddGroup(company, Ines, "item", new Group("HERBS", "Herbs", null), default));
    }

    [Fact]
    public async Task A_tax_cell_fits_in_beside_a_rule_that_holds_from_later()
    {
        var later = new TaxRule { PartyTaxGroup = "ABROAD", ItemTaxGroup = "REDUCED", TaxCode = "Z0", From = new DateOnly(2027, 1, 1) };
        Assert.Null((await nursery.IntoDraft.Import(company, Ines,
            Nursery.Book with { TaxRules = [.. Nursery.Book.TaxRules.Where(r => r.ItemTaxGroup != "REDUCED" || r.PartyTaxGroup != "ABROAD"), later] },
            default)).Refusal);

        Assert.Empty(await nursery.Taxes.Set(company, Ines, [(new TaxRule { PartyTaxGroup = "ABROAD", ItemTaxGroup = "REDUCED", TaxCode = "E0" }, null)], Day,
            default));
        Assert.Equal([("E0", (DateOnly?)new DateOnly(2026, 12, 31)), ("Z0", null)],
            (await Draft()).Book.TaxRules.Where(r => r is { PartyTaxGroup: "ABROAD", ItemTaxGroup: "REDUCED" }).OrderBy(r => r.TaxCode,
            StringComparer.Ordinal).Select(r => (r.TaxCode, r.To)));
    }

    [Fact]
    public async Task What_the_database_refuses_is_said_in_words()
    {
        var refusal = await nursery.Draft.Change(company, Ines, async change =>
        {
            await change.Command("insert into grouping (company_id, family, code, code_fold, name, find_fold) values ($1, 'item', 'POTS', 'POTS', '', '')",
                company).Run(default);
            return null;
        }, default);

        Assert.Equal("There is a group with this code or name already, perhaps added at this moment. Choose another.", refusal!.Message);
    }
}
