using Assignum.Core.Posting;

namespace Assignum.Core.Preparation;

/// <summary>Goods of one line that were received and not invoiced, or invoiced and not received.</summary>
/// <param name="Event">Id of the receipt, or of the invoice that came before it.</param>
/// <param name="Line">Its line, from 1; 0 where it is of none.</param>
/// <param name="Place">Code of the location; null: said nowhere.</param>
/// <param name="Account">Number of the account they stand on.</param>
/// <param name="Quantity">Above 0: received and not invoiced; below: invoiced and not received.</param>
/// <param name="Amount">Company currency, with the sign of the quantity.</param>
public sealed record Waiting(string Event, int Line, string? Place, string Account, decimal Quantity, decimal Amount);

/// <summary>The part of a movement that belongs to one line of a receipt.</summary>
/// <param name="Event">Id of the event that opened it; null: the one that moves.</param>
/// <param name="Line">Its line there.</param>
/// <param name="Quantity">As the subledger moves, debit positive.</param>
/// <param name="Amount">Company currency, debit positive.</param>
public readonly record struct ReceiptPart(string? Event, int Line, decimal Quantity, decimal Amount);

/// <summary>Receipts line by line: what waits for its invoice or its receipt, oldest first, the one a document names before the others.</summary>
public sealed class Receipts
{
    readonly Dictionary<(string Party, string Item), List<Waiting>> waiting = [];

    /// <summary>Parties (empty: of none) and items that were asked for, by the folds of their codes.</summary>
    public HashSet<(string Party, string Item)> Asked { get; } = [];

    /// <summary>Adds to what waits of a line; what comes to nothing waits no more.</summary>
    /// <param name="party">Code of the supplier; null: of none.</param>
    /// <param name="item">Code of the item.</param>
    /// <param name="more">The line, with what comes to it, signed.</param>
    public void Move(string? party, string item, Waiting more)
    {
        var lines = Of(party, item);
        var at = lines.FindIndex(line => line.Event == more.Event && line.Line == more.Line && Fold.Same(line.Account, more.Account));
        if (at < 0)
            lines.Add(more);
        else if (lines[at] with { Quantity = lines[at].Quantity + more.Quantity, Amount = lines[at].Amount + more.Amount } is var left
            && left is { Quantity: 0, Amount: 0 })
            lines.RemoveAt(at);
        else
            lines[at] = left;
    }

    /// <summary>What a document takes, before it has landed: its own lines never take the same twice.</summary>
    internal ReceiptTaking Begin(BusinessEvent happened, int minorUnits) => new(this, happened, minorUnits);

    /// <summary>What an event has moved, line by line of the receipts it belongs to, stands there from now on.</summary>
    /// <param name="happened">The event, prepared.</param>
    /// <param name="landed">How it landed.</param>
    /// <param name="minorUnits">Minor units of the company's currency.</param>
    internal IReadOnlyDictionary<StockMovement, IReadOnlyList<ReceiptPart>> Apply(BusinessEvent happened, Landed landed, int minorUnits)
    {
        var parts = new Dictionary<StockMovement, IReadOnlyList<ReceiptPart>>(ReferenceEqualityComparer.Instance);
        foreach (var moved in landed.Subledger.OfType<StockMovement>().Where(m => m is { Subledger: Subledger.Purchasing, Item: not null }))
        {
            var (taken, rest) = Parts(moved, Begin(happened, minorUnits));
            var (party, account) = (happened.Party, moved.Row?.Account.Number ?? "");
            foreach (var (line, owner, part) in taken)
                Move(owner, moved.Item!.Code, line with { Quantity = -part.Quantity, Amount = -part.Amount });
            if (rest is { } own)
                Move(party, moved.Item!.Code, new(happened.Id, own.Line, moved.Location?.Code, account, -own.Quantity, -own.Amount));
            parts[moved] = [.. taken.Select(t => t.Part), .. rest is { } opened ? [opened] : Array.Empty<ReceiptPart>()];
        }
        return parts;
    }

    static (List<(Waiting Line, string? Owner, ReceiptPart Part)> Taken, ReceiptPart? Own) Parts(StockMovement moved, ReceiptTaking taking)
    {
        var line = moved.Row?.Context.Line + 1 ?? 0;
        var taken = taking.Take(moved.Item!.Code, moved.Location?.Code, moved.Quantity, null)
            .ConvertAll(t => (t.Line, t.Owner, Part: new ReceiptPart(t.Line.Event, t.Line.Line, t.Quantity, t.Amount)));
        var (quantity, amount) = (moved.Quantity - taken.Sum(t => t.Part.Quantity), moved.Amount - taken.Sum(t => t.Part.Amount));
        if (quantity != 0 || taken.Count == 0)
            return (taken, new(null, line, quantity, amount));
        // Everything moved belongs to what was taken: what the amounts differ by stays with the last of it.
        taken[^1] = taken[^1] with { Part = taken[^1].Part with { Amount = taken[^1].Part.Amount + amount } };
        return (taken, null);
    }

    internal List<Waiting> Of(string? party, string item)
    {
        var key = (Fold.Of(party ?? ""), Fold.Of(item));
        Asked.Add(key);
        if (!waiting.TryGetValue(key, out var lines))
            waiting[key] = lines = [];
        return lines;
    }
}

/// <summary>What one document takes of what waits.</summary>
sealed class ReceiptTaking(Receipts receipts, BusinessEvent happened, int minorUnits)
{
    internal readonly record struct Taken(Waiting Line, string? Owner, decimal Quantity, decimal Amount);

    readonly Dictionary<string, List<(string? Owner, Waiting Line)>> left = new(StringComparer.Ordinal);

    /// <summary>Takes a quantity: of the receipt the document names, then the oldest; the supplier's own before those of nobody.</summary>
    /// <param name="item">Code of the item.</param>
    /// <param name="place">Code of the location; null: anywhere.</param>
    /// <param name="quantity">Above 0: takes what was received; below: what was invoiced.</param>
    /// <param name="namedLine">The line it names, from 1, or null.</param>
    internal List<Taken> Take(string item, string? place, decimal quantity, int? namedLine)
    {
        var taken = new List<Taken>();
        if (quantity == 0)
            return taken;
        var lines = Of(item);
        foreach (var (owner, line) in lines.Where(l => Math.Sign(l.Line.Quantity) == Math.Sign(quantity)
            && (place is null || l.Line.Place is null || Fold.Same(l.Line.Place, place)))
            .OrderByDescending(l => l.Line.Event == happened.RefersTo ? 1 + (l.Line.Line == namedLine ? 1 : 0) : 0).ToList())
        {
            var part = Math.Sign(quantity) * Math.Min(Math.Abs(quantity), Math.Abs(line.Quantity));
            var amount = part == line.Quantity ? line.Amount : Money.Round(line.Amount * part / line.Quantity, minorUnits);
            taken.Add(new(line, owner, part, amount));
            var at = lines.FindIndex(l => ReferenceEquals(l.Line, line));
            lines[at] = (owner, line with { Quantity = line.Quantity - part, Amount = line.Amount - amount });
            if ((quantity -= part) == 0)
                break;
        }
        return taken;
    }

    List<(string? Owner, Waiting Line)> Of(string item)
    {
        if (!left.TryGetValue(item, out var lines))
            left[item] = lines = [.. receipts.Of(happened.Party, item).Select(line => (happened.Party, line)),
                .. happened.Party is null ? [] : receipts.Of(null, item).Select(line => ((string?)null, line))];
        return lines;
    }
}
