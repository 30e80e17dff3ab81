using Assignum.Core;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Sheets;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Rules;

/// <summary>A rule for a single item or party.</summary>
/// <param name="Rule">The rule.</param>
/// <param name="Same">The lower rule that says the same, or null.</param>
public sealed record ExceptionLine(Rule Rule, Rule? Same);

/// <summary>The exceptions of all purposes: rules that ask for an item or a party, with their age and use, and those that could go.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class ExceptionsModel(RuleStore rules) : CompanyPage
{
    const int Most = 100;

    /// <inheritdoc/>
    public override string Step => "Rules";
    /// <summary>What facts or account must have in them.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Filter { get; set; }
    /// <summary>Name of the one purpose shown.</summary>
    [BindProperty(SupportsGet = true, Name = "purpose")]
    public string? OfPurpose { get; set; }
    /// <summary>Only those that could go.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Redundant { get; set; }
    /// <summary>How many come before those shown.</summary>
    [BindProperty(SupportsGet = true, Name = "from")]
    public int From { get; set; }
    /// <summary>All exceptions.</summary>
    public IReadOnlyList<ExceptionLine> All { get; private set; } = [];
    /// <summary>Those that fit.</summary>
    public IReadOnlyList<ExceptionLine> Fitting { get; private set; } = [];
    /// <summary>Those shown.</summary>
    public IReadOnlyList<ExceptionLine> Shown { get; private set; } = [];
    /// <summary>Age and use of those shown, by row.</summary>
    public IReadOnlyDictionary<long, RuleUse> Uses { get; private set; } = new Dictionary<long, RuleUse>();
    /// <summary>How many could go.</summary>
    public int RedundantCount => All.Count(e => e.Same is not null);
    /// <summary>Rules of groups, companies and places, for comparison.</summary>
    public int Others => Draft.Book.Rules.Count - All.Count;
    /// <summary>Why an act was refused.</summary>
    public string? Fault { get; private set; }
    /// <summary>How many are shown at once.</summary>
    public int MostShown => Most;

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>Those that fit, as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Export(new Table("Exceptions", ["purpose", "for", "account", "redundant", "from", "to", "note"],
            Fitting.Select(e => (IReadOnlyList<object?>)[e.Rule.Purpose.Name, e.Rule.InWords, e.Rule.Account, e.Same is null ? "" : e.Same.Id,
            Show.Field(e.Rule.From), Show.Field(e.Rule.To), e.Rule.Note ?? ""])), "exceptions", kind);
    }

    /// <summary>Ends all that could go and fit the filter, in one act.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(long seen, int count)
    {
        await Lay();
        var ids = Fitting.Where(e => e.Same is not null).Select(e => e.Rule.Id).ToList();
        var refusal = ids.Count != count ? new Refusal("", "The draft has changed since you looked. Look at the rules again, then end them.")
            : await rules.EndAll(Company.Id, UserId, ids, seen, "a lower rung says the same", Stop);
        if (refusal is null)
            return Done($"{Show.Count(ids.Count, "exception")} end{(ids.Count == 1 ? "s" : "")} in draft {Books.State.Draft}. No landing changes by it.",
                At("exceptions"));
        Fault = refusal.Message;
        Response.StatusCode = StatusCodes.Status409Conflict;
        return Page();
    }

    /// <summary>Name of a member that a rule asks for, or empty.</summary>
    public string NameOf(FactValue value) => value.Fact is Fact.Item or Fact.Party ? Books.Draft.Shown.NameOf(value) : "";

    /// <summary>Row of a rule.</summary>
    public long RowOf(Rule rule) => Draft.Labels.RuleRow(rule.Id) ?? 0;

    async Task Lay()
    {
        var same = Books.Draft.Redundant.ToDictionary(r => r.Rule.Id, r => r.Lower);
        All = [.. Draft.Book.Rules.Where(r => r.When.Any(w => w.Fact is Fact.Item or Fact.Party)).Select(r =>
            new ExceptionLine(r, same.GetValueOrDefault(r.Id)))];
        var sought = new Sought(Filter);
        Fitting = [.. All.Where(e => (!Redundant || e.Same is not null) && (string.IsNullOrEmpty(OfPurpose) || e.Rule.Purpose.Name == OfPurpose)
            && sought.In($"{e.Rule.InWords} {string.Join(' ', e.Rule.When.Select(NameOf))} {e.Rule.Account} {AccountName(e.Rule.Account)}")).OrderBy(e =>
                e.Rule.Purpose.Index).ThenBy(e => e.Rule.InWords, StringComparer.OrdinalIgnoreCase)];
        Shown = [.. Fitting.Skip(IsPrint ? 0 : Math.Max(0, From)).Take(AtMost(Most))];
        Uses = await rules.UsesOf(Company.Id, [.. Shown.Select(e => RowOf(e.Rule))], Stop);
    }
}
