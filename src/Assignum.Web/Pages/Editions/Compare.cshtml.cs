using Assignum.Core.Changes;
using Assignum.Formats.Sheets;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Editions;

/// <summary>Any two editions, or an edition and the draft, held against each other.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class CompareModel(EditionStore editions, RulebookCache cache, TimeProvider clock) : CompanyPage
{
    const int Most = 300, LongestNote = 40;

    /// <inheritdoc/>
    public override string Step => "Editions";
    /// <summary>The edition before.</summary>
    [BindProperty(SupportsGet = true, Name = "from")]
    public int? Before { get; set; }
    /// <summary>The edition after, or the draft.</summary>
    [BindProperty(SupportsGet = true, Name = "to")]
    public int? After { get; set; }
    /// <summary>"month": from what was in force at the end of last month to the draft.</summary>
    [BindProperty(SupportsGet = true, Name = "since")]
    public string? Since { get; set; }
    [BindProperty(SupportsGet = true, Name = "of")]
    public string? Of { get; set; }
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Text { get; set; }
    /// <summary>All editions with the draft, newest first.</summary>
    public IReadOnlyList<EditionRow> All { get; private set; } = [];
    /// <summary>All differences.</summary>
    public IReadOnlyList<SettingChange> Changes { get; private set; } = [];
    /// <summary>Those that fit.</summary>
    public IReadOnlyList<SettingChange> Fitting { get; private set; } = [];
    /// <summary>Most that are shown.</summary>
    public int MostShown => AtMost(Most);

    /// <summary>Shows the difference.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync() => await Lay() ? Page() : NotFound();

    /// <summary>Those that fit, as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind) => await Lay()
        ? Export(new Table("Changes", ["what", "setting", "place", "purpose", "sentence"],
            Fitting.Select(c => (IReadOnlyList<object?>)[c.Kind.ToString().ToLowerInvariant(), c.Subject, c.Where, c.Purpose?.Name ?? "", c.Sentence])),
            $"editions-{Before}-{After}", kind)
        : NotFound();

    /// <summary>"Edition 7", "Draft 8", "before the first".</summary>
    public string NameOf(int edition)
    {
        if (edition == 0 && All.All(e => e.Number != 0))
            return "Nothing";
        if (edition == Books.State.Draft)
            return $"Draft {edition}";
        return $"Edition {edition}";
    }

    /// <summary>"Edition 7, 2026-11-03, spring prices", to choose by.</summary>
    public string LongNameOf(EditionRow edition) =>
        string.Join(", ", new[] { NameOf(edition.Number), edition.ReleasedAt is { } at ? Showing.Show.Day(at) : null, edition.Note.Length > LongestNote
            ? edition.Note[..LongestNote] + "…" : edition.Note }.Where(p => !string.IsNullOrEmpty(p)));

    /// <summary>The edition that was in force at the end of last month; 0 where there was none yet.</summary>
    public int EndOfLastMonth
    {
        get
        {
            var first = new DateTime(clock.GetUtcNow().Year, clock.GetUtcNow().Month, 1, 0, 0, 0, DateTimeKind.Utc);
            return All.Where(e => e.ReleasedAt < first).Select(e => e.Number).DefaultIfEmpty(0).Max();
        }
    }

    async Task<bool> Lay()
    {
        All = await editions.All(Company.Id, Stop);
        if (Since == "month")
            (Before, After) = (EndOfLastMonth, Books.State.Draft);
        (Before, After) = (Before ?? Books.State.Edition, After ?? Books.State.Draft);
        var known = All.Select(e => e.Number).Append(0).ToHashSet();
        if (!known.Contains(Before.Value) || !known.Contains(After.Value))
            return false;
        Changes = RulebookDifference.Between(await BookOf(Before.Value), await BookOf(After.Value));
        Fitting = new ChangeFilter(Of, Text).Fitting(Changes);
        return true;
    }

    // Before the first edition there was nothing but the company.
    async Task<Core.Rulebooks.Rulebook> BookOf(int edition)
    {
        if (edition == Books.State.Draft)
            return Draft.Book;
        if (edition == 0 && All.All(e => e.Number != 0))
            return new Core.Rulebooks.Rulebook { Company = Draft.Book.Company };
        return (await cache.OfEdition(Company.Id, edition, Stop)).Stored.Book;
    }
}
