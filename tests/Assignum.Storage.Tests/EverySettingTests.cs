using System.Collections;
using System.Reflection;
using Assignum.Core.Changes;
using Assignum.Core.Charts;
using Assignum.Core.Findings;
using Assignum.Core.Groups;
using Assignum.Core.Matching;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Assignum.Formats.Rulebooks;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Tests;

/// <summary>
/// Every property of every setting, as the code lists them: changed alone it is seen in the difference, written to a file and read back, brought into
/// a draft, and released alone while another change waits.
/// </summary>
public sealed class EverySettingTests(Nursery nursery) : IClassFixture<Nursery>
{
    /// <summary>Other values that a property may take; what is not named here follows from its type.</summary>
    static IEnumerable<object?> Others(Rulebook book, object thing, PropertyInfo property) => (property.DeclaringType!.Name + "." + property.Name) switch
    {
        "Account.ItemTaxGroup" or "Item.TaxGroup" => Codes(book.ItemTaxGroups), "Party.TaxGroup" => Codes(book.PartyTaxGroups), "Group.TaxGroup" =>
            [.. Codes(book.PartyTaxGroups), .. Codes(book.ItemTaxGroups)],
        "Party.Group" => Codes(book.PartyGroups), "Item.Group" => Codes(book.ItemGroups), "Project.Group" or "ProjectTask.Group" => Codes(book.ProjectGroups),
        "Account.TaxCode" or "TaxRule.TaxCode" => book.TaxCodes.Select(t => t.Code), "Rule.Account" =>
            book.Accounts.Where(a => a.Kind == AccountKind.Posting).Select(a => a.Number),
        "Account.Currencies" => [new[] { "EUR", "USD" }], "Account.Dimensions" => [new Dictionary<string, DimensionNeed> { ["CC"] = DimensionNeed.Required }],
            "Account.DimensionDefaults" => [new Dictionary<string, string> { ["CC"] = "100" }],
        "Party.ControlAlternates" => book.Accounts.Where(a => a.Control == Control.Receivables).Select(a => new[] { a.Number }), "Party.TaxArea" => ["DALE"],
            "Match.Ours" => book.Items.Select(i => i.Code), "Party.Partner" => book.Partners.Select(p => p.Code),
        "Asset.Group" => Codes(book.AssetGroups), "Asset.TaxGroup" => Codes(book.ItemTaxGroups), "Asset.LifeMonths" => [37], "Asset.Percent" => [12.345678m],
            "Asset.Residual" => [1234.56m],
        "TaxCode.Category" => ["E", "O"], "TaxComponent.Code" => ["LEVY"], "TaxComponent.Authority" => ["TOWN-HALL", "STATE-BOARD"],
            "TaxComponent.RecoverablePercent" => [12.345678m], "TaxRate.Percent" => [20.123456789012m, 7.5m],
        "TaxRate.From" => [new DateOnly(2019, 5, 1)], "CompanyOptions.TaxTolerance" => [0.07m], "Rule.When" => OtherFacts(book, (Rule)thing), "Rule.Note" =>
            ["Agreed with the auditors | page 2\nsecond line"],
        _ => ByType(property),
    };

    static IEnumerable<object?> ByType(PropertyInfo property)
    {
        var type = Nullable.GetUnderlyingType(property.PropertyType) ?? property.PropertyType;
        if (type == typeof(bool))
            return [true, false];
        if (type.IsEnum)
            return Enum.GetValues(type).Cast<object?>();
        if (type == typeof(DateOnly))
            return [new DateOnly(2020, 1, 31), new DateOnly(2030, 6, 30)];
        throw new InvalidOperationException($"Say what {property.DeclaringType!.Name}.{property.Name} may be changed to.");
    }

    static IEnumerable<object?> Codes(IReadOnlyList<Group> groups) => groups.Select(g => g.Code);

    static IEnumerable<object?> OtherFacts(Rulebook book, Rule rule) =>
        rule.When.Any(w => w.Fact == Fact.ItemGroup)
            ? book.ItemGroups.Select(g => (object?)rule.When.Select(w => w.Fact == Fact.ItemGroup ? w with { Code = g.Code } : w).ToArray()) : [];

    static object Copy(object thing, PropertyInfo property, object? value)
    {
        var copy = thing.GetType().IsValueType ? thing : thing.GetType().GetMethod("<Clone>$")!.Invoke(thing, null)!;
        property.SetValue(copy, value);
        return copy;
    }

    static IEnumerable<PropertyInfo> Settable(Type type) => type.GetProperties(BindingFlags.Public | BindingFlags.Instance).Where(p => p.SetMethod is not null);

    static Type? ElementOf(PropertyInfo property) =>
        property.PropertyType.IsGenericType && property.PropertyType.GetGenericTypeDefinition() == typeof(IReadOnlyList<>)
            && property.PropertyType.GetGenericArguments()[0] is { } element
        && element.Namespace!.StartsWith("Assignum", StringComparison.Ordinal) && element != typeof(FactValue) ? element : null;

