using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Assignum.Formats.Rulebooks;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Tests;

/// <summary>Groups renamed, deleted and merged; tax codes; a rulebook file into a draft and out again.</summary>
public sealed class GroupAndFileTests(Nursery nursery) : IClassFixture<Nursery>, IAsyncLifetime
{
    int company;

    public async Task InitializeAsync() => company = await nursery.OpenCompany("G" + Guid.NewGuid().ToString("N")[..8]);

    public Task DisposeAsync() => Task.CompletedTask;

    async Task<Rulebook> DraftBook() => (await nursery.Rulebooks.Load(company, (await nursery.Rulebooks.StateOf(company, default)).Draft, default)).Book;

    static string Written(Rulebook book)
    {
        var to = new MemoryStream();
        RulebookWriter.Write(to, book);
        return System.Text.Encoding.UTF8.GetString(to.ToArray());
    }

    [Fact]
    public async Task New_projects_begin_in_the_one_group_that_was_said_with_the_group_itself_or_not_at_all()
    {
        var groups = nursery.Groups;
        Assert.Null(await groups.AddGroup(company, nursery.User, "project", new Group("WALLS", "Walls"), default, isDefault: true));
        Assert.Equal("WALLS", await groups.DefaultGroup(company, "project", default));
        Assert.Null(await groups.Add(company, nursery.User, "project", new("P-70", "Wall, north", null, null, null), default));
        Assert.Equal("WALLS", (await DraftBook()).Projects.Single(p => p.Code == "P-70").Group);

        // A group that is refused takes nothing along, and one that takes the place of another leaves one.
        Assert.NotNull(await groups.AddGroup(company, nursery.User, "project", new Group("walls", "Again"), default, isDefault: true));
        Assert.NotNull(await groups.ChangeGroup(company, nursery.User, "project", "WALLS", "", null, default, isDefault: false));
        Assert.Equal("WALLS", await groups.DefaultGroup(company, "project", default));
        Assert.Null(await groups.AddGroup(company, nursery.User, "project", new Group("PONDS", "Ponds"), default, isDefault: true));
        Assert.Equal("PONDS", await groups.DefaultGroup(company, "project", default));
        Assert.Null(await groups.ChangeGroup(company, nursery.User, "project", "WALLS", "Walls and steps", null, default, isDefault: false));
        Assert.Equal("PONDS", await groups.DefaultGroup(company, "project", default));
        Assert.Null(await groups.ChangeGroup(company, nursery.User, "project", "PONDS", "Ponds", null, default, isDefault: false));
        Assert.Null(await groups.DefaultGroup(company, "project", default));
    }

    [Fact]
    public async Task A_renamed_group_takes_its_members_and_rules_along_and_keeps_its_former_code()
    {
        var before = await DraftBook();
        Assert.Null(await nursery.Shapes.Rename(company, nursery.User, "item", "SEEDS", "SEEDLINGS", default));
        var after = await DraftBook();
        Assert.Equal(before.Items.Count(i => i.Group == "SEEDS"), after.Items.Count(i => i.Group == "SEEDLINGS"));
        Assert.Equal(before.Rules.Count(r => r.When.Any(w => w.Code == "SEEDS")), after.Rules.Count(r => r.When.Any(w => w.Code == "SEEDLINGS")));
        Assert.Contains("once the code of SEEDLINGS", (await nursery.Groups.AddGroup(company, nursery.User, "item", new Group("seeds", "Other"),
            default))!.Message, StringComparison.Ordinal);
        Assert.Contains("there already", (await nursery.Shapes.Rename(company, nursery.User, "item", "POTS", "Tools", default))!.Message,
            StringComparison.Ordinal);
        // Back again is allowed: the code was its own.
        Assert.Null(await nursery.Shapes.Rename(company, nursery.User, "item", "SEEDLINGS", "SEEDS", default));
        Assert.Equal(Written(before), Written(await DraftBook()));
    }

