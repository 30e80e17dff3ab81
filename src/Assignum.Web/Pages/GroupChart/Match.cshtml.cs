using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Consolidating;
using Assignum.Formats.Consolidating;
using Assignum.Formats.Sheets;
using Assignum.Storage.Charts;
using Assignum.Storage.Companies;
using Assignum.Storage.Consolidating;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Connections;
using Assignum.Web.Showing;
using Htmx;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.GroupChart;

/// <summary>The accounts of a company matched to the group's chart; of the group itself, its companies and what is left in each.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class GroupMatchModel(GroupChartStore store, CompanyStore companies, RulebookCache books, ChartImportStore imports,
    SuggestionCache suggestions) : CompanyPage
{
    const int LargestFile = 8 << 20;
    /// <summary>Rows of the board.</summary>
    public const int Rows = 8;

    /// <inheritdoc/>
    public override string Step => "Chart";
    /// <summary>Number of the account in hand; null: the first that waits.</summary>
    [BindProperty(SupportsGet = true, Name = "hand")]
    public string? HandNumber { get; set; }
    /// <summary>"all" shows the good suggestions, "done" what is matched; else what waits.</summary>
    [BindProperty(SupportsGet = true)]
    public string? View { get; set; }
    /// <summary>The group the company belongs to; null: none.</summary>
    public CompanyRow? Group { get; private set; }
    /// <summary>The board; null where the company belongs to no group.</summary>
    public GroupBoard? Board { get; private set; }
    /// <summary>The account in hand.</summary>
    public WaitingAccount? Hand => Board?.Waiting.FirstOrDefault(w => Fold.Same(w.Account.Number, HandNumber)) ?? (Board is { Waiting.Count: > 0 }
        ? Board.Waiting[0] : null);
    /// <summary>The account that was just matched, which <kbd>B</kbd> takes back; null: none was.</summary>
    public (Account Account, GroupMatch Match)? Last { get; private set; }
    /// <summary>Why something was not done.</summary>
    public Refusal? Refused { get; private set; }
    /// <summary>Rows of a file that are refused, each with why.</summary>
    public IReadOnlyList<string> RefusedRows { get; private set; } = [];
    /// <summary>Of the group itself: its companies, each with the accounts that are matched and that are left.</summary>
    public IReadOnlyList<(GroupMember Member, int Matched, int Left)> Members { get; private set; } = [];
    /// <summary>Of the group itself: it has no chart yet.</summary>
    public bool IsEmpty => Books.Draft.Stored.Book.Accounts.Count == 0;

    /// <summary>A score as the board shows it: "0.62".</summary>
    internal static string Score(double score) => score.ToString("0.00", System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync()
    {
        await Lay();
        return Part();
    }

    /// <summary>Matches an account.</summary>
    [Needs(Need.Prepares)]
    public Task<IActionResult> OnPostMatchAsync(string account, string? to, string? credit, string? rate, string? seen) => Act(async () =>
    {
        if (Stale(account, seen) is { } stale)
            return stale;
        var debit = Pick.One(to, Board!.Group, g => g.Number, g => g.Name, "account of the group");
        var other = Pick.One(credit, Board.Group, g => g.Number, g => g.Name, "account of the group");
        if (debit.Thing is null || other.Fault is not null)
            return new Refusal(debit.Thing is null ? "to" : "credit", debit.Fault ?? other.Fault
                ?? "Which account of the group it goes to is missing. Type it.");
        TranslationRate? by = Words<TranslationRate>.TryParse(rate ?? "", out var known) ? known : null;
        last = account;
        return await Decide([new(account, new GroupMatch(debit.Thing.Number, other.Thing?.Number, by), Board.Of(account))]);
    });

    string? last;

    Refusal? Stale(string account, string? seen) => Board!.Of(account)?.InWords is var now && (now ?? "") == (seen ?? "") ? null
        : new Refusal("account", $"Since you looked, somebody has changed where account {account} goes: {now ?? "nowhere"} now. Look again.");

    /// <summary>Matches accounts that have the number of an account of the group, in one act.</summary>
    [Needs(Need.Prepares)]
    public Task<IActionResult> OnPostEqualAsync() =>
        Act(() => Decide([.. Board!.Equal.Select(a => new GroupDecision(a.Number, new GroupMatch(a.Number)))]));

    /// <summary>Accepts good suggestions: those ticked.</summary>
    [Needs(Need.Prepares)]
    public Task<IActionResult> OnPostAllAsync(string[] accounts) => Act(() => Decide([.. Board!.Good
        .Where(w => accounts.Contains(w.Account.Number, StringComparer.Ordinal)).Select(w => new GroupDecision(w.Account.Number,
            new GroupMatch(w.Best!.Value.Group.Number)))]));

    /// <summary>Takes a match back.</summary>
    [Needs(Need.Prepares)]
    public Task<IActionResult> OnPostBackAsync(string account, string? seen) =>
        Act(async () => Stale(account, seen) ?? await Decide([new(account, null, Board!.Of(account))]));

    /// <summary>The whole mapping as a file.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        if (Board is null)
            return NotFound();
        var rows = Draft.Book.Accounts.Where(a => a.Kind == AccountKind.Posting)
            .Select(a => (Account: a, Match: Board.Decided.FirstOrDefault(d => d.Account == a).Match)).ToList();
        if (kind == "xml")
        {
            var content = new MemoryStream();
            GroupMapping.Write(content, Company.Code, Group!.Code, rows.Select(r => (r.Account.Number, r.Account.Name, (GroupMatch?)r.Match)));
            content.Position = 0;
            return File(content, "application/xml; charset=utf-8", $"group-mapping-{Company.Code}.xml");
        }
        return Export(new Table("Group mapping", GroupMapping.Columns, rows.Select(r => (IReadOnlyList<object?>)[r.Account.Number, r.Account.Name,
            r.Account.Class.Word(), r.Match?.Debit ?? "", r.Match?.Credit ?? "", r.Match?.Rate is { } rate ? Words<TranslationRate>.Of(rate) : ""])),
            $"group-mapping-{Company.Code}", kind);
    }

    /// <summary>Takes a mapping from a file; rows that are refused are said, and nothing of those is taken.</summary>
    [Needs(Need.Prepares)]
    public Task<IActionResult> OnPostImportAsync(IFormFile? file) => Act(async () =>
    {
        if (file is null || file.Length == 0)
            return new Refusal("file", "No file is chosen. Choose a CSV, XLSX or XML file, such as the export.");
        if (file.Length > LargestFile)
            return new Refusal("file", $"The file has {file.Length >> 20} MB; up to {LargestFile >> 20} can be read. Split it.");
        using var content = new MemoryStream();
        await file.CopyToAsync(content, Stop);
        var (rows, fault) = GroupMapping.Read(content.ToArray());
        if (fault is not null)
            return new Refusal("file", fault);
        var (taken, refused) = Sorted(rows);
        RefusedRows = refused;
        return taken.Count == 0 ? null : await Decide(taken);
    });

    (List<GroupDecision> Taken, List<string> Refused) Sorted(IReadOnlyList<MappingRow> rows)
    {
        var (taken, refused) = (new List<GroupDecision>(), new List<string>());
        var own = Draft.Book.Accounts.Where(a => a.Kind == AccountKind.Posting).Select(a => Fold.Of(a.Number)).ToHashSet(StringComparer.Ordinal);
        var group = Board!.Group.Select(a => Fold.Of(a.Number)).ToHashSet(StringComparer.Ordinal);
        var known = Board.Decided.ToDictionary(d => Fold.Of(d.Account.Number), d => d.Match);
        foreach (var row in rows)
        {
            var strange = new[] { row.Debit, row.Credit }.FirstOrDefault(n => n.Length > 0 && !group.Contains(Fold.Of(n)));
            if (row.Fault is { } fault)
                refused.Add($"Line {row.Line}: {fault}.");
            else if (!own.Contains(Fold.Of(row.Account)))
                refused.Add($"Line {row.Line}: there is no posting account {row.Account} here.");
            else if (strange is not null)
                refused.Add($"Line {row.Line}: the group's chart has no posting account {strange}.");
            else if (row.Match != known.GetValueOrDefault(Fold.Of(row.Account)))
                taken.Add(new(row.Account, row.Match, known.GetValueOrDefault(Fold.Of(row.Account))));
        }
        return (taken, refused);
    }

    /// <summary>Of the group itself: makes its chart, in its draft, from that of one of its companies.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostChartAsync(string? from)
    {
        await Lay();
        if (Members.FirstOrDefault(m => m.Member.Code == from).Member is not { } member || !User.Reads(member.Code))
            return await Fault(new Refusal("from", "Which company’s chart it begins with is missing, or you may not read it. Choose one."));
        var source = (await books.Of(member.Id, Stop)).Released.Stored.Book.Accounts;
        List<ChartRow> rows = [.. source.Select((a, i) => new ChartRow(i + 1, a.Number, a.Name, a.Class.Word(), a.Kind.Word(), a.Parent ?? ""))];
        var made = await imports.Import(Company.Id, UserId, chart => ChartImport.Plan(rows, chart), wholeOrNothing: true, (_, _) => Task.CompletedTask, Stop);
        return made.Refusal is { } refusal ? await Fault(refusal)
            : Done($"The group has the chart of {member.Code} in its draft: {rows.Count} accounts. Release it, then each company matches its own to it.",
                At("chart"));
    }

    Task<Refusal?> Decide(IReadOnlyList<GroupDecision> decisions) => store.Decide(Company.Id, UserId, decisions, Stop);

    async Task<IActionResult> Act(Func<Task<Refusal?>> act)
    {
        await Lay();
        if (Board is null)
            return NotFound();
        if (await act() is { } refusal)
            return await Fault(refusal);
        await Lay();
        Last = Board!.Decided.Where(d => d.Account.Number == last).Select(d => ((Account, GroupMatch)?)d).FirstOrDefault();
        return Part();
    }

    async Task<IActionResult> Fault(Refusal refusal)
    {
        (Refused, Response.StatusCode) = (refusal, Request.IsHtmx() ? StatusCodes.Status200OK : StatusCodes.Status400BadRequest);
        await Lay();
        return Part();
    }

    IActionResult Part() => Request.IsHtmx() ? Partial("_GroupBoard", this) : Page();

    async Task Lay()
    {
        if (Company.Group is { } id && await companies.Find(id, Stop) is { } group)
        {
            Group = group;
            Board = new(Draft.Book, (await books.Of(id, Stop)).Released.Stored.Book, await store.Matches(Company.Id, Stop), Company.Id, suggestions);
            return;
        }
        var members = new List<(GroupMember, int, int)>();
        foreach (var member in await store.Members(Company.Id, Stop))
        {
            var all = (await books.Of(member.Id, Stop)).Released.Stored.Book.Accounts.Count(a => a.Kind == AccountKind.Posting);
            var matched = (await store.Matches(member.Id, Stop)).Count;
            members.Add((member, matched, Math.Max(0, all - matched)));
        }
        Members = members;
    }
}
