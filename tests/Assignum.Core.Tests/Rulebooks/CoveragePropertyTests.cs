using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using CsCheck;

namespace Assignum.Core.Tests.Rulebooks;

/// <summary>Coverage and grids against brute force: on rulebooks made by chance, counting over groups says what counting one by one says.</summary>
public class CoveragePropertyTests
{
    static readonly Fact[] Facts = [Fact.Item, Fact.ItemGroup, Fact.ItemKind, Fact.Party, Fact.PartyGroup, Fact.Location, Fact.Currency];
    static readonly string[] ItemCodes = ["I1", "I2", "I3", "I4", "I5"], PartyCodes = ["P1", "P2", "P3", "P4"], Places = ["L1", "L2"], GroupCodes = ["G1", "G2"], Currencies = ["EUR", "USD"];

    static readonly Gen<Rung> AnyRung = Gen.Int[0, 127].Where(bits => System.Numerics.BitOperations.PopCount((uint)bits) <= 3).Select(bits => new Rung([.. Facts.Where((_, i) => (bits >> i & 1) == 1)]));

    static readonly Gen<(Rung[] Revenue, Rung[] Returns, Rule[] Rules, int[] Groups)> AnyBook =
        from revenue in AnyRung.Array[1, 5].Select(rungs => rungs.Distinct().ToArray())
        from returns in AnyRung.Array[1, 4].Select(rungs => rungs.Distinct().ToArray())
        from rules in Gen.Select(Gen.Bool, Gen.Int[0, 9], Gen.Int[0, 9].Array[3], Gen.Int[0, 4], Gen.Int[0, 9]).Select((isReturn, rung, values, account, dated) =>
        {
            var ladder = isReturn ? returns : revenue;
            return new Rule
            {
                Id = "", Purpose = isReturn ? Purpose.SalesReturn : Purpose.Revenue, Account = "A" + account, From = dated == 0 ? Book.Day.AddDays(1) : null, To = dated == 1 ? Book.Day.AddDays(-1) : null,
                When = [.. ladder[rung % ladder.Length].Facts.Select((fact, i) => new FactValue(fact, CodesOf(fact)[values[i] % CodesOf(fact).Length]))],
            };
        }).Array[0, 25]
        from groups in Gen.Int[0, 2].Array[9]
        select (revenue, returns, Distinct(rules), groups);

    static string[] CodesOf(Fact fact) => fact switch
    {
        Fact.Item => ItemCodes, Fact.Party => PartyCodes, Fact.Location => Places, Fact.Currency => Currencies, Fact.ItemKind => ["stock", "service", "charge"], _ => GroupCodes,
    };

    static Rule[] Distinct(Rule[] rules) => [.. rules.DistinctBy(r => r.Key).Select((r, i) => r with { Id = "r" + i })];

    static Rulebook Made((Rung[] Revenue, Rung[] Returns, Rule[] Rules, int[] Groups) made) => (Book.Nursery with
    {
        Accounts =
        [
            Book.Account("A0", "", AccountClass.Income), Book.Account("A1", "", AccountClass.Income), Book.Account("A2", "", AccountClass.Income) with { Suspense = true },
            Book.Account("A3", "", AccountClass.Income) with { Active = false }, Book.Account("A4", "", AccountClass.Income) with { ValidFrom = Book.Day.AddDays(1) },
        ],
        ItemGroups = [.. GroupCodes.Select(g => new Group(g, ""))], PartyGroups = [.. GroupCodes.Select(g => new Group(g, ""))],
        Items = [.. ItemCodes.Select((code, i) => new Item { Code = code, Kind = i == 4 ? ItemKind.Charge : i % 2 == 0 ? ItemKind.Stock : ItemKind.Service, Group = GroupOf(made.Groups[i]) })],
        Parties = [.. PartyCodes.Select((code, i) => new Party { Code = code, Role = i == 3 ? PartyRole.Supplier : i == 2 ? PartyRole.Both : PartyRole.Customer, Group = GroupOf(made.Groups[5 + i]) })],
        Locations = [.. Places.Select(p => new Location(p, ""))], Rules = made.Rules,
    }).WithLadder("revenue", made.Revenue).WithLadder("sales-return", made.Returns);

    static string? GroupOf(int chance) => chance == 0 ? null : "G" + chance;

