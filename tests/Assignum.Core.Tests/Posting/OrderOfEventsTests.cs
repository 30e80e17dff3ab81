using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using CsCheck;

namespace Assignum.Core.Tests.Posting;

/// <summary>Events that share no party, stock, money account or settlement come to the same in whichever order they are mixed.</summary>
public class OrderOfEventsTests
{
    sealed record Side(string Name, string Customer, string Supplier, string Item, string Money);

    static readonly Side Left = new("L", "C-10", "S-10", "SEED-01", "MAIN"), Right = new("R", "C-70", "B-10", "POT-12", "DOLLAR");

    static readonly Gen<(int Kind, int Quantity, int Price)[]> Steps = Gen.Select(Gen.Int[0, 6], Gen.Int[1, 9], Gen.Int[1, 20]).Array[1, 12];

    [Fact]
    public void Mixed_in_any_way_each_lands_as_it_does_after_its_own_alone() => Gen.Select(Steps, Steps, Gen.Int[0, int.MaxValue]).Sample((left, right, seed) =>
    {
        var (lefts, rights) = (Events(Left, left), Events(Right, right));
        var apart = Landed(lefts).Concat(Landed(rights)).ToDictionary(e => e.Id, e => e.Rows);
        var mixed = Landed(Mixed(lefts, rights, seed)).ToDictionary(e => e.Id, e => e.Rows);
        Assert.Equal(apart.OrderBy(e => e.Key, StringComparer.Ordinal), mixed.OrderBy(e => e.Key, StringComparer.Ordinal));
    }, iter: 500);

    static List<BusinessEvent> Events(Side side, (int Kind, int Quantity, int Price)[] steps) => [.. steps.Select((step, i) => Event(side, $"{side.Name}{i}", step))];

    static BusinessEvent Event(Side side, string id, (int Kind, int Quantity, int Price) step) => step.Kind switch
    {
        0 => new PurchaseReceipt { Id = id, Date = Book.Day, Party = side.Supplier, Lines = [new GoodsLine { Item = side.Item, Quantity = step.Quantity, UnitCost = step.Price }] },
        1 => new Shipment { Id = id, Date = Book.Day, Party = side.Customer, Lines = [new GoodsLine { Item = side.Item, Quantity = step.Quantity }] },
        2 => Priced(id, DocumentType.SalesInvoice, side.Customer, side.Item, step),
        3 => Priced(id, DocumentType.PurchaseInvoice, side.Supplier, side.Item, step),
        4 => Paid(id, PaymentType.CustomerPayment, side.Customer, side.Money, step.Quantity * step.Price),
        5 => Paid(id, PaymentType.SupplierPayment, side.Supplier, side.Money, step.Quantity * step.Price),
        _ => new StockAdjustment { Id = id, Date = Book.Day, Lines = [new GoodsLine { Item = side.Item, Quantity = -step.Quantity, Reason = "count" }] },
    };

    static Document Priced(string id, DocumentType type, string party, string item, (int, int Quantity, int Price) step) =>
        new() { Id = id, Type = type, Date = Book.Day, Party = party, Lines = [new DocumentLine { Item = item, Quantity = step.Quantity, Price = step.Price, TaxCode = "Z0" }] };

    static Payment Paid(string id, PaymentType type, string party, string money, decimal amount) =>
        new() { Id = id, Type = type, Date = Book.Day, Party = party, MoneyAccount = money, Amount = amount };

    static IEnumerable<BusinessEvent> Mixed(List<BusinessEvent> lefts, List<BusinessEvent> rights, int seed)
    {
        var (l, r, chance) = (0, 0, (uint)seed);
        while (l < lefts.Count || r < rights.Count)
        {
            chance = chance * 1664525 + 1013904223;
            yield return r == rights.Count || (l < lefts.Count && (chance >> 16) % 2 == 0) ? lefts[l++] : rights[r++];
        }
    }

    // Each event with its rows, and those of the change of cost that goes with it.
    static List<(string Id, string Rows)> Landed(IEnumerable<BusinessEvent> events)
    {
        var (books, landed) = (new Books(), new List<(string, string)>());
        foreach (var happened in events)
        {
            books.Stock.Watch();
            var prepared = Preparing.Prepare(EveryEvent.Compiled, happened, books);
            landed.Add((happened.Id, Apply(books, prepared.Happened)));
            if (books.CostChangeAfter(prepared.Happened, 2) is { } change)
                landed.Add((change.Id, Apply(books, change)));
        }
        return landed;
    }

    static string Apply(Books books, BusinessEvent happened)
    {
        var landed = Assert.IsType<Landed>(Landing.Land(EveryEvent.Compiled, happened));
        books.Apply(happened, landed, 2);
        return string.Join("; ", landed.Rows.Select(r => FormattableString.Invariant($"{r.Account.Number} {r.RungName} {r.Amount}")).Concat(landed.Moved()));
    }
}
