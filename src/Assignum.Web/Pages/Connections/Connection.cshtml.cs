using Assignum.Core;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Connections;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Connections;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages.Connections;

/// <summary>How the events of a connection are taken, as it was typed.</summary>
public sealed class SwitchForm
{
    /// <summary>New events: "post" or "review".</summary>
    public string? Events { get; set; }
    /// <summary>Revisions and withdrawals.</summary>
    public string? Revisions { get; set; }
    /// <summary>Refunds are taken.</summary>
    public bool Refunds { get; set; }
    /// <summary>Held money is taken without review.</summary>
    public bool HeldFunds { get; set; }
    /// <summary>Disputes are taken without review.</summary>
    public bool Disputes { get; set; }
    /// <summary>The first day that is taken.</summary>
    public DateOnly? From { get; set; }
    /// <summary>Items without a match: "hold" or "by-category".</summary>
    public string? Items { get; set; }
    /// <summary>Party for customers without a match.</summary>
    public string? Collective { get; set; }
    /// <summary>Time zone of its days.</summary>
    public string? TimeZone { get; set; }
    /// <summary>When a day ends there, "00:00".</summary>
    public string? DayEnd { get; set; }
}

/// <summary>One connection, from its address to its first event: reach it, fetch its lists, say how its events are taken, and start.</summary>
[Authorize(Policy = Policies.ReadsOrAdministers)]
public sealed class ConnectionModel(ConnectionStore connections, ListStore lists, ListFetching fetching, SystemClient client, Secrets secrets,
    AllowedHosts hosts, Feeding feeding, Receiving receiving, PartnerSystem partners, MatchStore matches) : ConnectionPage(connections, lists)
{
    readonly ConnectionStore connections = connections;
    readonly ListStore lists = lists;

    /// <summary>Why something was not done, and at which field.</summary>
    public Refusal? Refused { get; private set; }
    /// <summary>The address as it was typed.</summary>
    public string? Address { get; private set; }
    /// <summary>What was typed of the switches; null: nothing.</summary>
    public SwitchForm? Typed { get; private set; }
    /// <summary>Why a field was not taken; null: it was.</summary>
    public string? FaultOf(string field) => Refused?.Field == field ? Refused.Message : null;

    /// <summary>Shows it.</summary>
    [Needs(Need.ReadsOrAdministers)]
    public void OnGet() => Address = Connection.Address;

    /// <summary>Says where the other system is, and tests it.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostReachAsync(string? address, string? secret, long seen)
    {
        Address = address;
        if (hosts.Allow(address) is null)
            return Refuse(new("address", hosts.WhyNot(address)));
        if (string.IsNullOrWhiteSpace(secret) && Connection.Secret is null)
            return Refuse(new("secret", $"The secret is missing. {Connection.Name} shows it where its connections are made."));
        var refusal = await connections.SetAddress(Company.Id, UserId, Connection with { Stamp = seen }, address!.Trim(),
            string.IsNullOrWhiteSpace(secret) ? null : secrets.Close(secret.Trim()), Stop);
        if (refusal is not null)
            return Refuse(refusal);
        return await Try();
    }

    /// <summary>Tests it once more, and fetches its lists.</summary>
    [Needs(Need.PreparesOrAdministers)]
    public Task<IActionResult> OnPostFetchAsync() => Try();

    async Task<IActionResult> Try()
    {
        Connection = (await connections.Find(Company.Id, Connection.Code, Stop))!;
        try
        {
            var found = await fetching.Fetch(Company.Id, Connection, Stop);
            await MatchAccountsByGroup();
            var changes = found.Where(f => f.Found.New + f.Found.Changed + f.Found.Gone > 0).Select(f =>
                $"{Web.Connections.Lists.Titles[f.List].ToLowerInvariant()}: " +
                string.Join(", ", new[] { (f.Found.New, "new"), (f.Found.Changed, "changed"), (f.Found.Gone, "gone") }.Where(c => c.Item1 > 0).Select(c =>
                    $"{c.Item1} {c.Item2}")));
            return Done($"{Connection.Name} answers. " + (found.Any(f => f.Found.New + f.Found.Changed + f.Found.Gone > 0)
                ? $"Fetched {string.Join("; ", changes)}." : "Its lists have not changed."), AtConnection());
        }
        catch (OutsideException fault)
        {
            await Reload();
            Address = Connection.Address;
            return Refuse(new("reach", fault.Message));
        }
    }

    // Of a company of the group the group's chart says already which account is which, where only one can be meant.
    async Task MatchAccountsByGroup()
    {
        if (Connection.Partner is not { } link || !MayPrepare)
            return;
        var waiting = (await lists.Entries(Company.Id, Connection.Id, "accounts", Stop)).Where(e => e.Decided is null).Select(e => e.Sent.Code).ToHashSet();
        List<Decided> found = [.. (await partners.AccountsByGroup(link, Stop)).Where(a => waiting.Contains(a.Theirs))];
        if (found.Count > 0)
            await matches.Decide(Company.Id, UserId, Connection, "accounts", found, Stop);
    }

    /// <summary>Chooses there what is missing there.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostMissingAsync(string setting, string? account)
    {
        if (Books.Draft.Shown.Accounts.TryFind(Pick.CodeOf(account), out var found) is false)
            return Refuse(new("missing-" + setting, $"There is no account “{account}”. Type its number or part of its name."));
        try
        {
            await client.Set(Connection, setting, found!.Number, Stop);
            await fetching.Reach(Company.Id, Connection, Stop);
        }
        catch (OutsideException fault)
        {
            return Refuse(new("missing-" + setting, fault.Message));
        }
        return Done($"{found.Number} {found.Name} is chosen in {Connection.Name}.", AtConnection());
    }

    /// <summary>Tells the other system our side of a list.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostTellAsync(string list)
    {
        if (!ListStore.Known.Contains(list))
            return NotFound();
        var told = Web.Connections.Lists.Told(Books.Released.Stored.Book, list);
        try
        {
            await client.Tell(Connection, list, told, Stop);
        }
        catch (OutsideException fault)
        {
            return Refuse(new("reach", fault.Message));
        }
        await lists.Tell(Company.Id, Connection.Id, list, [.. told.Select(t => t.Code)], Stop);
        return Done($"{Connection.Name} has our {Show.Count(told.Count, Web.Connections.Lists.One(list))} now.", AtConnection());
    }

    /// <summary>Says how its events are taken.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostSwitchesAsync(SwitchForm form, long seen)
    {
        Typed = form;
        if (!TimeZoneInfo.TryFindSystemTimeZoneById(form.TimeZone?.Trim() ?? "", out var zone))
            return Refuse(new("timeZone", $"“{form.TimeZone}” is no time zone. Write it as Europe/Vienna or UTC."));
        if (!TimeOnly.TryParseExact(form.DayEnd?.Trim(), "HH:mm", out var dayEnd))
            return Refuse(new("dayEnd", $"“{form.DayEnd}” is no time. Write it as 04:00."));
        var party = Pick.CodeOf(form.Collective);
        if (party.Length > 0 && !Books.Draft.Shown.Parties.TryFind(party, out _))
            return Refuse(new("collective", $"There is no customer “{form.Collective}”. Type a code or part of a name, or leave it empty."));
        var switches = new Switches
        {
            Events = form.Events == "review" ? Taking.Review : Taking.Post, Revisions = form.Revisions == "review" ? Taking.Review : Taking.Post,
            Refunds = form.Refunds, HeldFunds = form.HeldFunds, Disputes = form.Disputes, From = form.From,
            Items = form.Items == "by-category" ? UnknownItems.ByCategory : UnknownItems.Hold, Collective = party.Length > 0 ? party : null,
        };
        return await connections.SetSwitches(Company.Id, UserId, Connection with { Stamp = seen }, switches, zone.Id, dayEnd, Stop) is { } refusal
            ? Refuse(refusal) : Done("Saved how its events are taken.", AtConnection());
    }

    /// <summary>Takes its events from now on, or no more.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostRunAsync(bool running, long seen)
    {
        if (await connections.SetRunning(Company.Id, UserId, Connection with { Stamp = seen }, running, Stop) is { } refusal)
            return Refuse(refusal);
        if (!running)
            return Done($"No more events of {Connection.Name} are taken.", AtConnection());
        var came = await feeding.Fetch(Company.Id, (await connections.Find(Company.Id, Connection.Code, Stop))!, Stop, Feeding.WhileWaiting);
        await receiving.Settle(Company.Id, Connection, null, Stop, parts: 1);
        return Done($"Events of {Connection.Name} are taken: {Show.Count(came, "event")} came" +
            (came == Feeding.Page * Feeding.WhileWaiting ? ", and more follow." : "."), AtConnection("inbox"));
    }

    PageResult Refuse(Refusal refusal)
    {
        Refused = refusal;
        Address ??= Connection.Address;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