    [Theory]
    [InlineData("revenue")]
    [InlineData("sales-return")]
    public void Counting_over_groups_says_what_counting_one_by_one_says(string name) => AnyBook.Sample(made =>
    {
        var book = new CompiledRulebook(Made(made));
        var purpose = Purpose.Find(name)!;
        var coverage = Coverage.Of(book, purpose, Book.Day);

        var (all, none, suspense, byRung) = (0L, 0L, 0L, new Dictionary<string, long>());
        foreach (var asked in OneByOne(book, purpose))
        {
            all++;
            var lands = Whereabouts.Of(book, purpose, Whereabouts.FactsOf(book, asked), Book.Day);
            if (lands.WhyNot is not null)
            {
                none++;
                continue;
            }
            suspense += lands.Account!.Suspense ? 1 : 0;
            var key = lands.By!.Name + " " + string.Join('+', lands.Rung!.Facts.Order());
            byRung[key] = byRung.GetValueOrDefault(key) + 1;
        }
        Assert.Equal((all, none, suspense), (coverage.Combinations, coverage.None, coverage.Suspense));
        Assert.Equal(byRung.OrderBy(r => r.Key, StringComparer.Ordinal), coverage.ByRung.ToDictionary(r => r.Purpose.Name + " " + string.Join('+', r.Rung.Facts.Order()), r => r.Combinations).OrderBy(r => r.Key, StringComparer.Ordinal));

        var gaps = Gaps.Of(book, purpose, Book.Day);
        Assert.Equal(none, gaps.Where(g => g.Kind is GapKind.Nothing or GapKind.NotPostable).Sum(g => g.Combinations));
        Assert.Equal(suspense, gaps.Where(g => g.Kind == GapKind.Suspense).Sum(g => g.Combinations));
        Assert.All(gaps, g => Assert.Contains(g.Mend, book.Book.LadderOf(purpose)));
        // "Everything" is said of everything, and of nothing less.
        Assert.All(gaps.Where(g => g.InWords == "everything"), g => Assert.Equal(all, g.Combinations));
        Assert.All(gaps, g => Assert.Equal(g.Mend.Facts, Gaps.MendingRule(book, g)?.Select(w => w.Fact) ?? g.Mend.Facts));
        Assert.All(gaps, g => Assert.True(Gaps.MendingRule(book, g) is not null || !book.Book.LadderOf(purpose).Contains(Rung.Default)));
    }, iter: 600);

    [Fact]
    public void Another_ladder_moves_exactly_the_combinations_whose_account_differs() => Gen.Select(AnyBook, Gen.Int[0, 5]).Sample((made, turn) =>
    {
        var book = new CompiledRulebook(Made(made));
        var ladder = made.Revenue.Skip(turn % made.Revenue.Length).Concat(made.Revenue.Take(turn % made.Revenue.Length)).ToArray();
        var then = new CompiledRulebook(Made(made).WithLadder("revenue", ladder));
        var change = Assignum.Core.Changes.LadderChange.Of(book, Purpose.Revenue, [.. ladder], Book.Day);
        foreach (var purpose in new[] { Purpose.Revenue, Purpose.SalesReturn })
        {
            var slowly = OneByOne(book, purpose).Count(asked =>
                Whereabouts.Of(book, purpose, Whereabouts.FactsOf(book, asked), Book.Day).Account?.Number != Whereabouts.Of(then, purpose, Whereabouts.FactsOf(then, asked), Book.Day).Account?.Number);
            Assert.Equal(slowly, change.Moves.Where(m => m.Purpose == purpose).Sum(m => m.Moved.Combinations));
        }
    }, iter: 300);

    [Fact]
    public void A_cell_of_the_grid_shows_what_the_ladder_answers_and_from_which_side() => AnyBook.Sample(made =>
    {
        var book = new CompiledRulebook(Made(made));
        foreach (var (down, across) in new[] { (Fact.ItemGroup, Fact.PartyGroup), (Fact.Item, Fact.Location), (Fact.Party, Fact.ItemGroup) })
        {
            var grid = new RuleGrid(book, Purpose.Revenue, down, across, [], Book.Day);
            foreach (var row in CodesOf(down).Cast<string?>().Append(null))
                foreach (var column in CodesOf(across).Cast<string?>().Append(null))
                {
                    var cell = grid.At(row, column);
                    var slowly = Whereabouts.Of(book, Purpose.Revenue, Whereabouts.FactsOf(book, AskedFor((down, row), (across, column))), Book.Day);
                    Assert.Equal(slowly.Rule, cell.Rule);
                    Assert.Equal(slowly.Rule is not null && slowly.By == Purpose.Revenue && slowly.Rule.When.Count == (row is null ? 0 : 1) + (column is null ? 0 : 1) && slowly.Rule.When.All(w => w.Fact == down || w.Fact == across), cell.Origin == CellOrigin.Own);
                    Assert.Equal(slowly.Rule is null, cell.Origin == CellOrigin.Nothing);
                }
        }
    }, iter: 200);

    static Asked AskedFor(params (Fact Fact, string? Code)[] values)
    {
        string? Of(Fact fact) => values.FirstOrDefault(v => v.Fact == fact).Code;
        return new Asked { Item = Of(Fact.Item), ItemGroup = Of(Fact.ItemGroup), Party = Of(Fact.Party), PartyGroup = Of(Fact.PartyGroup), Further = Of(Fact.Location) is { } place ? [new(Fact.Location, place)] : [] };
    }

    static IEnumerable<Asked> OneByOne(CompiledRulebook book, Purpose purpose)
    {
        var asked = purpose.Chain().SelectMany(p => book.Book.LadderOf(p)).SelectMany(r => r.Facts).ToHashSet();
        var items = asked.Overlaps([Fact.Item, Fact.ItemGroup, Fact.ItemKind]) ? book.Items.All.Where(i => i.Kind.CanMeet(purpose)).Select(i => (string?)i.Code).ToList() : [null];
        var parties = asked.Overlaps([Fact.Party, Fact.PartyGroup]) ? book.Parties.All.Where(p => p.Role.CanMeet(purpose)).Select(p => (string?)p.Code).ToList() : [null];
        var places = asked.Contains(Fact.Location) ? Places.Cast<string?>().Append(null).ToList() : [null];
        return from item in items from party in parties from place in places
               select new Asked { Item = item, Party = party, Further = place is null ? [] : [new FactValue(Fact.Location, place)] };
    }
}
