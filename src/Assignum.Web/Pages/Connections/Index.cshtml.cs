using Assignum.Storage.Connections;
using Assignum.Storage.Companies;
using Assignum.Storage.People;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Connections;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Connections;

/// <summary>A connection with how far it is.</summary>
public sealed record ConnectionLook(ConnectionRow Row, IReadOnlyDictionary<string, ListCount> Lists, IReadOnlyDictionary<InboxState, InboxCount> Inbox)
{
    /// <summary>How many entries there are, and how many of them wait.</summary>
    public (int Entries, int Waiting) Entries => (Lists.Values.Sum(l => l.Entries), Lists.Values.Sum(l => l.Waiting));
    /// <summary>How many events are in a state.</summary>
    public long Events(InboxState state) => Inbox.GetValueOrDefault(state)?.Events ?? 0;
}

/// <summary>The other systems: which are connected, what is matched, and what came.</summary>
[Authorize(Policy = Policies.ReadsOrAdministers)]
public sealed class IndexModel(ConnectionStore connections, ListStore lists, InboxStore inbox, Secrets secrets, AllowedHosts hosts, CompanyStore companies)
    : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Connections";
    /// <summary>The connections.</summary>
    public IReadOnlyList<ConnectionLook> All { get; private set; } = [];
    /// <summary>Whether the one who looks may add one.</summary>
    public bool MayAdminister => User.Has(Company.Code, Role.Administrator);
    /// <summary>Hosts that may be reached.</summary>
    public IReadOnlyCollection<string> Hosts => hosts.All;
    /// <summary>Companies of the same group that are no connection yet.</summary>
    public IReadOnlyList<CompanyRow> Partners { get; private set; } = [];
    /// <summary>Why one was not added.</summary>
    public Refusal? Refused { get; private set; }
    /// <summary>What was typed.</summary>
    public (string Code, string Name) Typed { get; private set; } = ("", "");

    /// <summary>Shows them.</summary>
    [Needs(Need.ReadsOrAdministers)]
    public Task OnGetAsync() => Lay();

    async Task Lay()
    {
        var counts = await lists.Counts(Company.Id, Stop);
        var came = (await inbox.Counts(Company.Id, Stop)).ToLookup(c => c.Connection);
        All = [.. (await connections.All(Company.Id, Stop)).Select(c => new ConnectionLook(c, ListCount.Of(counts, c, Books.Draft.Stored.Book),
            came[c.Id].ToDictionary(i => i.State)))];
        Partners = Company.Group is not { } group ? [] : [.. (await companies.All(Stop)).Where(c => c.Group == group && c.Id != Company.Id
            && c.PracticeOf is null
            && All.All(one => one.Row.Partner?.There != c.Id))];
    }

    /// <summary>Connects a company of the group: its lists and the documents it posts for us come from its own books.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostPartnerAsync(string? partner)
    {
        await Lay();
        if (Partners.FirstOrDefault(p => p.Code == partner) is not { } there)
            Refused = new("partner", "Which company of the group is connected is missing, or it is connected already. Choose one of the list.");
        else
            Refused = await connections.Add(Company.Id, UserId, there.Code.ToLowerInvariant(), there.Name, secrets.Close(Web.Connections.Secrets.New()), Stop,
                there.Id);
        if (Refused is null)
            return Done($"{partner} is connected. Fetch its lists, then match its items.", At("connections/" + partner!.ToLowerInvariant()));
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    /// <summary>Adds a connection.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostAsync(string? code, string? name)
    {
        Refused = await connections.Add(Company.Id, UserId, code ?? "", name ?? "", secrets.Close(Web.Connections.Secrets.New()), Stop);
        if (Refused is null)
            return Done($"{code!.Trim()} is added. Say where it is and test it.", At("connections/" + Uri.EscapeDataString(code.Trim())));
        Typed = (code ?? "", name ?? "");
        Response.StatusCode = StatusCodes.Status400BadRequest;
        await Lay();
        return Page();
    }
}
