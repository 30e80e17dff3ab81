using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using CsCheck;

namespace Assignum.Core.Tests.Posting;

/// <summary>Purchases against a slow reading of 04, row by row, and their movements against their control rows.</summary>
public class PurchasePropertyTests
{
    static readonly Gen<DocumentLine> AnyLine =
        from what in Gen.OneOf("SEED-01", "POT-12", "DELIV", "6310")
        from quantity in Gen.Int[-50, 200].Where(q => q != 0)
        from price in Gen.Int[0, 50_000]
        from discount in Gen.Int[0, 3]
        from tax in Gen.OneOf("S20", "R8", "HALF", "TWO", "RC", "Z0")
        from goods in Gen.Int[0, 3]
        from cost in Gen.Int[0, 4000]
        select new DocumentLine
        {
            Item = what == "6310" ? null : what, Account = what == "6310" ? what : null, Quantity = quantity / 4m, Price = price / 1000m, DiscountPercent = discount * 10, TaxCode = tax,
            StockMoves = goods == 1, ReceivedCost = goods == 2 && what != "6310" ? cost / 1000m : null, UnitCost = cost / 1000m,
        };

    static readonly Gen<(Document Bill, CompanyOptions Options)> AnyBill =
        from lines in AnyLine.Array[1, 6]
        from note in Gen.Bool
        from rate in Gen.Int[0, 3_000_000]
        from byLine in Gen.Bool
        from apart in Gen.Bool
        from perpetual in Gen.Int[0, 4]
        select (PurchaseTests.Bill([.. lines.Select(l => note ? l with { ReceivedCost = null } : l)]) with
        {
            Type = note ? DocumentType.PurchaseCreditNote : DocumentType.PurchaseInvoice, Currency = rate == 0 ? null : "USD", Rate = rate == 0 ? null : rate / 1_000_000m,
        }, new CompanyOptions { TaxRounding = byLine ? TaxRounding.Line : TaxRounding.Document, SeparateDiscounts = apart, PerpetualStock = perpetual > 0 });

    [Fact]
    public void Every_row_is_the_one_04_writes_and_the_entry_balances() => AnyBill.Sample(made =>
    {
        var landed = PurchaseTests.Nursery.WithOptions(made.Options).Lands(made.Bill);
        var rows = landed.Rows.Where(r => r.Purpose != Purpose.Rounding).Select(r => FormattableString.Invariant($"{r.Purpose} {r.Amount:0.00}"));

        Assert.Equal(new Slowly(made.Bill, made.Options).Rows.Select(r => FormattableString.Invariant($"{r.Purpose} {r.Amount:0.00}")), rows);
        Assert.Equal(0, landed.Rows.Sum(r => r.Amount));
        foreach (var (subledger, purposes) in new (Subledger, Purpose[])[]
        {
            (Subledger.Payables, [Purpose.Payable]), (Subledger.Inventory, [Purpose.Inventory]), (Subledger.Purchasing, [Purpose.GoodsReceivedNotInvoiced]), (Subledger.Tax, [Purpose.InputTax, Purpose.OutputTax]),
        })
            Assert.Equal(landed.Rows.Where(r => purposes.Contains(r.Purpose)).Sum(r => r.Amount), landed.Subledger.Where(m => m.Subledger == subledger).Sum(m => m.Amount));
    }, iter: 3000);

    [Fact]
    public void Rounding_explains_every_bill_in_another_currency_over_goods_that_came_before_or_go_back() => AnyBill.Sample(made =>
    {
        var goods = made.Bill.Lines.Where(l => l.Item is "SEED-01" or "POT-12").ToArray();
        if (goods.Length == 0)
            return;
        var bill = made.Bill with
        {
            Currency = "USD", Rate = made.Bill.Rate ?? 0.777m,
            Lines = [.. goods.Select(l => made.Bill.Type == DocumentType.PurchaseInvoice ? l with { StockMoves = false, ReceivedCost = l.UnitCost } : l with { StockMoves = true })],
        };
        var rows = PurchaseTests.Nursery.WithOptions(made.Options).Lands(bill).Rows;

        Assert.InRange(rows.Where(r => r.Purpose == Purpose.Rounding).Sum(r => Math.Abs(r.Amount)), 0, 0.005m * (rows.Count + goods.Length));
    }, iter: 5000);

    [Fact]
    public void A_credit_note_over_what_is_no_stock_is_the_mirror_of_the_invoice() => AnyBill.Sample(made =>
    {
        var bill = made.Bill with { Type = DocumentType.PurchaseInvoice, Lines = [.. made.Bill.Lines.Where(l => l.Item is null or "DELIV").Select(l => l with { ReceivedCost = null, StockMoves = false })] };
        var book = PurchaseTests.Nursery.WithOptions(made.Options);

        Assert.Equal(book.Lands(bill).Rows.Select(r => (r.Purpose, r.Account.Number, r.Amount)), book.Lands(bill with { Type = DocumentType.PurchaseCreditNote }).Rows.Select(r => (r.Purpose, r.Account.Number, -r.Amount)));
    }, iter: 500);

