using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Consolidating;
using Assignum.Core.Matching;
using Assignum.Core.Rulebooks;
using Assignum.Web.Connections;
using Assignum.Web.Pages.GroupChart;

namespace Assignum.Web.Tests;

/// <summary>The board on which accounts are matched to the group's chart: what it suggests, and that what it keeps of suggestions is what it would work out.
/// </summary>
public class GroupBoardTests
{
    static readonly AccountClass[] Classes = [AccountClass.Asset, AccountClass.Liability, AccountClass.Income, AccountClass.Expense];
    static readonly string[] Words = ["Bank", "Cash", "Stock", "Wages", "Taxes", "Tools", "Plants", "Loans", "Fees", "Rent", "owed", "paid", "sold", "bought"];

    static Rulebook Chart(params (string Number, string Name, AccountClass Class)[] accounts) => new()
    {
        Company = new("X", "X", "EUR", new()),
        Accounts = [.. accounts.Select(a => new Account { Number = a.Number, Name = a.Name, Class = a.Class })],
    };

    static GroupBoard Board(Rulebook own, Rulebook group, SuggestionCache cache, params (string Account, string To)[] matched) =>
        new(own, group, matched.ToDictionary(m => Fold.Of(m.Account), m => new GroupMatch(m.To)), 1, cache);

    static string Said(GroupBoard board) => string.Join('\n', board.Waiting.Select(w =>
        $"{w.Account.Number}: {string.Join(", ", w.Near.Select(n => $"{n.Group.Number} {n.Why.Score:0.000} {n.Why.Reason}"))}"));

    [Fact]
    public void What_is_like_it_in_the_same_class_is_suggested_and_of_another_class_only_what_is_like_it_in_earnest()
    {
        var group = Chart(("G-1", "Taxes to be recovered", AccountClass.Asset), ("G-2", "Wages", AccountClass.Expense), ("G-3", "Loans and leases", AccountClass.Liability));
        var board = Board(Chart(("10", "Wages to be paid", AccountClass.Liability), ("20", "Loan for the diggers", AccountClass.Liability),
            ("30", "Wages", AccountClass.Expense)), group, new());

        Assert.DoesNotContain(board.Waiting[0].Near, n => n.Group.Number == "G-1");
        Assert.Equal("G-3", board.Waiting[1].Best?.Group.Number);
        Assert.Equal(("G-2", true), (board.Waiting[2].Best?.Group.Number, board.Waiting[2].IsGood));
    }

    [Fact]
    public void Accounts_of_equal_number_are_told_apart_from_those_that_only_look_alike()
    {
        var board = Board(Chart(("1000", "Bank", AccountClass.Asset), ("2000", "Rent", AccountClass.Expense), ("3000", "Fees", AccountClass.Income)),
            Chart(("1000", "Money", AccountClass.Asset), ("2000", "Rent", AccountClass.Expense), ("4000", "Fees", AccountClass.Income)), new(), ("2000", "2000"));

        Assert.Equal(["1000"], board.Equal.Select(a => a.Number));
        Assert.Equal(["1000", "3000"], board.Waiting.Select(w => w.Account.Number));
        Assert.Equal((new GroupMatch("2000"), null), (board.Of("2000"), board.Of("1000")));
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Whatever_is_decided_taken_back_renamed_or_removed_meanwhile_the_board_suggests_what_it_would_without_keeping_anything(int seed)
    {
        var (chance, cache) = (new Random(seed), new SuggestionCache());
        var own = Enumerable.Range(1, 25).Select(i => (Number: i.ToString("0000", Written.Plain), Name: Name(), Class: Classes[chance.Next(4)])).ToList();
        var group = Enumerable.Range(1, 20).Select(i => (Number: $"G-{i}", Name: Name(), Class: Classes[chance.Next(4)])).ToList();
        var matched = new Dictionary<string, string>();
        for (var step = 0; step < 60; step++)
        {
            switch (chance.Next(6))
            {
                case 0 when matched.Count > 0:
                    matched.Remove(matched.Keys.First());
                    break;
                case 1:
                    var at = chance.Next(own.Count);
                    own[at] = own[at] with { Name = Name() };
                    break;
                case 2 when group.Count > 5:
                    var gone = group[chance.Next(group.Count)];
                    group.Remove(gone);
                    foreach (var account in matched.Where(m => m.Value == gone.Number).Select(m => m.Key).ToList())
                        matched.Remove(account);
                    break;
                default:
                    matched[own[chance.Next(own.Count)].Number] = group[chance.Next(group.Count)].Number;
                    break;
            }
            var decided = matched.Select(m => (m.Key, m.Value)).ToArray();
            var (kept, fresh) = (Board(Chart([.. own]), Chart([.. group]), cache, decided), Board(Chart([.. own]), Chart([.. group]), new(), decided));
            Assert.Equal(kept.Waiting.Select(w => w.Account), fresh.Waiting.Select(w => w.Account));
            // How rare a word is, and so the score, may stem from a chart that had more accounts; what is named is there.
            Assert.All(kept.Waiting, w => Assert.All(w.Near, n => Assert.Contains(n.Group, kept.Group)));
            if (group.Count == 20)
                Assert.Equal(Said(fresh), Said(kept));
        }

        string Name() => $"{Words[chance.Next(10)]} {Words[10 + chance.Next(4)]}";
    }
}
