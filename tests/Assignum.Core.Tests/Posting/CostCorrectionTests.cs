using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using CsCheck;

namespace Assignum.Core.Tests.Posting;

/// <summary>Stock that went below nothing, against pieces with a label each: when all has come, what is left is worth what the last ones cost.</summary>
public class CostCorrectionTests
{
    static readonly Gen<(bool Comes, int Quantity, int Cost)[]> Sequence = Gen.Select(Gen.Bool, Gen.Int[1, 12], Gen.Int[0, 9]).Array[1, 25];

    [Fact]
    public void Goods_that_left_before_they_came_cost_what_they_came_at() => Sequence.Sample(moves =>
    {
        var books = new Books();
        // On paper: what is there with its worth, or how many are missing and at what they left.
        var (quantity, value, last) = (0m, 0m, 0.85m);
        for (var i = 0; i < moves.Length; i++)
        {
            var (comes, moved, cost) = moves[i];
            var changed = Post(books, comes ? Comes($"R{i}", moved, cost) : Leaves($"S{i}", moved));
            if (comes)
            {
                var missing = Math.Max(0, -quantity);
                var covered = Math.Min(missing, moved);
                var leftAt = missing == 0 ? 0 : value / quantity;
                Assert.InRange(changed - covered * (leftAt - cost), -0.02m, 0.02m);
                (quantity, value) = (quantity + moved, moved > missing ? (missing > 0 ? (moved - missing) * cost : value + moved * cost) : value + covered * leftAt);
                last = cost > 0 ? cost : last;
            }
            else
            {
                var there = Math.Min(moved, Math.Max(0, quantity));
                value -= there == 0 ? 0 : there * (value / quantity);
                value -= (moved - there) * last;
                quantity -= moved;
                Assert.InRange(changed, -0.02m, 0.02m);
            }
            var parts = books.Stock.Standing("SEED-01", null);
            Assert.Equal(quantity, parts.Sum(p => p.Quantity));
            Assert.InRange(parts.Sum(p => p.Value) - value, -0.05m * (i + 1), 0.05m * (i + 1));
            Assert.All(parts, part => Assert.True(part.Quantity != 0 ? part.Value * part.Quantity >= 0 : part.Value == 0, $"{part} after {i}"));
        }
    }, iter: 500);

    [Theory]
    [InlineData(-3, -6, 7, 44, 35)] // 3 left at 2, 10 came at 5: 7 are left at 5.
    [InlineData(-3, -6, -1, 4, -2)] // 2 of 3 came: the last is still missing at 2.
    [InlineData(-3, -6, 0, 9, 0)] // All came: nothing is left, and nothing of a value.
    [InlineData(5, 10, 0, 0.01, 0)] // A cent on no goods.
    [InlineData(5, 10, 2, -4, 6)] // Below nothing for goods that are there: the last cost, 3.
    [InlineData(5, 10, 8, 19, 19)] // Nothing was missing: the average holds.
    public void Stock_is_worth(decimal quantityBefore, decimal valueBefore, decimal quantity, decimal value, decimal worth) =>
        Assert.Equal(value - worth, CostCorrection.OutBy(new("1300", quantityBefore, valueBefore), new("1300", quantity, value), 3, 2));

    // What a cost change did to the worth of stock.
    static decimal Post(Books books, BusinessEvent happened)
    {
        books.Stock.Watch();
        var prepared = Preparing.Prepare(EveryEvent.Compiled, happened, books);
        books.Apply(prepared.Happened, Assert.IsType<Landed>(Landing.Land(EveryEvent.Compiled, prepared.Happened)), 2);
        if (books.CostChangeAfter(prepared.Happened, 2) is not { } change)
            return 0;
        books.Apply(change, Assert.IsType<Landed>(Landing.Land(EveryEvent.Compiled, change)), 2);
        return change.Lines.Sum(line => line.Amount!.Value);
    }

    static PurchaseReceipt Comes(string id, int quantity, int cost) =>
        new() { Id = id, Date = Book.Day, Party = "S-10", Lines = [new GoodsLine { Item = "SEED-01", Quantity = quantity, UnitCost = cost }] };

    static Shipment Leaves(string id, int quantity) => new() { Id = id, Date = Book.Day, Lines = [new GoodsLine { Item = "SEED-01", Quantity = quantity }] };
}
