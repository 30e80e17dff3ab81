using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Preparation;

/// <summary>What is open of an item of a party.</summary>
/// <param name="Event">Id, at its source, of the event that opened it.</param>
/// <param name="Purpose">What it is: receivable, payable, or a deposit.</param>
/// <param name="Account">Number of the account it stands on.</param>
/// <param name="Currency">Its currency.</param>
/// <param name="Open">What is open, its currency, debit positive.</param>
/// <param name="Company">The same in company currency, as it was booked.</param>
/// <param name="Due">When it is due.</param>
public sealed record OpenItem(string Event, Purpose Purpose, string Account, string Currency, decimal Open, decimal Company, DateOnly Due)
{
    /// <summary>The dimensions it arose with: what settles it has the same.</summary>
    public Dimensions Dimensions { get; init; } = Dimensions.None;
}

/// <summary>Open items by party, in posting order.</summary>
public sealed class OpenItems
{
    readonly Dictionary<string, List<OpenItem>> ofParties = [];
    readonly HashSet<string> opened = new(StringComparer.Ordinal);

    /// <summary>Parties that were asked for, by the folds of their codes.</summary>
    public HashSet<string> Asked { get; } = [];

    /// <summary>Events whose items were asked for by name.</summary>
    public HashSet<string> Named { get; } = new(StringComparer.Ordinal);

    /// <summary>Lays down an item that the books have.</summary>
    public void Set(string party, OpenItem item)
    {
        opened.Add(item.Event);
        Of(party).Add(item);
    }

    /// <summary>The item that an event opened; null where it is not known, or nothing of it is open.</summary>
    public OpenItem? Find(string party, Purpose purpose, string currency, string id)
    {
        Named.Add(id);
        return Of(party).Find(item => item.Purpose == purpose && item.Currency == currency && item.Event == id && item.Open != 0);
    }

    /// <summary>Whether an event opened an item at all, whosever it is, and also where nothing of it is open any more.</summary>
    internal bool IsKnown(string id) => opened.Contains(id);

    /// <summary>What is open on one side, the oldest first: by the day it is due, then as it was posted.</summary>
    /// <param name="party">Code of the party.</param>
    /// <param name="purpose">What it is.</param>
    /// <param name="currency">Its currency.</param>
    /// <param name="side">1 for what stands in debit, -1 for what stands in credit.</param>
    public IEnumerable<OpenItem> Oldest(string party, Purpose purpose, string currency, int side) =>
        Of(party).Where(item => item.Purpose == purpose && item.Currency == currency && Math.Sign(item.Open) == side).OrderBy(item => item.Due);

    /// <summary>What an event has moved is open, or open no more, from now on.</summary>
    /// <param name="moved">The movement.</param>
    /// <param name="by">The event: what pays an item that has not come yet is an item of its own.</param>
    internal void Apply(PartyMovement moved, string by)
    {
        if (moved.Row is not { Purpose: { } purpose } row)
            return;
        Move(moved.Party.Code,
            new(IsKnown(moved.Document) ? moved.Document : by, purpose, row.Account.Number, moved.Value.Currency, moved.Value.DocumentAmount, moved.Amount,
                moved.Due) { Dimensions = row.Dimensions });
    }

    /// <summary>Adds to what is open of an item.</summary>
    /// <param name="party">Code of the party.</param>
    /// <param name="more">The item, with what comes to it, signed.</param>
    public void Move(string party, OpenItem more)
    {
        opened.Add(more.Event);
        var items = Of(party);
        var at = items.FindIndex(i => i.Event == more.Event && i.Purpose == more.Purpose && i.Currency == more.Currency && i.Account == more.Account);
        if (at < 0)
            items.Add(more);
        else
            items[at] = items[at] with { Open = items[at].Open + more.Open, Company = items[at].Company + more.Company };
    }

    List<OpenItem> Of(string party)
    {
        var key = Fold.Of(party);
        Asked.Add(key);
        if (!ofParties.TryGetValue(key, out var items))
            ofParties[key] = items = [];
        return items;
    }
}
