using Assignum.Core.Rulebooks;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Rules;

/// <summary>A page about one purpose: its ladder, its rules, how far they reach.</summary>
public abstract class PurposePage(Coverages coverages, TimeProvider clock) : DatedPage(clock)
{
    int[]? counts;

    /// <inheritdoc/>
    public override string Step => "Rules";
    /// <summary>The purpose shown.</summary>
    public Purpose Purpose { get; private set; } = Purpose.Revenue;
    /// <summary>Which of the purpose's pages this is.</summary>
    public virtual string View => "";
    /// <summary>Its ladder in the draft.</summary>
    public IReadOnlyList<Rung> Ladder => Draft.Book.LadderOf(Purpose);
    /// <summary>Why an act was refused.</summary>
    public string? Fault { get; protected set; }
    /// <summary>How its combinations are answered.</summary>
    public Coverage Coverage => coverages.Of(Company.Id, Books.Draft, Purpose, Date);
    /// <summary>What its combinations still wait for, as the end of a sentence: "each finds a rule.", "12 reach nothing, 4 suspense."</summary>
    public string Waits => (Coverage.None, Coverage.Suspense) switch
    {
        (0, 0) => "each finds a rule.",
        (0, var suspense) => $"{suspense:N0} of them reach suspense.",
        (var none, 0) => $"{none:N0} reach nothing.",
        (var none, var suspense) => $"{none:N0} reach nothing, {suspense:N0} suspense.",
    };
    /// <summary>Counts the coverage of all purposes that will be shown.</summary>
    protected void CountAll() => coverages.Count(Company.Id, Books.Draft, Purpose.All, Date);
    /// <summary>How the combinations of any purpose are answered.</summary>
    public Coverage CoverageOf(Purpose purpose) => coverages.Of(Company.Id, Books.Draft, purpose, Date);
    /// <summary>Its gaps.</summary>
    protected IReadOnlyList<Gap> GapsOfIt => coverages.GapsOf(Company.Id, Books.Draft, Purpose, Date);
    /// <summary>The rung that is looked at, where one is.</summary>
    public virtual Rung? Here => null;

    /// <summary>How many rules of the draft stand on a rung.</summary>
    public int CountOn(Rung rung)
    {
        if (counts is null)
        {
            counts = new int[Ladder.Count];
            var places = Ladder.Select((r, i) => (r, i)).ToDictionary(x => x.r, x => x.i);
            foreach (var rule in Draft.Book.Rules)
                if (rule.Purpose == Purpose && places.TryGetValue(rule.Rung, out var place))
                    counts[place]++;
        }
        return counts[Ladder.ToList().IndexOf(rung)];
    }

    /// <summary>Address of another page of this purpose.</summary>
    public string AtPurpose(string view = "") => At($"rules/{Purpose.Name}{(view.Length == 0 ? "" : "/" + view)}");

    /// <summary>Takes the purpose of the address; false where there is none of that name.</summary>
    protected bool Lay(string? name)
    {
        if (name is not null && Purpose.Find(name) is null)
            return false;
        Purpose = name is null ? Purpose.Revenue : Purpose.Find(name)!;
        return true;
    }

    /// <summary>The page once more, with what was wrong.</summary>
    protected IActionResult Refuse(string fault)
    {
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