    [Fact]
    public async Task A_group_in_use_is_not_deleted_and_the_refusal_says_by_what()
    {
        var refused = await nursery.Shapes.Delete(company, nursery.User, "item", "SEEDS", default);
        Assert.Matches("is in use: .*members, first .*rule", refused!.Message);
        Assert.Null(await nursery.Groups.AddGroup(company, nursery.User, "item", new Group("EMPTY", "Nothing yet"), default));
        Assert.Null(await nursery.Shapes.Delete(company, nursery.User, "item", "EMPTY", default));
        Assert.DoesNotContain((await DraftBook()).ItemGroups, g => g.Code == "EMPTY");
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task Merged_groups_are_one_and_rules_go_over_or_end(bool keep)
    {
        var before = await DraftBook();
        Assert.Null(await nursery.Shapes.Merge(company, nursery.User, "item", "TOOLS", "POTS", keep, default));
        var after = await DraftBook();
        Assert.DoesNotContain(after.ItemGroups, g => g.Code == "TOOLS");
        Assert.Equal(before.Items.Count(i => i.Group is "TOOLS" or "POTS"), after.Items.Count(i => i.Group == "POTS"));
        Assert.DoesNotContain(after.Rules, r => r.When.Any(w => w.Code == "TOOLS"));
        // Where both had a rule, that of the group that stays holds.
        Assert.Equal(before.Rules.Where(r => r.When.Any(w => w.Code == "POTS")).Select(r => (r.Id, r.Account)), after.Rules.Where(r => r.When.Any(w =>
            w.Code == "POTS") && before.Rules.Any(b => b.Id == r.Id && b.When.Any(w => w.Code == "POTS"))).Select(r => (r.Id, r.Account)));
    }

    [Fact]
    public async Task Merged_tax_groups_take_tax_rules_groups_and_accounts_along()
    {
        Assert.Null(await nursery.Shapes.Merge(company, nursery.User, "item-tax", "REDUCED", "STANDARD", keepRules: false, default));
        var after = await DraftBook();
        Assert.DoesNotContain(after.TaxRules, r => r.ItemTaxGroup == "REDUCED");
        Assert.DoesNotContain(after.ItemGroups, g => g.TaxGroup == "REDUCED");
        Assert.DoesNotContain(after.Accounts, a => a.ItemTaxGroup == "REDUCED");
    }

    [Fact]
    public async Task Many_members_move_at_once_and_keep_what_else_they_have()
    {
        var before = await DraftBook();
        var codes = before.Items.Where(i => i.Group == "SEEDS").Select(i => i.Code).ToList();
        Assert.Null(await nursery.Groups.Move(company, nursery.User, "item", codes, "POTS", default));
        Assert.Null(await nursery.Groups.Reset(company, nursery.User, "item", [new MemberChange(codes[0]) { TaxGroup = "STANDARD", ItemKind = "service" },
            new MemberChange(codes[1]) { TaxGroup = "" }], default));
        var after = await DraftBook();
        Assert.All(codes, code => Assert.Equal("POTS", after.Items.First(i => i.Code == code).Group));
        Assert.Equal(("STANDARD", ItemKind.Service), after.Items.Where(i => i.Code == codes[0]).Select(i => (i.TaxGroup, i.Kind)).Single());
        Assert.Equal(before.Items.First(i => i.Code == codes[2]) with { Group = "POTS" }, after.Items.First(i => i.Code == codes[2]));
        Assert.Contains("There is no item NOBODY", (await nursery.Groups.Move(company, nursery.User, "item", ["NOBODY"], "POTS", default))!.Message,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_tax_code_is_made_with_components_changed_by_date_and_deleted_only_unused()
    {
        var code = new TaxCode
        {
            Code = "DISTRICT", Name = "Two taxes", Category = "S", Direction = TaxDirection.Sales,
            Components = [new TaxComponent { Code = "STATE", Authority = "S-30", Rates = [new TaxRate(new(2020, 1, 1), 6)] },
                new TaxComponent { Code = "TOWN", Base = TaxBase.NetAndPrevious, Rates = [new TaxRate(new(2020, 1, 1), 1.5m)] }],
        };
        Assert.Null(await nursery.Taxes.Save(company, nursery.User, null, code, default));
        Assert.Null(await nursery.Taxes.Save(company, nursery.User, "DISTRICT", code with { Code = "LOCAL",
            Components = [code.Components[0] with { Rates = [.. code.Components[0].Rates, new TaxRate(new(2026, 7, 1), 6.5m)] }, code.Components[1]] },
                default));
        var kept = Assert.Single((await DraftBook()).TaxCodes, t => t.Code == "LOCAL");
        Assert.Equal(8.0975m, kept.EffectivePercentOn(new(2026, 7, 1)));
        Assert.Equal("category", (await nursery.Taxes.Save(company, nursery.User, "LOCAL", kept with { Category = "QQ" }, default))!.Field);
        Assert.Null(await nursery.Taxes.Delete(company, nursery.User, "LOCAL", default));
        Assert.Contains("is in use: the tax rule for", (await nursery.Taxes.Delete(company, nursery.User, "S20", default))!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Export_import_export_is_the_identity()
    {
        var first = Written(await DraftBook());
        var changed = RulebookReader.Read(System.Text.Encoding.UTF8.GetBytes(first.Replace("\"account\": \"4010\"", "\"account\": \"4030\"",
            StringComparison.Ordinal).Replace("\"percent\": 20", "\"percent\": 21", StringComparison.Ordinal))).Book!;
        changed = changed with { ItemGroups = [.. changed.ItemGroups, new Group("HERBS", "Herbs", "REDUCED")], Items = [.. changed.Items.Skip(1),
            changed.Items[0] with { Group = "HERBS", Name = "Renamed", Cost = 3 }, new Item { Code = "NEW", Kind = ItemKind.Stock, Group = "HERBS" }],
            Projects = [.. changed.Projects, new Project { Code = "P-7", Name = "Pond", Tasks = [new ProjectTask("10", "Dig")] }],
                Rules = [.. changed.Rules.Skip(3), new Rule { Id = "x1", Purpose = Purpose.Revenue, When = [new(Fact.ItemGroup, "HERBS"),
                    new(Fact.PartyGroup, "TRADE")], Account = "4030", From = new(2026, 1, 1), Note = "spring" }] };
        changed = changed with { Ladders = new Dictionary<Purpose,
            System.Collections.Immutable.ImmutableArray<Rung>> { [Purpose.Bank] = [new Rung(Fact.Currency), new Rung(Fact.MoneyAccount), Rung.Default] } };
        var done = await nursery.IntoDraft.Import(company, nursery.User, changed, default);
        Assert.Null(done.Refusal);
        Assert.True(done.Changes > 5);
        Assert.Equal(Written(changed), Written(await DraftBook()));
        // And back: the draft changes nothing any more, save what is never taken away.
        var back = await nursery.IntoDraft.Import(company, nursery.User, RulebookReader.Read(System.Text.Encoding.UTF8.GetBytes(first)).Book!, default);
        Assert.Equal(["item NEW", "project P-7"], back.Kept);
    }

    [Fact]
    public async Task A_file_with_an_error_changes_nothing()
    {
        var book = await DraftBook();
        var done = await nursery.IntoDraft.Import(company, nursery.User, book with { Rules = [.. book.Rules, book.Rules[0] with { Id = "twin" }] }, default);
        Assert.Contains("two rules, with", done.Refusal!.Message, StringComparison.Ordinal);
        Assert.Equal(Written(book), Written(await DraftBook()));
    }
}
