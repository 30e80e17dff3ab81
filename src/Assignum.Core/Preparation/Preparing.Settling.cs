using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Preparation;

/// <content>Open items that are settled, and deposits that are taken of.</content>
public sealed partial class Preparing
{
    /// <summary>Which items are settled: those that are named, with the account they stand on and what they were booked at; where none is named, the oldest
    /// first.</summary>
    /// <param name="parts">What the event names.</param>
    /// <param name="whole">What there is to settle with, document currency.</param>
    /// <param name="purpose">Receivable or payable.</param>
    /// <param name="side">1 where what stands in debit is settled, -1 where what stands in credit is.</param>
    internal IReadOnlyList<SettledPart> Parts(IReadOnlyList<SettledPart> parts, decimal whole, Purpose purpose, int side)
    {
        if (KnownParty is not { } party)
            return parts;
        purpose = purpose.With(TheParty);
        if (parts.Count == 0)
            return [.. OldestFirst(party, whole, purpose, side)];
        var settling = new Settling(this, party);
        return [.. parts.Select((part, i) =>
        {
            settling.Take(new Place("settles", i), purpose, part.Event, side * part.Amount);
            return WithItem(part, party, purpose, $"Part {i + 1}");
        })];
    }

    IEnumerable<SettledPart> OldestFirst(string party, decimal whole, Purpose purpose, int side)
    {
        foreach (var item in books.Items.Oldest(party, purpose, Currency, side))
        {
            if (whole <= 0)
                yield break;
            var amount = Math.Min(whole, Math.Abs(item.Open));
            whole -= amount;
            Note("The document", "settles", $"{Written.NumberNow(amount)} {Currency} of {item.Event}",
                $"due {Written.DayNow(item.Due)}, the oldest first; it stands on {item.Account}");
            yield return new SettledPart
            {
                Event = item.Event, Amount = amount, Account = item.Account, CompanyAmount = BookedOf(item, amount),
                Dimensions = DimensionsOf(item, null, null),
            };
        }
    }

    SettledPart WithItem(SettledPart part, string party, Purpose purpose, string where)
    {
        if (books.Items.Find(party, purpose, Currency, part.Event) is not { } item)
            return part;
        if (part.Account is null)
            Note(where, "stands on", item.Account, $"{part.Event} stands there");
        var booked = part.Rate is null && part.CompanyAmount is null ? BookedOf(item, part.Amount) : part.CompanyAmount;
        if (booked is { } company && part.CompanyAmount is null)
            Note(where, "booked at", $"{Written.NumberNow(company)} {book.CompanyCurrency}", $"{part.Event} was booked so");
        return part with { Account = part.Account ?? item.Account, CompanyAmount = booked, Dimensions = DimensionsOf(item, part.Dimensions, where) };
    }

    // The dimensions of an item go with its settlement, so that what it left there comes to nothing.
    Dimensions? DimensionsOf(OpenItem item, Dimensions? said, string? where)
    {
        if (said is not null || item.Dimensions.IsEmpty)
            return said;
        if (where is not null)
            Note(where, "dimensions", item.Dimensions.ToString(), $"{item.Event} arose with them");
        return item.Dimensions;
    }

    // Of what is settled whole nothing is left in company currency; of a part, its share.
    decimal? BookedOf(OpenItem item, decimal amount) =>
        IsForeign && item.Open != 0 ? Math.Abs(Money.Round(item.Company * amount / item.Open, book.CompanyMinorUnits)) : null;

    /// <summary>A deposit that is applied or comes back: the account it stands on, and what it was booked at.</summary>
    /// <param name="amount">How much of it, document currency.</param>
    /// <param name="purpose">Customer's or supplier's deposit.</param>
    /// <param name="side">1 for what stands in debit, -1 for what stands in credit.</param>
    /// <param name="says">The event says itself what it frees: nothing is filled in.</param>
    /// <returns>The event that brought it, the account, the rate it was booked at where it is in another currency, and what frees the last of it.</returns>
    internal (string? Event, string? Account, decimal? Rate, decimal? Company) Deposit(decimal amount, Purpose purpose, int side, bool says)
    {
        if (KnownParty is not { } party)
            return default;
        var item = happened.RefersTo is { } named ? books.Items.Find(party, purpose, Currency, named)
            : books.Items.Oldest(party, purpose, Currency, side).FirstOrDefault();
        if (item is null || Math.Abs(item.Open) < amount)
        {
            objections.Add(DepositTooSmall(party, item, amount));
            return (happened.RefersTo, item?.Account, null, null);
        }
        if (says)
            return (item.Event, null, null, null);
        Note("The document", "stands on", item.Account, $"the deposit {item.Event} stands there");
        if (!IsForeign)
            return (item.Event, item.Account, null, null);
        var rate = Money.Round(item.Company / item.Open, 12);
        Note("The document", "deposit booked at", Written.NumberNow(rate), $"{item.Event} was booked so");
        return (item.Event, item.Account, rate, amount == Math.Abs(item.Open) ? BookedOf(item, amount) : null);
    }

