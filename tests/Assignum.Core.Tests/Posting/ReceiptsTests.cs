using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using CsCheck;

namespace Assignum.Core.Tests.Posting;

/// <summary>What waits of receipts, against a shelf on which every single piece has a label: the oldest is taken first, by an invoice or by a receipt.</summary>
public class ReceiptsTests
{
    static readonly Gen<(bool Comes, int Quantity, int Price)[]> Sequence = Gen.Select(Gen.Bool, Gen.Int[1, 12], Gen.Int[1, 9]).Array[1, 25];

    static BusinessEvent Event(int number, bool comes, int quantity, int price, bool priced) => comes
        ? new PurchaseReceipt { Id = $"R{number}", Date = Book.Day, Party = "S-10", Lines = [new GoodsLine { Item = "SEED-01", Quantity = quantity, UnitCost = priced ? price : null }] }
        : new Document { Id = $"B{number}", Type = DocumentType.PurchaseInvoice, Date = Book.Day, Party = "S-10", Lines = [new DocumentLine { Item = "SEED-01", Quantity = quantity, Price = price }] };

    [Fact]
    public void The_oldest_pieces_are_taken_first_and_what_was_received_leaves_at_what_it_came() => Sequence.Sample(moves =>
    {
        var books = new Books();
        // Pieces that wait: above the line those received, below it those invoiced; never both.
        var (received, invoiced) = (new List<(string Of, int Worth)>(), new List<(string Of, int Worth)>());
        for (var i = 0; i < moves.Length; i++)
        {
            var (comes, quantity, price) = moves[i];
            var prepared = Preparing.Prepare(EveryEvent.Compiled, Event(i, comes, quantity, price, priced: comes && invoiced.Count == 0), books);
            var landed = Assert.IsType<Landed>(Landing.Land(EveryEvent.Compiled, prepared.Happened));
            books.Apply(prepared.Happened, landed, 2);

            var (theirs, own) = comes ? (invoiced, received) : (received, invoiced);
            var taken = theirs.Take(quantity).ToList();
            theirs.RemoveRange(0, taken.Count);
            var unit = comes && taken.Count > 0 ? 0 : price;
            if (unit > 0)
                own.AddRange(Enumerable.Repeat((prepared.Happened.Id, unit), quantity - taken.Count));
            else if (quantity > taken.Count)
                return; // What comes beyond what was invoiced comes at the average of that, which whole pieces can't show.
            if (!comes)
                Assert.Equal(taken.Sum(p => p.Worth) + (quantity - taken.Count) * price, landed.Rows.Where(r => r.Purpose?.Name == "goods-received-not-invoiced").Sum(r => r.Amount));

            var waits = Waiting(books);
            Assert.Equal(received.Concat(invoiced).CountBy(p => p.Of).Select(p => (p.Key, (decimal)p.Value)), waits.Select(w => (w.Event, Math.Abs(w.Quantity))));
            Assert.Equal(received.Sum(p => p.Worth), waits.Where(w => w.Quantity > 0).Sum(w => w.Amount));
        }
    }, iter: 400);

    // Takes everything that waits, on a copy.
    static List<Waiting> Waiting(Books books)
    {
        var asked = new PurchaseReceipt { Id = "?", Date = Book.Day, Party = "S-10" };
        return [.. new[] { 1_000_000m, -1_000_000m }.SelectMany(all => books.Receipts.Begin(asked, 2).Take("SEED-01", null, all, null)).Select(t => t.Line)];
    }

    [Fact]
    public void A_named_receipt_is_taken_before_older_ones_and_nobodys_after_the_suppliers_own()
    {
        var books = new Books();
        books.Receipts.Move("S-10", "SEED-01", new("OLD", 1, null, "2050", 3, 6));
        books.Receipts.Move("S-10", "SEED-01", new("NEW", 2, null, "2050", 3, 9));
        books.Receipts.Move(null, "SEED-01", new("NOBODY", 1, null, "2050", 3, 3));
        var invoice = (Document)Event(1, comes: false, 8, 1, priced: false) with { RefersTo = "NEW" };

        Assert.Equal(["NEW 3", "OLD 3", "NOBODY 2"], books.Receipts.Begin(invoice, 2).Take("SEED-01", null, 8, null).Select(t => $"{t.Line.Event} {t.Quantity:0}"));
    }

    [Fact]
    public void Goods_that_wait_on_two_accounts_make_two_lines_that_come_to_the_same_net()
    {
        var books = new Books();
        books.Receipts.Move("S-10", "SEED-01", new("A", 1, null, "2050", 3, 6));
        books.Receipts.Move("S-10", "SEED-01", new("B", 1, null, "2060", 4, 10));
        var invoice = new Document { Id = "B1", Type = DocumentType.PurchaseInvoice, Date = Book.Day, Party = "S-10", Lines = [new DocumentLine { Item = "SEED-01", Quantity = 5, Price = 2.33m, DiscountPercent = 5 }] };

        var lines = Assert.IsType<Document>(Preparing.Prepare(EveryEvent.Compiled, invoice, books).Happened).Lines;

        Assert.Equal([(3m, "2050", 6m), (2m, "2060", 5m)], lines.Select(l => (l.Quantity, l.StandsOn!, l.ReceivedAmount!.Value)));
        // 5 × 2.33 is 11.65, less 5 per cent 0.58.
        Assert.Equal(11.07m, lines.Sum(l => Math.Round(l.Quantity * l.Price!.Value, 2, MidpointRounding.AwayFromZero)));
        Assert.All(lines, l => Assert.True(l is { DiscountPercent: null, DiscountAmount: null }));
    }
}
