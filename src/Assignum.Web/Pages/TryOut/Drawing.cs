using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Subledgers;
using Assignum.Web.Pages.Controls;

namespace Assignum.Web.Pages.TryOut;

/// <summary>Events drawn up from what stands in the books, to be looked at before they are posted.</summary>
static class Drawing
{
    /// <summary>Items of a party against each other: as much as both sides have, the oldest first; or all of it let go.</summary>
    /// <param name="id">Id of the event.</param>
    /// <param name="day">Its day.</param>
    /// <param name="party">Code of the party.</param>
    /// <param name="items">The items, the oldest first, in one currency.</param>
    /// <param name="letGo">What they come to is let go as a tolerance.</param>
    internal static Settlement Settling(string id, DateOnly day, string party, IReadOnlyList<PartyItem> items, bool letGo)
    {
        var (debit, credit) = (items.Where(i => i.Open > 0).Sum(i => i.Open), -items.Where(i => i.Open < 0).Sum(i => i.Open));
        var left = new Dictionary<int, decimal> { [1] = letGo ? debit : Math.Min(debit, credit), [-1] = letGo ? credit : Math.Min(debit, credit) };
        var lines = new List<SettlementLine>();
        foreach (var item in items.Where(i => i.Open != 0))
        {
            var side = Math.Sign(item.Open);
            var amount = Math.Min(left[side], Math.Abs(item.Open));
            if (amount == 0)
                continue;
            left[side] -= amount;
            lines.Add(new() { Event = item.SourceId, Of = Words<ItemOf>.Parse(item.Purpose), Amount = side * amount });
        }
        return new Settlement { Id = id, Date = day, Party = party, Currency = items[0].Currency, Tolerance = letGo ? debit - credit : 0, Lines = lines };
    }

    /// <summary>Everything that stands on an old account goes where its rule sends it today.</summary>
    internal static StandingTransfer Transfer(string id, DateOnly day, Purpose purpose, string from, IEnumerable<StandsElsewhere> all, string currency) => new()
    {
        Id = id, Date = day, Purpose = purpose, From = from, Text = "Moved to the account of today's rule",
        Lines = [.. all.Where(s => s.There.Purpose == purpose && Fold.Same(s.There.Account, from)).Select(s => new StandingLine
        {
            Amount = s.There.Amount, Party = s.There.Party, Item = s.There.Item, Place = LinePlace.None with { Location = s.There.Location },
            Currency = s.There.Currency == currency ? null : s.There.Currency, DocumentAmount = s.There.Currency == currency ? null : s.There.DocumentAmount,
        })],
    };
}