    /// <summary>04's paragraphs on purchases, one after the other, with nothing shared.</summary>
    sealed class Slowly(Document bill, CompanyOptions options)
    {
        readonly int sign = bill.Type == DocumentType.PurchaseCreditNote ? -1 : 1;

        internal List<(Purpose Purpose, decimal Amount)> Rows
        {
            get
            {
                var rows = new List<(Purpose, decimal)>();
                var mains = bill.Lines.Select(line => Line(line, rows)).ToList();
                var owed = bill.Lines.Sum(Net);
                foreach (var code in bill.Lines.Select(l => l.TaxCode!).Distinct())
                    owed += Taxes(PurchaseTests.Nursery.TaxCodes.Single(t => t.Code == code), mains, rows);
                rows.Add((Purpose.Payable, -Company(owed)));
                return [.. rows.Where(r => r.Item2 != 0).Select(r => (r.Item1, sign * r.Item2))];
            }
        }

        Purpose Line(DocumentLine line, List<(Purpose, decimal)> rows)
        {
            var kind = line.Item is null ? (ItemKind?)null : line.Item == "DELIV" ? ItemKind.Charge : ItemKind.Stock;
            var stock = kind == ItemKind.Stock && options.PerpetualStock;
            var whole = !stock && options.SeparateDiscounts ? Gross(line) : Net(line);
            Purpose main;
            if (line.ReceivedCost is { } received && (stock || kind != ItemKind.Stock))
            {
                main = stock ? Purpose.PriceVariance : Purpose.PurchaseExpense;
                rows.Add((Purpose.GoodsReceivedNotInvoiced, Cents(line.Quantity * received)));
                rows.Add((main, Company(whole) - Cents(line.Quantity * received)));
            }
            else if (stock && sign < 0 && line.StockMoves)
            {
                main = Purpose.PriceVariance;
                rows.Add((Purpose.Inventory, Cents(line.Quantity * line.UnitCost!.Value)));
                rows.Add((main, Company(whole) - Cents(line.Quantity * line.UnitCost!.Value)));
            }
            else
            {
                main = !stock ? Purpose.PurchaseExpense : sign < 0 ? Purpose.PriceVariance : line.StockMoves ? Purpose.Inventory : Purpose.GoodsReceivedNotInvoiced;
                rows.Add((main, Company(whole)));
            }
            if (!stock && options.SeparateDiscounts)
                rows.Add((Purpose.PurchaseDiscount, -Company(Gross(line) - Net(line))));
            return main;
        }

        // What the supplier is owed for it.
        decimal Taxes(TaxCode code, List<Purpose> mains, List<(Purpose, decimal)> rows)
        {
            var lines = Enumerable.Range(0, bill.Lines.Count).Where(i => bill.Lines[i].TaxCode == code.Code).ToList();
            var (before, own, sum) = (0m, lines.ToDictionary(i => i, _ => 0m), 0m);
            foreach (var component in code.Components)
            {
                var compound = component.Base == TaxBase.NetAndPrevious;
                var percent = component.Rates[0].Percent;
                var byLine = lines.ToDictionary(i => i, i => Cents((Net(bill.Lines[i]) + (compound ? own[i] : 0)) * percent / 100));
                var tax = options.TaxRounding == TaxRounding.Line ? byLine.Values.Sum() : Cents((lines.Sum(i => Net(bill.Lines[i])) + (compound ? before : 0)) * percent / 100);
                var recovered = Cents(tax * component.RecoverablePercent / 100);
                rows.Add((Purpose.InputTax, Company(recovered)));
                if (code.ReverseCharge)
                    rows.Add((Purpose.OutputTax, -Company(tax)));
                var shares = lines.ToDictionary(i => i, i => Cents((Net(bill.Lines[i]) + (compound ? own[i] : 0)) * percent / 100 * (100 - component.RecoverablePercent) / 100));
                while (tax != recovered && shares.Values.Sum() != tax - recovered)
                    foreach (var i in lines.OrderByDescending(i => Math.Abs(Net(bill.Lines[i]))))
                        if (shares.Values.Sum() is var handed && handed != tax - recovered)
                            shares[i] += 0.01m * Math.Sign(tax - recovered - handed);
                if (tax != recovered)
                    rows.AddRange(lines.Select(i => (mains[i], Company(shares[i]))));
                foreach (var i in lines)
                    own[i] += byLine[i];
                (before, sum) = (before + tax, sum + (code.ReverseCharge ? 0 : tax));
            }
            return sum;
        }

        static decimal Gross(DocumentLine line) => Cents(line.Quantity * line.Price!.Value);

        static decimal Net(DocumentLine line) => Gross(line) - Cents(Gross(line) * line.DiscountPercent!.Value / 100);

        decimal Company(decimal amount) => Cents(amount * (bill.Rate ?? 1));

        static decimal Cents(decimal amount) => Math.Round(amount, 2, MidpointRounding.AwayFromZero);
    }
}
