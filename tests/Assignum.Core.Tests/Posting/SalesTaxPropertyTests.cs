using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using CsCheck;

namespace Assignum.Core.Tests.Posting;

/// <summary>Tax of sales documents against a slow reading of 04: with or without tax in the prices, by document or by line, compound, and as charged.</summary>
public class SalesTaxPropertyTests
{
    static readonly TaxCode Two = new()
    {
        Code = "TWO",
        Components = [Part("STATE", 6, TaxBase.Net), Part("TOWN", 1.5m, TaxBase.NetAndPrevious), Part("PARISH", 0.75m, TaxBase.NetAndPrevious)],
    };

    static readonly Rulebook Nursery = Book.Nursery with { TaxCodes = [.. Book.Nursery.TaxCodes, Two] };

    static TaxComponent Part(string code, decimal percent, TaxBase on) => new() { Code = code, Base = on, Rates = [new TaxRate(new DateOnly(2020, 1, 1), percent)] };

    static readonly Gen<DocumentLine> AnyLine =
        from quantity in Gen.Int[-40, 200].Where(q => q != 0)
        from price in Gen.Int[0, 90_000]
        from discount in Gen.Int[0, 3]
        from tax in Gen.OneOf("S20", "R8", "TWO", "Z0")
        select new DocumentLine { Item = "SEED-01", Quantity = quantity / 4m, Price = price / 1000m, DiscountPercent = discount * 7.5m, TaxCode = tax };

    static readonly Gen<(Document Invoice, CompanyOptions Options, int[] Off)> AnyInvoice =
        from lines in AnyLine.Array[1, 7]
        from includes in Gen.Bool
        from byLine in Gen.Bool
        from apart in Gen.Bool
        from charges in Gen.Bool
        from off in Gen.Int[-1, 1].Array[8]
        select (new Document
        {
            Id = "INV", Type = DocumentType.SalesInvoice, Date = Book.Day, Party = "C-10", PricesIncludeTax = includes, Lines = lines,
        }, new CompanyOptions { TaxRounding = byLine ? TaxRounding.Line : TaxRounding.Document, SeparateDiscounts = apart }, charges ? off : []);

    [Fact]
    public void Taxes_nets_and_total_are_those_of_04() => AnyInvoice.Sample(made =>
    {
        var book = new CompiledRulebook(Nursery with { Company = Nursery.Company with { Options = made.Options } });
        var slowly = new Slowly(made.Invoice, made.Options);
        // What the source computed lies a minor unit off here and there, which one line of the code already allows.
        var charged = made.Off.Length == 0 ? [] : slowly.Taxes.Where(t => !t.Label.StartsWith("Z0", StringComparison.Ordinal))
            .Select((t, i) => new ChargedTax(t.Label.Split('/')[0], t.Label.Contains('/', StringComparison.Ordinal) ? t.Label.Split('/')[1] : null, t.Tax + 0.01m * made.Off[i % 8])).ToList();
        var invoice = made.Invoice with { Tax = charged };
        if (charged.Count > 0)
            slowly = new Slowly(invoice, made.Options);

        var landed = Assert.IsType<Landed>(Landing.Land(book, invoice));
        Assert.Equal(slowly.Taxes.Select(t => FormattableString.Invariant($"{t.Label} {t.Tax:0.00}")), landed.Totals!.Taxes.Select(t => FormattableString.Invariant($"{t.Label} {t.Tax:0.00}")));
        Assert.Equal(slowly.Nets, landed.Totals.Lines.Select(l => l!.Net));
        Assert.Equal(slowly.Nets.Sum() + slowly.Taxes.Sum(t => t.Tax), landed.Totals.Total);
        if (invoice.PricesIncludeTax)
            Assert.Equal(invoice.Lines.Sum(Slowly.AfterDiscount), landed.Totals.Total);
        Assert.Equal(0, landed.Rows.Sum(r => r.Amount));
        Assert.Equal(landed.Totals.Total, landed.Rows.Where(r => r.Purpose == Purpose.Receivable).Sum(r => r.Amount));
    }, iter: 3000);

    [Fact]
    public void What_is_left_goes_unit_by_unit_to_the_largest_bases() =>
        Gen.Select(Gen.Int[-100_000, 100_000], Gen.Select(Gen.Int[-9000, 9000], Gen.Int[-50, 50]).Array[1, 9]).Sample((whole, lines) =>
        {
            decimal[] shares = [.. lines.Select(l => l.Item1 / 100m)], bases = [.. lines.Select(l => (decimal)l.Item2)];
            Assert.Equal(Slowly.HandedOut(whole / 100m, shares, bases), HandingOut.Over(whole / 100m, shares, bases, 2));
        }, iter: 600);

