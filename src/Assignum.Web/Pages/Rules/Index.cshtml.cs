using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Rules;

/// <summary>A rule as the page lists it.</summary>
/// <param name="Rule">The rule.</param>
/// <param name="Row">Its row.</param>
/// <param name="Account">Its account.</param>
/// <param name="InDraft">New or changed in the draft.</param>
public sealed record RuleLine(Rule Rule, long? Row, Account? Account, bool InDraft);

/// <summary>The panel of a rule, or of one to be added.</summary>
public sealed record RulePanel(CompanyPage Page, Purpose Purpose, RuleForm Form, Rulebook Book, Refusal? Refusal)
{
    /// <summary>Id of the rule; null for a new one.</summary>
    public string? Id { get; init; }
    /// <summary>Where it comes from and how it was used.</summary>
    public RuleOrigin? Origin { get; init; }

    /// <summary>The fault of a field, or null.</summary>
    public string? FaultOf(string field) => Refusal?.Field == field ? Refusal.Message : null;
}

/// <summary>The rules of a purpose: its ladder, and its rules rung by rung.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(RuleStore rules) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Rules";
    /// <summary>The purpose shown.</summary>
    public Purpose Purpose { get; private set; } = Purpose.Revenue;
    /// <summary>Its ladder in the draft.</summary>
    public IReadOnlyList<Rung> Ladder => Draft.Book.LadderOf(Purpose);
    /// <summary>Its rules, by rung.</summary>
    public ILookup<Rung, RuleLine> Lines { get; private set; } = Enumerable.Empty<RuleLine>().ToLookup(l => l.Rule.Rung);
    /// <summary>Rules of every purpose.</summary>
    public IReadOnlyDictionary<Purpose, int> Counts { get; private set; } = new Dictionary<Purpose, int>();

    /// <summary>Shows a purpose.</summary>
    public IActionResult OnGet(string? purpose) => Lay(purpose) ? Page() : NotFound();

    /// <summary>Opens the panel of a rule, or of a new one on a rung.</summary>
    public async Task<IActionResult> OnGetRuleAsync(string purpose, long? row, string? rung)
    {
        if (!Lay(purpose))
            return NotFound();
        if (row is null)
        {
            var form = new RuleForm { Rung = rung ?? Ladder.FirstOrDefault(r => r.Facts is [Fact.ItemGroup])?.Name ?? Ladder[^1].Name };
            foreach (var fact in form.RungOf(Draft.Book, Purpose).Facts)
                form.Facts[fact.Name()] = Request.Query[fact.Name()].ToString();
            return Drawer("_Rule", new RulePanel(this, Purpose, form, Draft.Book, null));
        }
        if (Draft.Book.Rules.FirstOrDefault(r => Draft.Labels.RuleRow(r.Id) == row) is not { } rule)
            return Drawer("_RuleGone", this);
        return Drawer("_Rule", new RulePanel(this, Purpose, RuleForm.Of(rule, row.Value, Draft.Book), Draft.Book, null) { Id = rule.Id, Origin = await rules.OriginOf(Company.Id, row.Value, Stop) });
    }

    /// <summary>Adds or changes a rule in the draft.</summary>
    public async Task<IActionResult> OnPostRuleAsync(string purpose, [FromForm] RuleForm form)
    {
        if (!Lay(purpose))
            return NotFound();
        var (rule, refusal) = form.Read(Draft.Book, Purpose);
        refusal ??= form.Row is { } row ? await rules.Change(Company.Id, UserId, row, rule!, Stop) : await rules.Add(Company.Id, UserId, rule!, Stop);
        return refusal is null
            ? Done($"{Purpose.Title}, {rule!.InWords}, lands on {rule.Account} in draft {Books.State.Draft}.", At("rules/" + Purpose.Name))
            : Drawer("_Rule", new RulePanel(this, Purpose, form, Draft.Book, refusal) { Id = Draft.Book.Rules.FirstOrDefault(r => Draft.Labels.RuleRow(r.Id) == form.Row)?.Id });
    }

    /// <summary>Ends a rule in the draft.</summary>
    public async Task<IActionResult> OnPostEndAsync(string purpose, [FromForm] RuleForm form, DateOnly? lastDay)
    {
        if (!Lay(purpose) || form.Row is not { } row)
            return NotFound();
        return await rules.End(Company.Id, UserId, row, lastDay, Stop) is { } refusal
            ? Drawer("_Rule", new RulePanel(this, Purpose, form, Draft.Book, refusal))
            : Done($"The rule ends{(lastDay is { } day ? " after " + Show.Day(day) : "")} in draft {Books.State.Draft}.", At("rules/" + Purpose.Name));
    }

    bool Lay(string? name)
    {
        if (name is not null && Purpose.Find(name) is null)
            return false;
        Purpose = name is null ? Purpose.Revenue : Purpose.Find(name)!;
        var released = Books.Released.Stored.Labels;
        var accounts = Draft.Book.Accounts.ToDictionary(a => Fold.Of(a.Number));
        Lines = Draft.Book.Rules.Where(r => r.Purpose == Purpose).OrderBy(r => r.InWords, StringComparer.Ordinal).ThenBy(r => r.From)
            .Select(r => new RuleLine(r, Draft.Labels.RuleRow(r.Id), accounts.GetValueOrDefault(Fold.Of(r.Account)), released.RuleRow(r.Id) != Draft.Labels.RuleRow(r.Id)))
            .ToLookup(l => l.Rule.Rung);
        Counts = Draft.Book.Rules.GroupBy(r => r.Purpose).ToDictionary(g => g.Key, g => g.Count());
        return true;
    }
}
