using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Sheets;
using Assignum.Storage.Journal;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Journal;

/// <summary>The journal: entries, newest first, by account, purpose, party, event, document, amount and date; with their sum, and to take away.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(JournalStore journal) : CompanyPage
{
    const int Most = 60, MostExported = 100_000;

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
    /// <summary>Type of the events.</summary>
    [BindProperty(SupportsGet = true, Name = "event")]
    public string? Type { get; set; }
    /// <summary>What the document's number, or the event's id, begins with.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Document { get; set; }
    /// <summary>The document's total, or the amount of a line.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Amount { get; set; }
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
    /// <summary>All that fit, together.</summary>
    public JournalSum Sum { get; private set; } = new(0, 0);
    /// <summary>Whether anything narrows the journal.</summary>
    public bool Narrowed => Filters.Values.Any(v => !string.IsNullOrEmpty(v));
    /// <summary>Types of events there can be.</summary>
    public static IReadOnlyList<string> Types { get; } = [.. Core.Posting.EventTypes.All.Select(t => t.Name)];
    /// <summary>Address of the next page, or null at the end.</summary>
    public string? Next { get; private set; }

    /// <summary>Shows entries.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync()
    {
        All = await journal.Count(Company.Id, Stop);
        if (Filter() is not { } filter)
            return;
        var most = AtMost(Most);
        var entries = await journal.Page(Company.Id, filter, Place(After), most + 1, Stop);
        Sum = await journal.Sum(Company.Id, filter, Stop);
        Entries = [.. entries.Take(most)];
        if (entries.Count > most)
            Next = Address(("after", FormattableString.Invariant($"{Show.Field(Entries[^1].Date)},{Entries[^1].Id}")));
    }

    /// <summary>The entries that fit, as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        if (Filter() is not { } filter)
            return Redirect(Address());
        var entries = await journal.Page(Company.Id, filter, null, MostExported, Stop);
        return Export(new Table("Journal",
            ["entry", "date", "event", "document", "connection", "party", "name", "text", "total", OfLines ? "matching" : "takes back"],
            entries.Select(e => (IReadOnlyList<object?>)[e.Number, e.Date, e.Type, e.DocumentNumber ?? e.EventId, e.Connection, e.PartyCode ?? "", e.PartyName
                ?? "", e.Text, e.Total,
                OfLines ? e.Matching : e.Reverses is not null])), "journal", kind);
    }

    /// <summary>The address with its filters, and something changed.</summary>
    public string Address(params (string Name, string? Value)[] changes)
    {
        var values = Filters;
        foreach (var (name, value) in changes)
            values[name] = value;
        return At("journal") + QueryString.Create(values.Where(p => !string.IsNullOrEmpty(p.Value)));
    }

    Dictionary<string, string?> Filters => new()
    {
        ["account"] = TypedAccount, ["purpose"] = Purpose, ["party"] = Party, ["event"] = Type, ["document"] = Document, ["amount"] = Amount,
            ["from"] = Show.Field(From), ["to"] = Show.Field(To),
        ["rule"] = Rule?.ToString(System.Globalization.CultureInfo.InvariantCulture), ["connection"] = Connection,
    };

    // Null where something typed can't be read; why is among the faults.
    JournalFilter? Filter()
    {
        var account = Pick.One(TypedAccount, Draft.Book.Accounts, a => a.Number, a => a.Name, "account");
        var party = Pick.One(Party, Draft.Book.Parties, p => p.Code, p => p.Name, "party");
        decimal? amount = null;
        string? unread = null;
        if (!string.IsNullOrWhiteSpace(Amount))
            (amount, unread) = Written.Now.TryNumber(Amount, out var number) ? (number, (string?)null) : ((decimal?)null, Sending.Typed.NotANumber(Amount));
        Faults = [.. new[] { account.Fault, party.Fault, unread, From > To ? "The first date lies after the last. Swap them." : null }.OfType<string>()];
        Account = account.Thing;
        return Faults.Count > 0 ? null
            : new JournalFilter(Draft.Labels.Account(account.Thing?.Number), Empty(Purpose), Draft.Labels.IdOf("party", party.Thing?.Code), From, To, Rule,
            Empty(Connection),
            Empty(Type), Empty(Document), amount);
    }

    static string? Empty(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();

    static JournalPlace? Place(string? after)
    {
        var parts = after?.Split(',');
        return parts is [var date, var id] && DateOnly.TryParseExact(date, "yyyy-MM-dd", out var day) && long.TryParse(id, out var entry)
            ? new JournalPlace(day, entry) : null;
    }
}