    /// <summary>Copies of a thing that differ in one property, or in one property of one of its parts.</summary>
    static IEnumerable<(string Of, object Changed)> Variants(Rulebook book, object thing, Type type, Func<PropertyInfo, bool> counts)
    {
        foreach (var property in Settable(type).Where(counts))
            if (ElementOf(property) is { } element)
            {
                var parts = ((IEnumerable)property.GetValue(thing)!).Cast<object>().ToList();
                if (parts.Count == 0)
                    continue;
                foreach (var (of, part) in Variants(book, parts[0], element, PartCounts))
                {
                    var changed = Array.CreateInstance(element, parts.Count);
                    for (var i = 0; i < parts.Count; i++)
                        changed.SetValue(i == 0 ? part : parts[i], i);
                    yield return ($"{property.Name}.{of}", Copy(thing, property, changed));
                }
            }
            else
                foreach (var value in Others(book, thing, property).Where(v => !Equals(v, property.GetValue(thing))))
                    yield return (property.Name, Copy(thing, property, value));
    }

    // A task with another code is another task.
    static bool PartCounts(PropertyInfo property) =>
        property.Name != "Name" && !(property.DeclaringType == typeof(ProjectTask) && property.Name == nameof(ProjectTask.Code));

    static IEnumerable<string> Wanted(Type type, Func<PropertyInfo, bool> counts) =>
        Settable(type).Where(counts).SelectMany(p => ElementOf(p) is { } element ? Wanted(element, PartCounts).Select(w => $"{p.Name}.{w}") : [p.Name]);

    static IReadOnlyList<object> Things(Rulebook book, SettingKind kind) =>
        kind.Place == "company" ? [book.Company.Options] : [.. ((IEnumerable)ListOf(kind).GetValue(book)!).Cast<object>()];

    static PropertyInfo ListOf(SettingKind kind) => typeof(Rulebook).GetProperty(char.ToUpperInvariant(kind.Place[0]) + kind.Place[1..])!;

    static Rulebook With(Rulebook book, SettingKind kind, IEnumerable<object> things)
    {
        if (kind.Place == "company")
            return book with { Company = book.Company with { Options = (CompanyOptions)things.Single() } };
        var all = things.ToList();
        var list = Array.CreateInstance(kind.Thing, all.Count);
        for (var i = 0; i < all.Count; i++)
            list.SetValue(all[i], i);
        return (Rulebook)Copy(book, ListOf(kind), list);
    }

    // The group's tax group means something where items, parties and assets have tax groups.
    static bool Counts(SettingKind kind, PropertyInfo property) =>
        !kind.Keys.Contains(property.Name) && !kind.AtOnceProperties.Contains(property.Name)
            && !(kind.Thing == typeof(Group) && kind.Place is not ("partyGroups" or "itemGroups" or "assetGroups"));

    /// <summary>A rulebook without errors that differs from another in one property.</summary>
    static Rulebook? Changed(Rulebook book, SettingKind kind, string of)
    {
        foreach (var thing in Things(book, kind))
            foreach (var (_, changed) in Variants(book, thing, kind.Thing, p => Counts(kind, p)).Where(v => v.Of == of))
                if (With(book, kind, Things(book, kind).Select(t => ReferenceEquals(t, thing) ? changed : t)) is var other
                    && RulebookChecks.Errors(other).Count == 0)
                    return other;
        return null;
    }

    public static TheoryData<string> Kinds => [.. SettingKinds.All.Select(k => k.Place)];