    /// <summary>Items that are settled against each other: the account each stands on, and what it was booked at.</summary>
    internal IReadOnlyList<SettlementLine> Items(IReadOnlyList<SettlementLine> lines)
    {
        if (KnownParty is not { } party)
            return lines;
        var settling = new Settling(this, party);
        return [.. lines.Select((line, i) =>
        {
            var purpose = SettlementRecipe.PurposeOf(line.Of).With(TheParty);
            settling.Take(new Place("lines", i), purpose, line.Event, line.Amount);
            if (books.Items.Find(party, purpose, Currency, line.Event) is not { } item)
                return line;
            if (line.Account is null)
                Note($"Line {i + 1}", "stands on", item.Account, $"{line.Event} stands there");
            var booked = line.Rate is null && line.CompanyAmount is null && BookedOf(item, Math.Abs(line.Amount)) is { } company
                ? company * Math.Sign(line.Amount) : line.CompanyAmount;
            return line with
            {
                Account = line.Account ?? item.Account, CompanyAmount = booked, Dimensions = DimensionsOf(item, line.Dimensions, $"Line {i + 1}"),
            };
        })];
    }

    HeldReason DepositTooSmall(string party, OpenItem? item, decimal amount)
    {
        if (item is not null)
            return HeldReason.Invalid("amount", $"The deposit {item.Event} has {ShownOf(Math.Abs(item.Open))} left, and {ShownOf(amount)} is taken of it. " +
                "Take at most what is left of one deposit, and the rest of another by an event of its own.");
        return happened.RefersTo is { } named
            ? HeldReason.Invalid("refersTo", $"{named} is no deposit of {party} in {Currency} of which anything is left. Correct what it refers to, or post " +
                "it first.")
            : HeldReason.Invalid("party", $"{party} has no deposit in {Currency} of which anything is left. Post the deposit first, or correct party or " +
                "currency.");
    }

    string ShownOf(decimal amount) => $"{amount.ToString("N" + MinorUnits, Written.Now)} {Currency}";

    /// <summary>What an event takes of open items, part by part: never more than is open.</summary>
    sealed class Settling(Preparing preparing, string party)
    {
        readonly Dictionary<(Purpose, string), decimal> taken = [];

        /// <param name="place">The part.</param>
        /// <param name="purpose">What its item is.</param>
        /// <param name="id">The event that opened it.</param>
        /// <param name="amount">Document currency; positive takes away what stands in debit.</param>
        internal void Take(Place place, Purpose purpose, string id, decimal amount)
        {
            var item = preparing.books.Items.Find(party, purpose, preparing.Currency, id);
            var open = item?.Open ?? 0;
            var before = taken.GetValueOrDefault((purpose, id));
            taken[(purpose, id)] = before + amount;
            // What pays an invoice that has not come yet stands on account until it has.
            if (Math.Sign(amount) * (open - before) >= Math.Abs(amount) || (item is null && !preparing.books.Items.IsKnown(id)))
                return;
            preparing.objections.Add(item is null
                ? HeldReason.Invalid(place.Of("event"), $"{place.InWords}: nothing of {id} is open for {party} in {preparing.Currency}: it is settled, or " +
                    "another's. Correct the event, or leave the amount on account.")
                : HeldReason.Invalid(place.Of("amount"), $"{place.InWords}: {preparing.ShownOf(Math.Abs(amount))} is settled of {id}, of which " +
                    $"{preparing.ShownOf(Math.Max(0, Math.Sign(amount) * (open - before)))} is open. Lower the amount; what is left of a payment stands " +
                    "on account."));
        }
    }
}
