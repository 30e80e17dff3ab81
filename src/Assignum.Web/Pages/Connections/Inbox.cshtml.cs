using Assignum.Core;
using Assignum.Storage.Connections;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Connections;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Connections;

/// <summary>What came through a connection, and what became of it.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class InboxModel(ConnectionStore connections, ListStore lists, InboxStore inbox, Receiving receiving, Feeding feeding)
    : ConnectionPage(connections, lists)
{
    const int Page_ = 60;
    readonly ConnectionStore connections = connections;

    /// <summary>Only what is in this state; null: all.</summary>
    [BindProperty(SupportsGet = true, Name = "state")]
    public string? Of { get; set; }
    /// <summary>Part of an id there.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Sought { get; set; }
    /// <summary>Rows.</summary>
    public IReadOnlyList<InboxRow> Rows { get; private set; } = [];
    /// <summary>How much is in which state.</summary>
    public IReadOnlyDictionary<InboxState, InboxCount> ByState { get; private set; } = new Dictionary<InboxState, InboxCount>();
    /// <summary>When the oldest came of what waits for somebody, or for its turn; null: nothing waits.</summary>
    public DateTime? OldestWaiting => new[] { InboxState.Review, InboxState.Held, InboxState.Waiting }.Select(s => ByState.GetValueOrDefault(s)?.Oldest).Min();

    /// <summary>What became of an event, in words: "to review".</summary>
    internal static string Word(InboxState state) => state switch
    {
        InboxState.Waiting => "just came", InboxState.Review => "to review", InboxState.Left => "not taken", _ => Words<InboxState>.Of(state),
    };

    /// <summary>Its ink.</summary>
    internal static string Tone(InboxState state) => state switch
    {
        InboxState.Review or InboxState.Held => "c", InboxState.Refused or InboxState.Unreadable => "d", _ => "soft",
    };

    /// <summary>How it came: "with its feed".</summary>
    internal static string Way(Via via) => via switch
    {
        Via.Feed => "with its feed", Via.Hook => "by a call", Via.Api => "over the API", _ => "sent again by hand",
    };

    /// <summary>What became of one event, before the reason.</summary>
    internal static string Fate(InboxState state) => state switch
    {
        InboxState.Posted => "It is in the books.", InboxState.Held => "It is held:", InboxState.Review => "It waits for review:",
        InboxState.Refused => "It was refused:", InboxState.Left => "It is not taken:", InboxState.Unreadable => "It can’t be read:",
        _ => "It is about to be looked at.",
    };

    /// <summary>How long ago a moment was, in its largest unit: "3 hours".</summary>
    internal static string Ago(DateTime at) => (DateTime.UtcNow - at) switch
    {
        { TotalDays: >= 1 } age => Show.Count((long)age.TotalDays, "day"),
        { TotalHours: >= 1 } age => Show.Count((long)age.TotalHours, "hour"),
        { TotalMinutes: >= 1 } age => Show.Count((long)age.TotalMinutes, "minute"),
        var age => Show.Count((long)age.TotalSeconds, "second"),
    };

    /// <summary>How many came in each of the last 48 hours, by hours ago.</summary>
    public IReadOnlyDictionary<int, long> Rate { get; private set; } = new Dictionary<int, long>();
    /// <summary>Whether older ones follow.</summary>
    public long? Before { get; private set; }
    /// <summary>One of them, looked at.</summary>
    public InboxRow? One { get; private set; }
    /// <summary>Why something was not done.</summary>
    public Refusal? Refused { get; private set; }

    /// <summary>The state chosen.</summary>
    public InboxState? State => Of is not null && Words<InboxState>.TryParse(Of, out var state) ? state : null;

    /// <summary>Shows the inbox.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync(long? before) => Lay(before);

    async Task Lay(long? before)
    {
        ByState = (await inbox.Counts(Company.Id, Stop)).Where(c => c.Connection == Connection.Id).ToDictionary(c => c.State);
        Rate = (await inbox.Rate(Company.Id, Connection.Id, Stop)).ToDictionary(r => r.Hour, r => r.Came);
        Rows = await inbox.List(Company.Id, Connection.Id, State, string.IsNullOrWhiteSpace(Sought) ? null : Sought.Trim(), before, AtMost(Page_) + 1, Stop);
        if (Rows.Count > AtMost(Page_))
            (Before, Rows) = (Rows[AtMost(Page_) - 1].Id, [.. Rows.Take(AtMost(Page_))]);
    }

    /// <summary>Shows one: as it came, beside what it became.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetOneAsync(long id)
    {
        One = await inbox.Find(Company.Id, id, Stop);
        return One is null ? NotFound() : Page();
    }

    /// <summary>Posts what somebody has looked at; what would land differently by now is shown first.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostApproveAsync(long[] id, bool all)
    {
        var ids = all ? [.. (await inbox.List(Company.Id, Connection.Id, InboxState.Review, null, null, 5_000, Stop)).Select(r => r.Id).Order()] : id;
        var (settled, differ) = await receiving.Approve(Company.Id, UserId, Connection, [.. ids.Order()], Stop);
        return Done($"{Show.Count(settled, "event")} posted." + (differ > 0 ? $" {Show.Count(differ, "event")} would land differently now than when it came: " +
            "look at what differs, then approve again." : ""), AtConnection("inbox?state=review"));
    }

    /// <summary>Does not take what waits for review.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostLeaveAsync(long[] id, string? why)
    {
        if (string.IsNullOrWhiteSpace(why))
        {
            Refused = new("why", "Say why it is not taken: whoever audits it will ask. Write a few words.");
            Response.StatusCode = StatusCodes.Status400BadRequest;
            if (id.Length == 1)
                One = await inbox.Find(Company.Id, id[0], Stop);
            await Lay(null);
            return Page();
        }
        var left = await inbox.Leave(Company.Id, id, $"{why.Trim()} ({User.Identity!.Name})", Stop);
        return Done($"{Show.Count(left, "event")} not taken.", AtConnection("inbox?state=review"));
    }

    /// <summary>Sends something again, mended: it comes as something new, and what came stays as it is.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAgainAsync(long id, string? raw)
    {
        if (string.IsNullOrWhiteSpace(raw))
            return NotFound();
        var ids = await receiving.Take(Company.Id, Connection, Via.Again, [raw], Stop);
        await receiving.Settle(Company.Id, Connection, UserId, Stop, ids);
        var now = await inbox.Find(Company.Id, ids[0], Stop);
        if (now is { State: InboxState.Unreadable or InboxState.Refused })
        {
            (One, Refused) = (await inbox.Find(Company.Id, id, Stop), new("raw", now.Message ?? ""));
            Typed = raw;
            Response.StatusCode = StatusCodes.Status400BadRequest;
            return Page();
        }
        return Done($"Sent again: {now!.SourceId} is {Words<InboxState>.Of(now.State)}.", AtConnection($"inbox?handler=one&id={now.Id}"));
    }

    /// <summary>What was typed to be sent again.</summary>
    public string? Typed { get; private set; }

    /// <summary>Fetches the feed again from a day on; what has come before is known again.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostReplayAsync(DateOnly? from)
    {
        if (from is null)
        {
            Refused = new("from", "The day is missing. Give the day from which events are fetched again.");
            Response.StatusCode = StatusCodes.Status400BadRequest;
            await Lay(null);
            return Page();
        }
        var had = await Total();
        var came = await feeding.Fetch(Company.Id, Connection with { Cursor = null, Switches = Connection.Switches with { From = from } }, Stop,
            Feeding.WhileWaiting);
        await receiving.Settle(Company.Id, Connection, null, Stop, parts: 1);
        var fault = (await connections.Find(Company.Id, Connection.Code, Stop))?.Fault;
        return Done(fault ?? $"{Show.Count(came, "event")} fetched again from {Show.Day(from.Value)} on: {await Total() - had:N0} of them new, the " +
            $"others known.{(came == Feeding.Page * Feeding.WhileWaiting ? " More follow." : "")}",
            AtConnection("inbox"));
    }

    async Task<long> Total() => (await inbox.Counts(Company.Id, Stop)).Where(c => c.Connection == Connection.Id).Sum(c => c.Events);
}
