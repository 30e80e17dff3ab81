using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>
/// Each part of the balance leaves the one account and comes to the other. Both accounts are given, so no rule is asked; what leaves may leave an account
/// that is no longer active. Subledgers are not touched: they are kept by party and item, not by account.
/// </summary>
static class ReclassificationRecipe
{
    internal static EventType Type { get; } = new(Reclassification.Name, EventFamily.Corrections,
    [
        EventFields.Adjustment, new("from", FieldKind.Code) { Required = true }, new("to", FieldKind.Code) { Required = true },
        new("lines", FieldKind.List)
        {
            Required = true,
            Inner = [new("amount", FieldKind.Amount) { Required = true }, new("currency", FieldKind.Code), new("documentAmount", FieldKind.Amount),
                new("party", FieldKind.Code), new("dimensions", FieldKind.Dimensions)],
        },
    ], static (book, happened) => Land(book, (Reclassification)happened));

    internal static Attempt Land(CompiledRulebook book, Reclassification moved)
    {
        if (FirstFault(book, moved, out var from, out var to) is { } fault)
            return new(new Held([fault]), null);
        var reasons = new List<HeldReason>();
        if (to.WhyNotPostable(moved.Date) is { } why)
            reasons.Add(new HeldReason(HeldCause.AccountNotPostable,
                $"Account {to.Number} {to.Name} {why}, and the balance of {from.Number} goes there. Choose a posting account that is active and valid on " +
                    $"{Written.DayNow(moved.Date)}.")
            {
                Account = to.Number,
            });
        var entry = new EntryDraft(book, new PostingContext(book, moved), reasons);
        for (var i = 0; i < moved.Lines.Count; i++)
            Move(book, moved, i, from, to, entry, reasons);
        var sofar = new Landed(entry.Rows, entry.Subledger);
        return new(reasons.Count == 0 ? sofar : new Held([.. reasons.Distinct()]), sofar);
    }

    static HeldReason? FirstFault(CompiledRulebook book, Reclassification moved, out Account from, out Account to)
    {
        (from, to) = (null!, null!);
        if (!book.Accounts.TryFind(moved.From, out var leaves))
            return HeldReason.Unknown("from", "account", moved.From, "Correct the number.");
        if (!book.Accounts.TryFind(moved.To, out var comes))
            return HeldReason.Unknown("to", "account", moved.To, "Add and release the account, or correct the number.");
        (from, to) = (leaves, comes);
        if (ReferenceEquals(from, to))
            return HeldReason.Invalid("to", $"Account {from.Number} is named as from and as to. Name two accounts.");
        if (from.Kind != AccountKind.Posting)
            return HeldReason.Invalid("from", $"Account {from.Number} {from.Name} is a {from.Kind.Word()}; nothing stands on it. Name a posting account.");
        return moved.Lines.Count == 0 ? HeldReason.Invalid("lines", "The reclassification has no lines. Give each part of the balance a line.") : null;
    }

    static void Move(CompiledRulebook book, Reclassification moved, int index, Account from, Account to, EntryDraft entry, List<HeldReason> reasons)
    {
        var line = moved.Lines[index];
        var place = new Place("lines", index);
        var company = Fold.Of(book.Book.Company.Currency);
        var currency = Fold.Of(line.Currency ?? company);
        if (AmountFault(line, currency, company, place) is { } fault)
        {
            reasons.Add(fault);
            return;
        }
        Party? party = null;
        if (line.Party is { } code && !book.Parties.TryFind(code, out party))
        {
            reasons.Add(HeldReason.Unknown(place.Of("party"), "party", code, "Add the party, or correct the code."));
            return;
        }
        var facts = new Facts();
        if (party is not null)
            book.SetParty(facts, book.Parties.IdOf(party.Code));
        var context = new RowContext { Facts = facts, Line = index, Party = party, Text = moved.Text, OwnDimensions = line.Dimensions };
        entry.PostGiven(from, context, -line.Amount, currency, -(line.DocumentAmount ?? line.Amount), line.Dimensions);
        var arriving = line.Dimensions.WithoutBarred(to).FilledBy(to);
        foreach (var (name, need) in to.Dimensions)
            if (need == DimensionNeed.Required && !arriving.Has(name))
                reasons.Add(new HeldReason(HeldCause.DimensionMissing,
                    $"Account {to.Number} {to.Name} requires dimension {name}, and a part of the balance of {from.Number} has none. Give the account a value " +
                        $"for {name}, or make it optional there.") { Account = to.Number });
        entry.PostGiven(to, context, line.Amount, currency, line.DocumentAmount ?? line.Amount, arriving);
    }

    static HeldReason? AmountFault(MovedBalance line, string currency, string company, Place place)
    {
        if (line.Amount == 0 || Math.Abs(line.Amount) >= Money.Limit || !Money.HasAtMost(line.Amount, Money.MinorUnits(company)))
            return HeldReason.Invalid(place.Of("amount"),
                $"{place.Of("amount")} is {line.Amount}. It is not 0, stays below {Money.Limit:N0} and has at most {Money.MinorUnits(company)} decimals.");
        if (!Money.TryMinorUnits(currency, out var units))
            return HeldReason.Invalid(place.Of("currency"), $"{place.Of("currency")} {currency} is no ISO 4217 code. Write one of three letters, such as EUR.");
        if (line.DocumentAmount is { } own && (Math.Abs(own) >= Money.Limit || !Money.HasAtMost(own, units)))
            return HeldReason.Invalid(place.Of("documentAmount"),
                $"{place.Of("documentAmount")} is {own}. It stays below {Money.Limit:N0} and has at most {units} decimals.");
        return null;
    }
}
