using Assignum.Core.Changes;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.Tests.Posting;
using CsCheck;

namespace Assignum.Core.Tests.Changes;

/// <summary>What another rulebook would do to the same events, against landing each of them by hand under both.</summary>
public class LandingDifferenceTests
{
    static CompiledRulebook With(CompanyOptions options) => new(Book.Nursery.WithOptions(options));

    [Fact]
    public void Stock_that_is_no_longer_kept_leaves_its_cost_where_it_was()
    {
        var shipped = Book.Invoice(Book.Line("SEED-01", 10, 2.5m) with { StockMoves = true, UnitCost = 0.85m });
        var service = Book.Invoice(Book.Line("SEED-01", 1, 2.5m));

        var difference = LandingDifference.Of(With(new()), With(new() { PerpetualStock = false }), [shipped, service]);

        Assert.Equal((2, 1, 0, 0), (difference.Events, difference.Changed, difference.NewlyHeld, difference.NewlyLanded));
        Assert.Equal(0, difference.Shifts.Sum(s => s.Amount));
        Assert.Equal([8.5m, -8.5m], difference.Shifts.Select(s => s.Amount).OrderDescending());
    }

    [Fact]
    public void The_shifts_of_any_events_are_what_the_entries_differ_by() => EveryEvent.Any.Array[1, 12].Sample(events =>
    {
        var (before, after) = (EveryEvent.Compiled, new CompiledRulebook(EveryEvent.Compiled.Book.WithOptions(new() { SeparateDiscounts = true, PerpetualStock = false })));
        var difference = LandingDifference.Of(before, after, events);
        foreach (var account in EveryEvent.Compiled.Book.Accounts)
            Assert.Equal(Sum(after, events, account.Number) - Sum(before, events, account.Number), difference.Shifts.Where(s => s.Account == account.Number).Sum(s => s.Amount));
        Assert.Equal(events.Count(e => Landing.Land(before, e) is Landed && Landing.Land(after, e) is Held), difference.NewlyHeld);
    }, iter: 200);

    static decimal Sum(CompiledRulebook book, IEnumerable<BusinessEvent> events, string account) =>
        events.Sum(e => Landing.Land(book, e) is Landed landed ? landed.Rows.Where(r => r.Account.Number == account).Sum(r => r.Amount) : 0);
}
