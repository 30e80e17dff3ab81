using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Companies;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Rules;

/// <summary>Copies defaults and group rules into a purpose: from another purpose, from one group to another, or from another company.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class CopyModel(RuleCells cells, CompanyStore companies, RulebookCache cache, Coverages coverages, TimeProvider clock) : PurposePage(coverages, clock)
{
    static readonly string[] Families = ["item", "party", "project", "asset"];

    /// <inheritdoc/>
    public override string View => "copy";
    /// <summary>Where from: "purpose", "group" or "company".</summary>
    [BindProperty(SupportsGet = true)]
    public string? From { get; set; }
    /// <summary>Name of the purpose, code of the group as "fact=code", or code of the company.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Of { get; set; }
    /// <summary>With a group: the group the copies are for, as "fact=code".</summary>
    [BindProperty(SupportsGet = true)]
    public string? To { get; set; }
    /// <summary>Companies the one who looks may read, but this one.</summary>
    public IReadOnlyList<CompanyRow> Others { get; private set; } = [];
    /// <summary>What would be copied; null before a source is chosen.</summary>
    public IReadOnlyList<CopiedRule>? Copied { get; private set; }
    /// <summary>Groups that rules of this purpose can ask for.</summary>
    public IEnumerable<(Fact Fact, Group Group)> Groups => Families
        .Select(f => (Fact: GroupFamilies.FactOf(f), Groups: Draft.Book.GroupsOf(f))).Where(f => Ladder.Any(r => r.Facts.Contains(f.Fact))).SelectMany(f => f.Groups.Select(g => (f.Fact, g)));

    /// <summary>Shows what would be copied.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync(string purpose) => await LayCopy(purpose) ? Page() : NotFound();

    /// <summary>Copies those ticked.</summary>
    /// <param name="purpose">The purpose they go to.</param>
    /// <param name="chosen">Places in the list.</param>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(string purpose, int[] chosen)
    {
        if (!await LayCopy(purpose) || Copied is null)
            return NotFound();
        var edits = chosen.Where(c => c >= 0 && c < Copied.Count).Select(c => Copied[c]).Where(c => c.Fault is null && !c.Same).Select(c => new CellEdit(c.When, c.Account!.Number, c.There?.Id, c.There?.Account)).ToList();
        if (edits.Count == 0)
            return Refuse("Nothing is ticked. Tick the rules to copy.");
        return await cells.Set(Company.Id, UserId, Purpose, edits, Date, Stop) is [var fault, ..]
            ? Refuse(fault.Message)
            : Done($"{Showing.Show.Count(edits.Count, "rule")} copied to {Purpose.Title.ToLowerInvariant()} in draft {Books.State.Draft}.", AtPurpose("list"));
    }

    async Task<bool> LayCopy(string purpose)
    {
        if (!Lay(purpose))
            return false;
        Others = [.. (await companies.All(Stop)).Where(c => c.Id != Company.Id && User.Reads(c.Code))];
        Copied = From switch
        {
            "purpose" when Purpose.Find(Of ?? "") is { } source && source != Purpose => RuleCopy.Of(Draft.Book, source, Draft.Book, Purpose, Date),
            "group" when GroupOf(Of) is { } from && GroupOf(To) is { } to && from.Fact == to.Fact && !Fold.Same(from.Code, to.Code) => RuleCopy.Of(Draft.Book, Purpose, Draft.Book, Purpose, Date, from, to),
            "company" when Others.FirstOrDefault(c => Fold.Same(c.Code, Of)) is { } other => RuleCopy.Of((await cache.Of(other.Id, Stop)).Released.Stored.Book, Purpose, Draft.Book, Purpose, Date),
            _ => null,
        };
        return true;
    }

    static FactValue? GroupOf(string? written) =>
        written?.Split('=', 2) is [var name, var code] && FactNames.TryParse(name, out var fact) ? new FactValue(fact, code) : null;
}
