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
    internal static Outcome Land(CompiledRulebook book, Reclassification moved)
    {
        if (FirstFault(book, moved, out var from, out var to) is { } fault)
            return new Held([fault]);
        var reasons = new List<HeldReason>();
        if (to.WhyNotPostable(moved.Date) is { } why)
            reasons.Add(new HeldReason(HeldCause.AccountNotPostable, $"Account {to.Number} {to.Name} {why}, and the balance of {from.Number} shall go there. Choose a posting account that is active and valid on {moved.Date:yyyy-MM-dd}.") { Account = to.Number });
        var rows = new List<EntryRow>();
        for (var i = 0; i < moved.Lines.Count; i++)
            AddRows(book, moved, i, from, to, rows, reasons);
        return reasons.Count == 0 ? new Landed(rows, []) : new Held([.. reasons.Distinct()]);
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

    static void AddRows(CompiledRulebook book, Reclassification moved, int index, Account from, Account to, List<EntryRow> rows, List<HeldReason> reasons)
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
        rows.Add(Row(from, -line.Amount, -(line.DocumentAmount ?? line.Amount), line.Dimensions));
        var arriving = line.Dimensions.WithoutBarred(to).FilledBy(to);
        foreach (var (name, need) in to.Dimensions)
            if (need == DimensionNeed.Required && !arriving.Has(name))
                reasons.Add(new HeldReason(HeldCause.DimensionMissing, $"Account {to.Number} {to.Name} requires dimension {name}, and a part of the balance of {from.Number} has none. Give the account a value for {name}, or make it optional there.") { Account = to.Number });
        rows.Add(Row(to, line.Amount, line.DocumentAmount ?? line.Amount, arriving));

        EntryRow Row(Account account, decimal amount, decimal documentAmount, Dimensions dimensions) => new()
        {
            Account = account, Amount = amount, Currency = currency, DocumentAmount = documentAmount, Purpose = null, By = AnsweredBy.Given, Context = context, Dimensions = dimensions,
        };
    }

    static HeldReason? AmountFault(MovedBalance line, string currency, string company, Place place) =>
        line.Amount == 0 || Math.Abs(line.Amount) >= Money.Limit || !Money.HasAtMost(line.Amount, Money.MinorUnits(company))
            ? HeldReason.Invalid(place.Of("amount"), $"{place.Of("amount")} is {line.Amount}. It is not 0, stays below {Money.Limit:N0} and has at most {Money.MinorUnits(company)} decimals.")
        : !Money.TryMinorUnits(currency, out var units)
            ? HeldReason.Invalid(place.Of("currency"), $"{place.Of("currency")} {currency} is no ISO 4217 code. Write one of three letters, such as EUR.")
        : line.DocumentAmount is { } own && (Math.Abs(own) >= Money.Limit || !Money.HasAtMost(own, units))
            ? HeldReason.Invalid(place.Of("documentAmount"), $"{place.Of("documentAmount")} is {own}. It stays below {Money.Limit:N0} and has at most {units} decimals.")
        : null;
}