    [Fact]
    public void Every_property_of_every_setting_is_a_key_holds_at_once_or_is_a_part()
    {
        foreach (var kind in SettingKinds.All)
            Assert.Equal(Settable(kind.Thing).Select(p => p.Name).Order(StringComparer.Ordinal),
                kind.Keys.Concat(kind.AtOnceProperties).Concat(kind.PartProperties).Distinct().Order(StringComparer.Ordinal));
        // What a rulebook has beside them: the ladders, which have a test of their own.
        Assert.Equal(["Ladders"], typeof(Rulebook).GetProperties().Select(p => p.Name).Where(n => SettingKinds.All.All(k => ListOf(k)?.Name != n)));
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task Changed_alone_it_is_seen_filed_and_released_alone(string place)
    {
        var kind = SettingKinds.All.Single(k => k.Place == place);
        var company = await Open("S" + place);
        foreach (var of in Wanted(kind.Thing, p => Counts(kind, p)).Distinct())
        {
            var before = (await nursery.Rulebooks.Load(company, null, default)).Book;
            var after = Changed(before, kind, of)
                ?? throw new Xunit.Sdk.XunitException($"No {kind.Subject} of the demo can be changed in {of} without an error.");

            var change = Assert.Single(RulebookDifference.Between(before, after));
            Assert.Equal((of, ChangeKind.Changed, place), (of, change.Kind, change.Where.Split('/')[0]));
            Assert.Empty(RulebookDifference.Between(after, Filed(after)));
            await ReleasedAlone(company, before, after, change);
        }
    }

    [Theory]
    [InlineData("locations")]
    [InlineData("items")]
    [InlineData("parties")]
    [InlineData("projects")]
    [InlineData("assets")]
    [InlineData("partners")]
    [InlineData("itemGroups")]
    [InlineData("accounts")]
    [InlineData("taxCodes")]
    public async Task A_new_one_from_a_file_is_seen_and_released_alone(string place)
    {
        var kind = SettingKinds.All.Single(k => k.Place == place);
        var company = await Open("N" + place);
        var before = (await nursery.Rulebooks.Load(company, null, default)).Book;
        var model = Things(before, kind)[0];
        var after = With(before, kind, [.. Things(before, kind), Copy(model, kind.Thing.GetProperty(kind.Keys[0])!, "9ZZ")]);

        var change = Assert.Single(RulebookDifference.Between(before, after));
        Assert.Equal((ChangeKind.Added, place + "/9ZZ"), (change.Kind, change.Where));
        await ReleasedAlone(company, before, after, change);
    }

    [Fact]
    public async Task A_ladder_is_seen_filed_and_released_alone()
    {
        var company = await nursery.OpenCompany("SLADDER");
        var before = (await nursery.Rulebooks.Load(company, null, default)).Book;
        var after = before with { Ladders = new Dictionary<Purpose,
            System.Collections.Immutable.ImmutableArray<Rung>>(before.Ladders) { [Purpose.Bank] = [Purpose.Bank.DefaultLadder[1], Purpose.Bank.DefaultLadder[0],
            .. Purpose.Bank.DefaultLadder[2..]] } };

        var change = Assert.Single(RulebookDifference.Between(before, after));
        Assert.Empty(RulebookDifference.Between(after, Filed(after)));
        await ReleasedAlone(company, before, after, change);
    }

    // With a match, of which the nurseries have none.
    async Task<int> Open(string code)
    {
        var company = await nursery.OpenCompany(code);
        var book = Nursery.Book with
        {
            Matches = [new Match { Connection = "web-shop", List = SettingList.Items, Theirs = "S-1001", Ours = Nursery.Book.Items[0].Code }],
        };
        Assert.Null((await nursery.IntoDraft.Import(company, nursery.User, book, default)).Refusal);
        Assert.Null(await nursery.Release(company));
        return company;
    }

    static Rulebook Filed(Rulebook book)
    {
        var file = new MemoryStream();
        RulebookWriter.Write(file, book);
        return RulebookReader.Read(file.ToArray()).Book!;
    }

    async Task ReleasedAlone(int company, Rulebook before, Rulebook after, SettingChange change)
    {
        // Something else waits in the same draft.
        var waiting = new Rule { Id = "", Purpose = Purpose.GiftCard, When = [new(Fact.Connection, "c" + Guid.NewGuid().ToString("N")[..6])],
            Account = after.Rules.First(r => r.Purpose == Purpose.GiftCard).Account };
        Assert.Null(await nursery.Rules.Add(company, nursery.User, waiting, default));
        var state = await nursery.Rulebooks.StateOf(company, default);
        var draft = (await nursery.Rulebooks.Load(company, state.Draft, default)).Book;
        Assert.Null((await nursery.IntoDraft.Import(company, nursery.User,
            after with { Rules = [.. after.Rules, .. draft.Rules.Where(r => before.Rules.All(b => b.Id != r.Id))] }, default)).Refusal);

        state = await nursery.Rulebooks.StateOf(company, default);
        var stored = await nursery.Rulebooks.Load(company, state.Draft, default);
        Assert.Contains(RulebookDifference.Between(before, stored.Book), c => c.Where == change.Where);
        var released = await nursery.Rulebooks.Load(company, null, default);
        Assert.True((await nursery.Editions.Authors(company, released, stored, [change], default))[change.Where].WasInHandOf(nursery.User), change.Sentence);

        Assert.Null(await nursery.Editions.Release(company, nursery.User, state, "", default, [change.Where]));
        var now = await new RulebookStore(nursery.Source).Load(company, null, default);
        Assert.Empty(RulebookDifference.Between(after, now.Book));
        var left = (await new RulebookStore(nursery.Source).Load(company, state.Draft + 1, default)).Book;
        Assert.Equal(ChangeKind.Added, Assert.Single(RulebookDifference.Between(now.Book, left)).Kind);
        Assert.Null(await new DraftStore(nursery.Draft).Undo(company, nursery.User, [.. RulebookDifference.Between(now.Book, left).Select(c => c.Where)],
            default));
    }
}
