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
public sealed class CopyModel(MemberSheetStore rules, CompanyStore companies, RulebookCache cache, Coverages coverages, TimeProvider clock)
    : PurposePage(coverages, clock)
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
    /// <summary>Of a group or a company: all purposes at once.</summary>
    [BindProperty(SupportsGet = true)]
    public bool All { get; set; }
    /// <summary>Companies the one who looks may read, but this one.</summary>
    public IReadOnlyList<CompanyRow> Others { get; private set; } = [];
    /// <summary>What would be copied; null before a source is chosen.</summary>
    public IReadOnlyList<(Purpose Purpose, CopiedRule Rule)>? Copied { get; private set; }
    /// <summary>Groups that rules can ask for.</summary>
    public IEnumerable<(Fact Fact, Group Group)> Groups => Families
        .Select(f => (Fact: GroupFamilies.FactOf(f), Groups: Draft.Book.GroupsOf(f))).SelectMany(f => f.Groups.Select(g => (f.Fact, g)));

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
        var edits = chosen.Where(c => c >= 0 && c < Copied.Count).Distinct().Select(c => Copied[c]).Where(c => c.Rule.Fault is null && !c.Rule.Same)
            .GroupBy(c => c.Purpose).Select(g =>
                (g.Key, (IReadOnlyList<CellEdit>)[.. g.Select(c =>
                new CellEdit(c.Rule.When, c.Rule.Account!.Number, c.Rule.There?.Id, c.Rule.There?.Account))])).ToList();
        if (edits.Count == 0)
            return Refuse("Nothing is ticked. Tick the rules to copy.");
        return await rules.Take(Company.Id, UserId, "item", [], edits, Date, Stop) is { } refusal
            ? Refuse(refusal.Message)
            : Done($"{Showing.Show.Count(edits.Sum(e => e.Item2.Count), "rule")} copied to " +
                $"{(edits.Count == 1 ? edits[0].Key.InWords : Showing.Show.Count(edits.Count, "purpose"))} in draft {Books.State.Draft}.", edits.Count == 1
                    ? At($"rules/{edits[0].Key.Name}/list") : At("editions"));
    }

    async Task<bool> LayCopy(string purpose)
    {
        if (!Lay(purpose))
            return false;
        Others = [.. (await companies.All(Stop)).Where(c => c.Id != Company.Id && User.Reads(c.Code))];
        var purposes = All ? Purpose.All : [Purpose];
        if (From == "purpose" && Purpose.Find(Of ?? "") is { } source && source != Purpose)
            Copied = [.. RuleCopy.Of(Draft.Book, source, Draft.Book, Purpose, Date).Select(c => (Purpose, c))];
        else if (From == "group" && GroupOf(Of) is { } from && GroupOf(To) is { } to && from.Fact == to.Fact && !Fold.Same(from.Code, to.Code))
            Copied = [.. purposes.SelectMany(p => RuleCopy.Of(Draft.Book, p, Draft.Book, p, Date, from, to).Select(c => (p, c)))];
        else if (From == "company" && Others.FirstOrDefault(c => Fold.Same(c.Code, Of)) is { } other)
        {
            var book = (await cache.Of(other.Id, Stop)).Released.Stored.Book;
            Copied = [.. purposes.SelectMany(p => RuleCopy.Of(book, p, Draft.Book, p, Date).Select(c => (p, c)))];
        }
        return true;
    }

    static FactValue? GroupOf(string? written) =>
        written?.Split('=', 2) is [var name, var code] && FactNames.TryParse(name, out var fact) ? new FactValue(fact, code) : null;
}
