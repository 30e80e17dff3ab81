using System.Globalization;
using System.Text.Json.Nodes;

namespace Assignum.Simulators;

/// <summary>An event in the feed.</summary>
/// <param name="Raw">As it is given.</param>
/// <param name="Id">Its id; empty for rubbish.</param>
/// <param name="Revision">Its revision.</param>
/// <param name="Day">The day it is found by.</param>
public sealed record Fed(string Raw, string Id, int Revision, DateOnly Day);

/// <summary>Events in the order in which they are given; a cursor is a place among them.</summary>
public sealed class EventFeed
{
    readonly Lock gate = new();
    readonly List<Fed> events = [];

    public int Count
    {
        get { lock (gate) return events.Count; }
    }

    public DateOnly? Oldest
    {
        get { lock (gate) return events.Count == 0 ? null : events.Min(e => e.Day); }
    }

    public IReadOnlyList<string> Types { get; internal set; } = [];

    public void Add(JsonObject happened)
    {
        var at = happened["at"]?.GetValue<string>() ?? happened["date"]!.GetValue<string>();
        var day = DateOnly.ParseExact(at[..10], "yyyy-MM-dd", CultureInfo.InvariantCulture);
        lock (gate)
            events.Add(new(happened.ToJsonString(), happened["id"]!.GetValue<string>(), happened["revision"]?.GetValue<int>() ?? 1, day));
    }

    internal void AddRaw(string raw, DateOnly day)
    {
        lock (gate)
            events.Add(new(raw, "", 0, day));
    }

    /// <summary>Events after a place.</summary>
    public (IReadOnlyList<Fed> Events, int Next, bool More) After(int place, int most)
    {
        lock (gate)
        {
            var page = events.Skip(place).Take(most).ToList();
            return (page, place + page.Count, place + page.Count < events.Count);
        }
    }

    /// <summary>The place of the first event of a day, or later.</summary>
    public int From(DateOnly day)
    {
        lock (gate)
        {
            var at = events.FindIndex(e => e.Day >= day);
            return at < 0 ? events.Count : at;
        }
    }

    public IReadOnlyList<Fed> All
    {
        get { lock (gate) return [.. events]; }
    }

    /// <summary>Rearranges what is there as a misbehaving system would give it.</summary>
    public void Disarrange(Misbehaviour how, Random chance)
    {
        lock (gate)
        {
            var now = events.ToList();
            events.Clear();
            foreach (var one in now)
            {
                events.Add(one);
                if (how == Misbehaviour.Duplicates && chance.Next(4) == 0)
                    events.Insert(chance.Next(Math.Max(0, events.Count - 250), events.Count + 1), one);
                if (how == Misbehaviour.ChangedContent && chance.Next(10) == 0 && Changed(one) is { } changed)
                    events.Add(changed);
                if (how == Misbehaviour.Rubbish && chance.Next(15) == 0)
                    events.Add(one with { Raw = chance.Next(3) switch { 0 => "\"an order\"", 1 => """{"type":"sales-invoice","lines":[]}""",
                        _ => """{"id":"R-1","type":"sales-invoice","date":"2026-02-31","colour":"green"}""" }, Id = "", Revision = 0 });
                if (how == Misbehaviour.OutOfOrder && chance.Next(6) == 0 && Revised(one) is { } revised)
                    events.Insert(events.Count - 1, revised);
            }
        }
    }

    static Fed? Changed(Fed one)
    {
        var changed = JsonNode.Parse(one.Raw)!.AsObject();
        changed["text"] = "Changed afterwards";
        return one with { Raw = changed.ToJsonString() };
    }

    static Fed? Revised(Fed one)
    {
        var revised = JsonNode.Parse(one.Raw)!.AsObject();
        revised["revision"] = one.Revision + 1;
        revised["text"] = "As corrected";
        return one with { Raw = revised.ToJsonString(), Revision = one.Revision + 1 };
    }
}
