using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using Assignum.Core.Rulebooks;
using CsCheck;

namespace Assignum.Core.Tests.Posting;

/// <summary>What is open against a list on paper: nothing is settled beyond itself, and what is refused moves nothing.</summary>
public class OpenItemsTests
{
    static readonly Gen<(bool Invoice, int Amount, int Of, int Part)[]> Sequence =
        Gen.Select(Gen.Bool, Gen.Int[1, 30], Gen.Int[0, 7], Gen.Int[1, 30]).Array[1, 25];

    [Fact]
    public void A_payment_lands_exactly_where_everything_it_names_is_still_open() => Sequence.Sample(steps =>
    {
        var (books, open) = (new Books(), new SortedDictionary<int, decimal>());
        for (var i = 0; i < steps.Length; i++)
        {
            var (invoice, amount, of, part) = steps[i];
            part = Math.Min(part, amount);
            var prepared = Preparing.Prepare(EveryEvent.Compiled, invoice ? Invoice($"I{i}", amount) : Pays($"P{i}", amount, ($"I{of}", part)), books);
            var fits = invoice || !open.TryGetValue(of, out var left) || part <= left;
            Assert.Equal(fits, prepared.Objections.Count == 0);
            if (!fits)
                continue;
            books.Apply(prepared.Happened, (Landed)Landing.Land(EveryEvent.Compiled, prepared.Happened), 2);
            if (invoice)
                open[i] = amount;
            else if (open.ContainsKey(of))
                open[of] -= part;
            Assert.Equal(open.Where(o => o.Value > 0).Select(o => ($"I{o.Key}", o.Value)),
                books.Items.Oldest("C-10", Purpose.Receivable, "EUR", 1).Select(o => (o.Event, o.Open)));
        }
    }, iter: 400);

    [Fact]
    public void What_is_settled_or_anothers_is_refused_at_its_place_and_what_has_not_come_stands_on_account()
    {
        var books = new Books();
        books.Items.Set("C-10", new("PAID", Purpose.Receivable, "receivable", "EUR", 0, 0, Book.Day));
        books.Items.Set("C-11", new("OTHERS", Purpose.Receivable, "receivable", "EUR", 50, 50, Book.Day));
        HeldReason? ObjectionTo(BusinessEvent happened) => Preparing.Prepare(EveryEvent.Compiled, happened, books).Objections.SingleOrDefault();

        Assert.Equal("settles[0].event", ObjectionTo(Pays("P", 10, ("PAID", 10)))!.Field);
        Assert.Equal("settles[0].event", ObjectionTo(Pays("P", 10, ("OTHERS", 10)))!.Field);
        Assert.Null(ObjectionTo(Pays("P", 10, ("NOT-YET", 10))));
    }

    [Fact]
    public void Parts_of_one_item_count_together_and_a_settlement_takes_from_the_side_an_item_stands_on()
    {
        var books = new Books();
        books.Items.Set("C-10", new("INV", Purpose.Receivable, "receivable", "EUR", 30, 30, Book.Day));
        books.Items.Set("C-10", new("CRN", Purpose.Receivable, "receivable", "EUR", -20, -20, Book.Day));
        string[] Fields(BusinessEvent happened) => [.. Preparing.Prepare(EveryEvent.Compiled, happened, books).Objections.Select(o => o.Field!)];
        Settlement Against(decimal invoice, decimal note) => new()
        {
            Id = "S", Date = Book.Day, Party = "C-10",
            Lines = [new() { Event = "INV", Of = ItemOf.Receivable, Amount = invoice }, new() { Event = "CRN", Of = ItemOf.Receivable, Amount = note }],
        };

        Assert.Equal(["settles[1].amount"], Fields(Pays("P", 40, ("INV", 20), ("INV", 20))));
        Assert.Empty(Fields(Against(20, -20)));
        Assert.Equal(["lines[1].amount"], Fields(Against(25, -25)));
        Assert.Equal(["lines[0].amount", "lines[1].amount"], Fields(Against(-20, 20)));
    }

    [Theory]
    [InlineData(60, "DEP", null)]
    [InlineData(61, "DEP", "amount")]
    [InlineData(10, "NONE", "refersTo")]
    [InlineData(61, null, "amount")]
    public void Of_a_deposit_no_more_is_taken_than_is_left(int amount, string? of, string? refusedAt)
    {
        var books = new Books();
        books.Items.Set("C-10", new("DEP", Purpose.CustomerDeposit, "customer-deposit", "EUR", -60, -60, Book.Day));
        foreach (var says in new[] { null, "customer-deposit" })
            Assert.Equal(refusedAt, Preparing.Prepare(EveryEvent.Compiled, new Applied
            {
                Id = "A", Type = AppliedType.DepositApplied, Date = Book.Day, Party = "C-10", Amount = amount, RefersTo = of, StandsOn = says,
            }, books).Objections.SingleOrDefault()?.Field);
    }

    static Document Invoice(string id, decimal net) => new()
    {
        Id = id, Type = DocumentType.SalesInvoice, Date = Book.Day, Party = "C-10", Lines = [new DocumentLine { Item = "SEED-01", Price = net, TaxCode = "Z0" }],
    };

    static Payment Pays(string id, decimal amount, params (string Event, decimal Amount)[] settles) => new()
    {
        Id = id, Type = PaymentType.CustomerPayment, Date = Book.Day, Party = "C-10", MoneyAccount = "MAIN", Amount = amount,
        Settles = [.. settles.Select(s => new SettledPart { Event = s.Event, Amount = s.Amount })],
    };
}
