using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Journal;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Journal;

/// <summary>The journal: entries, newest first, by account, purpose, party and date.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(JournalStore journal) : CompanyPage
{
    const int Most = 60;

    /// <inheritdoc/>
    public override string Step => "Journal";
    [BindProperty(SupportsGet = true, Name = "account")]
    public string? TypedAccount { get; set; }
    [BindProperty(SupportsGet = true)]
    public string? Purpose { get; set; }
    [BindProperty(SupportsGet = true)]
    public string? Party { get; set; }
    [BindProperty(SupportsGet = true)]
    public DateOnly? From { get; set; }
    [BindProperty(SupportsGet = true)]
    public DateOnly? To { get; set; }
    [BindProperty(SupportsGet = true)]
    public long? Rule { get; set; }
    /// <summary>Code of the connection the events came from.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Connection { get; set; }
    /// <summary>Where the page before ended: "2026-11-20,512".</summary>
    [BindProperty(SupportsGet = true)]
    public string? After { get; set; }
    /// <summary>Entries shown.</summary>
    public IReadOnlyList<EntryListed> Entries { get; private set; } = [];
    /// <summary>How many entries there are in all.</summary>
    public long All { get; private set; }
    /// <summary>What is wrong with the filter.</summary>
    public IReadOnlyList<string> Faults { get; private set; } = [];
    /// <summary>The account filtered by.</summary>
    public Account? Account { get; private set; }
    /// <summary>Whether amounts are those of the lines that fit, and not whole entries.</summary>
    public bool OfLines => Account is not null || !string.IsNullOrEmpty(Purpose) || Rule is not null;
    /// <summary>Address of the next page, or null at the end.</summary>
    public string? Next { get; private set; }

    /// <summary>Shows entries.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync()
    {
        var account = Pick.One(TypedAccount, Draft.Book.Accounts, a => a.Number, a => a.Name, "account");
        var party = Pick.One(Party, Draft.Book.Parties, p => p.Code, p => p.Name, "party");
        Faults = [.. new[] { account.Fault, party.Fault, From > To ? "The first date lies after the last. Swap them." : null }.OfType<string>()];
        Account = account.Thing;
        All = await journal.Count(Company.Id, Stop);
        if (Faults.Count > 0)
            return;
        var filter = new JournalFilter(Draft.Labels.Account(account.Thing?.Number), string.IsNullOrEmpty(Purpose) ? null : Purpose, Draft.Labels.IdOf("party", party.Thing?.Code), From, To, Rule, string.IsNullOrEmpty(Connection) ? null : Connection);
        var entries = await journal.Page(Company.Id, filter, Place(After), Most + 1, Stop);
        Entries = [.. entries.Take(Most)];
        if (entries.Count > Most)
            Next = At("journal") + QueryString.Create(new Dictionary<string, string?>
            {
                ["account"] = TypedAccount, ["purpose"] = Purpose, ["party"] = Party, ["from"] = Show.Field(From), ["to"] = Show.Field(To), ["rule"] = Rule?.ToString(System.Globalization.CultureInfo.InvariantCulture),
                ["connection"] = Connection, ["after"] = FormattableString.Invariant($"{Show.Field(Entries[^1].Date)},{Entries[^1].Id}"),
            }.Where(p => !string.IsNullOrEmpty(p.Value)));
    }

    static JournalPlace? Place(string? after)
    {
        var parts = after?.Split(',');
        return parts is [var date, var id] && DateOnly.TryParseExact(date, "yyyy-MM-dd", out var day) && long.TryParse(id, out var entry) ? new JournalPlace(day, entry) : null;
    }
}
