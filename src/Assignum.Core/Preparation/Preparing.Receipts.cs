using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Preparation;

/// <content>Goods that were received before their invoice, or invoiced before they came.</content>
public sealed partial class Preparing
{
    /// <summary>Goods of a supplier's invoice that were received before: at what, and the account where they wait. Where they wait on several accounts, a
    /// line becomes several, the further ones at the end, which come to the same net.</summary>
    internal IReadOnlyList<DocumentLine> Received(Document invoice)
    {
        var taking = books.Receipts.Begin(happened, book.CompanyMinorUnits);
        var (made, further) = (new List<DocumentLine>(invoice.Lines.Count), new List<DocumentLine>());
        for (var i = 0; i < invoice.Lines.Count; i++)
        {
            var line = invoice.Lines[i];
            if (!Waits(line.Item, out var item) || line is not { StockMoves: false, ReceivedCost: null, ReceivedAmount: null, Quantity: > 0 })
                made.Add(line);
            else if (Received(invoice, line, item, $"Line {i + 1}", taking) is var parts)
            {
                made.Add(parts[0]);
                further.AddRange(parts.Skip(1));
            }
        }
        return [.. made, .. further];
    }

    List<DocumentLine> Received(Document invoice, DocumentLine line, Item item, string where, ReceiptTaking taking)
    {
        var taken = taking.Take(item.Code, line.Location ?? invoice.Location, line.Quantity, line.RefersToLine);
        if (taken.Count == 0)
            return [line];
        foreach (var part in taken)
            Note(where, "received at", $"{Shown(part.Amount)} {book.CompanyCurrency}", $"{Written.NumberNow(part.Quantity)} of {part.Line.Event} wait on " +
                $"{part.Line.Account}");
        var byAccount = taken.GroupBy(part => part.Line.Account, StringComparer.OrdinalIgnoreCase).ToList();
        if (line.StandsOn is null && byAccount.Count > 1 && PricedParts(line, [.. byAccount.Select(a => a.Sum(part => part.Quantity))]) is { } parts)
            return [.. parts.Zip(byAccount, (part, account) => part with { ReceivedAmount = account.Sum(t => t.Amount), StandsOn = account.Key }),
                .. parts.Skip(byAccount.Count)];
        return [line with { ReceivedAmount = taken.Sum(t => t.Amount) + RestOf(invoice, line, item, taken), StandsOn = line.StandsOn ?? byAccount[0].Key }];
    }

    // Stock that has not come yet waits at what the invoice says; of anything else, nothing waits.
    decimal RestOf(Document invoice, DocumentLine line, Item item, List<ReceiptTaking.Taken> taken)
    {
        var covered = taken.Sum(t => t.Quantity);
        if (covered == line.Quantity || item.Kind != ItemKind.Stock)
            return 0;
        var unit = invoice.PricesIncludeTax ? taken.Sum(t => t.Amount) / covered : line.Net(MinorUnits) * (happened.Rate ?? 1) / line.Quantity;
        return Money.Round((line.Quantity - covered) * unit, book.CompanyMinorUnits);
    }

    // The same net on several lines, each with a price that its own part of it comes from; null where no price of 6 decimals does.
    List<DocumentLine>? PricedParts(DocumentLine line, List<decimal> quantities)
    {
        if (line.Quantity - quantities.Sum() is > 0 and var rest)
            quantities.Add(rest);
        var net = line.Net(MinorUnits);
        var nets = HandingOut.Over(net, quantities.ConvertAll(q => Money.Round(net * q / line.Quantity, MinorUnits)), quantities, MinorUnits);
        var parts = quantities.Select((quantity, i) => line with
        {
            Quantity = quantity, Price = Money.Round(nets[i] / quantity, 6), DiscountPercent = null, DiscountAmount = null,
        }).ToList();
        return parts.Select((part, i) => part.Amounts(MinorUnits).Gross == nets[i]).All(same => same) ? parts : null;
    }

    /// <summary>Goods that come before their invoice at what an earlier invoice says they cost.</summary>
    internal IReadOnlyList<GoodsLine> Invoiced(IReadOnlyList<GoodsLine> lines)
    {
        var taking = books.Receipts.Begin(happened, book.CompanyMinorUnits);
        return [.. lines.Select((line, i) =>
        {
            if (!Waits(line.Item, out var item) || line is not { UnitCost: null, Quantity: > 0 })
                return line;
            var taken = taking.Take(item.Code, line.Place.Location ?? happened.Location, -line.Quantity, line.Place.RefersToLine);
            if (taken.Count == 0)
                return line;
            var cost = Money.Round(Math.Max(0, taken.Sum(t => t.Amount) / taken.Sum(t => t.Quantity)), 6);
            Note($"Line {i + 1}", "cost of one unit", Written.NumberNow(cost),
                $"{string.Join(", ", taken.Select(t => t.Line.Event).Distinct())} invoiced it so");
            return line with { UnitCost = cost };
        })];
    }

    // Goods whose receipt and invoice meet: all but goods of kind stock that are not kept in stock. What waits is asked for also where a line says all itself:
    // what it moves belongs to lines of receipts.
    bool Waits(string? code, out Item item)
    {
        item = null!;
        if (code is null || !book.Items.TryFind(code, out item!) || (item.Kind == ItemKind.Stock && !book.Book.Company.Options.PerpetualStock))
            return false;
        books.Receipts.Of(happened.Party, item.Code);
        return true;
    }

    string Shown(decimal amount) => amount.ToString("N" + book.CompanyMinorUnits, Written.Now);
}