    /// <summary>04's paragraphs on tax, one after the other, with nothing shared.</summary>
    sealed class Slowly
    {
        internal List<(string Label, decimal Tax)> Taxes { get; } = [];
        internal decimal[] Nets { get; }

        internal Slowly(Document invoice, CompanyOptions options)
        {
            var byLine = options.TaxRounding == TaxRounding.Line;
            Nets = [.. invoice.Lines.Select(AfterDiscount)];
            foreach (var code in invoice.Lines.Select(l => l.TaxCode!).Distinct())
            {
                int[] own = [.. Enumerable.Range(0, invoice.Lines.Count).Where(i => invoice.Lines[i].TaxCode == code)];
                var tax = Nursery.TaxCodes.Single(t => t.Code == code);
                if (invoice.PricesIncludeTax)
                    Inclusive(tax, own, byLine, invoice.Tax);
                else
                    foreach (var (label, amount) in OnNets(tax, own, byLine))
                        Taxes.Add((label, Charged(invoice.Tax, label) ?? amount));
            }
        }

        internal static decimal AfterDiscount(DocumentLine line)
        {
            var gross = Cents(line.Quantity * line.Price!.Value);
            return gross - Cents(gross * line.DiscountPercent!.Value / 100);
        }

        void Inclusive(TaxCode code, int[] own, bool byLine, IReadOnlyList<ChargedTax> charged)
        {
            var percent = 0m;
            foreach (var part in code.Components)
                percent += part.Rates[0].Percent * (part.Base == TaxBase.Net ? 1 : (100 + percent) / 100);
            decimal[] within = [.. own.Select(i => Nets[i])];
            decimal Tax(decimal inclusive) => Cents(inclusive * percent / (100 + percent));
            var tax = byLine ? within.Sum(Tax) : Tax(within.Sum());
            SetNets(tax);
            var parts = OnNets(code, own, byLine).ToList();
            parts[^1] = (parts[^1].Label, tax - parts.SkipLast(1).Sum(p => p.Tax));
            var taken = parts.ConvertAll(p => (p.Label, Tax: Charged(charged, p.Label) ?? p.Tax));
            Taxes.AddRange(taken);
            if (taken.Sum(t => t.Tax) != tax)
                SetNets(taken.Sum(t => t.Tax));

            void SetNets(decimal whole)
            {
                var nets = HandedOut(within.Sum() - whole, [.. within.Select(w => w - Tax(w))], within);
                for (var k = 0; k < own.Length; k++)
                    Nets[own[k]] = nets[k];
            }
        }

        IEnumerable<(string Label, decimal Tax)> OnNets(TaxCode code, int[] own, bool byLine)
        {
            var (before, beforeOf) = (0m, new decimal[own.Length]);
            foreach (var part in code.Components)
            {
                var tax = 0m;
                if (byLine)
                {
                    for (var k = 0; k < own.Length; k++)
                    {
                        var ofLine = Cents((Nets[own[k]] + (part.Base == TaxBase.Net ? 0 : beforeOf[k])) * part.Rates[0].Percent / 100);
                        (tax, beforeOf[k]) = (tax + ofLine, beforeOf[k] + ofLine);
                    }
                }
                else
                    tax = Cents((own.Sum(i => Nets[i]) + (part.Base == TaxBase.Net ? 0 : before)) * part.Rates[0].Percent / 100);
                before += tax;
                yield return (part.Code is null ? code.Code : code.Code + "/" + part.Code, tax);
            }
        }

        static decimal? Charged(IReadOnlyList<ChargedTax> charged, string label) =>
            charged.FirstOrDefault(c => (c.Component is null ? c.TaxCode : c.TaxCode + "/" + c.Component) == label)?.Amount;

        // One unit after the other, to the line with the largest base that has not had one in this round.
        internal static decimal[] HandedOut(decimal whole, decimal[] shares, decimal[] bases)
        {
            decimal[] handed = [.. shares];
            var had = new HashSet<int>();
            while (handed.Sum() != whole)
            {
                if (had.Count == handed.Length)
                    had.Clear();
                var next = Enumerable.Range(0, handed.Length).Where(i => !had.Contains(i)).MaxBy(i => Math.Abs(bases[i]));
                handed[next] += whole > handed.Sum() ? 0.01m : -0.01m;
                had.Add(next);
            }
            return handed;
        }

        static decimal Cents(decimal amount) => Math.Round(amount, 2, MidpointRounding.AwayFromZero);
    }
}
