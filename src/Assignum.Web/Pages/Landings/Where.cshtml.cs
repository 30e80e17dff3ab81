using Assignum.Core.Rulebooks;
using Assignum.Web.Access;
using Assignum.Web.Pages.Rules;
using Assignum.Web.Trails;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Landings;

/// <summary>Asks in one line where all purposes land: for a party, an item, a place, or groups of them.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class WhereModel(TrailMaker trails, TimeProvider clock) : DatedPage(clock)
{
    /// <inheritdoc/>
    public override string Step => "Rules";
    /// <summary>The question.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Text { get; set; }
    /// <summary>The question as it was understood.</summary>
    public Question Question { get; private set; } = new([], []);
    /// <summary>What is asked, with the tax code that a document would find.</summary>
    public Asked Asked { get; private set; } = new();
    /// <summary>The answers by purpose.</summary>
    public IReadOnlyDictionary<Purpose, LandsOn> Answers { get; private set; } = new Dictionary<Purpose, LandsOn>();
    /// <summary>What was understood, with the group and the kind that follow.</summary>
    public IReadOnlyList<FactValue> Facts { get; private set; } = [];

    /// <summary>Purposes that have no rule at all: nobody uses them. One whose rules only don't answer here is not among them.</summary>
    public IReadOnlyList<Purpose> Unused { get; private set; } = [];

    /// <summary>Answers.</summary>
    [Needs(Need.Reads)]
    public void OnGet() => Ask();

    /// <summary>Opens the trail of one purpose.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetTrailAsync(string purpose)
    {
        if (Purpose.Find(purpose) is not { } asked)
            return NotFound();
        Ask();
        List<TrailLinkTo> links = [new("Rules of " + asked.Title.ToLowerInvariant(), At("rules/" + asked.Name)),
            TryLinks.For(this, asked, Question.Understood)];
        return Drawer("_Trail", await trails.OfFacts(this, Books.Draft, asked, Whereabouts.FactsOf(Books.Draft.Shown, Asked), Date, links, Stop));
    }

    /// <summary>The question with one word replaced.</summary>
    public string Instead(string word, FactValue by) =>
        At("where") + "?q=" + Uri.EscapeDataString(string.Join(' ',
            [.. Question.Understood.Select(u => u.Code), by.Code, .. Question.Unclear.Where(u => u.Word != word).Select(u => u.Word)]));

    void Ask()
    {
        var book = Books.Draft.Shown;
        Question = Question.Read(book.Book, Text ?? "");
        Asked = WithTaxCode(book, Question.Asked);
        var facts = Whereabouts.FactsOf(book, Asked);
        Answers = Whereabouts.Of(book, facts, Date).ToDictionary(a => a.Purpose);
        Facts = book.InWords(facts);
        var ruled = book.Book.Rules.Select(r => r.Purpose).ToHashSet();
        Unused = [.. Purpose.All.Where(p => Answers[p].Account is null && !ruled.Contains(p))];
    }

    // A document of this party with this item finds its tax code where their tax groups meet.
    Asked WithTaxCode(CompiledRulebook book, Asked asked)
    {
        if (asked.TaxCode is not null)
            return asked;
        var facts = book.InWords(Whereabouts.FactsOf(book, asked));
        string? Of(Fact fact) => facts.FirstOrDefault(f => f.Fact == fact).Code;
        var area = asked.Party is { } party && book.Parties.TryFind(party, out var known) ? known.TaxArea : null;
        return Of(Fact.PartyTaxGroup) is null || Of(Fact.ItemTaxGroup) is null ? asked
            : asked with { TaxCode = new TaxGrid(book, area, Date).At(Of(Fact.PartyTaxGroup), Of(Fact.ItemTaxGroup)).Code?.Code };
    }
}
