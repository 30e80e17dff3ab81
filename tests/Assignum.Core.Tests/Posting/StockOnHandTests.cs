using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using CsCheck;

namespace Assignum.Core.Tests.Posting;

/// <summary>The moving average against adding up: over any sequence of receipts and shipments, value and quantity are what a book of paper would show.</summary>
public class StockOnHandTests
{
    static readonly Gen<(bool Comes, decimal Quantity, decimal Cost)[]> Sequence =
        Gen.Select(Gen.Bool, Gen.Int[1, 5000], Gen.OneOf(Gen.Int[0, 99_999], Gen.Const(0))).Select((comes, quantity, cost) => (comes, quantity / 100m, cost / 1000m)).Array[1, 40];

    [Fact]
    public void What_is_left_is_worth_what_came_less_what_left_and_never_less_than_nothing() => Sequence.Sample(moves =>
    {
        var books = new Books();
        var (quantity, value) = (0m, 0m);
        foreach (var (comes, moved, cost) in moves)
        {
            if (!comes && quantity < moved)
                continue;
            BusinessEvent happened = comes ? new PurchaseReceipt { Id = "R", Date = Book.Day, Lines = [new GoodsLine { Item = "SEED-01", Quantity = moved, UnitCost = cost }] }
                : new Shipment { Id = "S", Date = Book.Day, Lines = [new GoodsLine { Item = "SEED-01", Quantity = moved }] };
            var prepared = Preparing.Prepare(EveryEvent.Compiled, happened, books);
            var landed = (Landed)Landing.Land(EveryEvent.Compiled, prepared.Happened);
            books.Apply(happened, landed, 2);

            var worth = comes ? Math.Round(moved * cost, 2, MidpointRounding.AwayFromZero)
                : Math.Round(moved * Math.Round(value / quantity, 6, MidpointRounding.AwayFromZero), 2, MidpointRounding.AwayFromZero);
            (quantity, value) = (quantity + (comes ? moved : -moved), value + (comes ? worth : -worth));
            Assert.Equal(value, landed.Subledger.Sum(m => m.Amount) + value - (comes ? worth : -worth) - landed.Subledger.Where(m => m.Subledger == Subledger.Purchasing).Sum(m => m.Amount));
            if (quantity > 0)
                Assert.Equal(Math.Max(0, Math.Round(value / quantity, 6, MidpointRounding.AwayFromZero)), books.Stock.Average("SEED-01", null));
        }
    }, iter: 500);

    [Fact]
    public void A_movement_knows_the_row_it_landed_with_and_subledgers_are_numbered_as_their_controls()
    {
        foreach (var subledger in Enum.GetValues<Subledger>())
            Assert.Equal(Words<Subledger>.Of(subledger), Words<Control>.Of((Control)(int)subledger));
        // A revaluation changes what a party's balance is worth, and no item of it.
        EveryEvent.Any.Where(e => e is not Revaluation).Sample(happened =>
        {
            var landed = (Landed)Landing.Land(EveryEvent.Compiled, happened);
            Assert.All(landed.Subledger.Where(m => m.Amount != 0 && m is StockMovement or PartyMovement), m => Assert.Equal(m.Amount, m.Row!.Amount));
        }, iter: 1500);
    }
}
