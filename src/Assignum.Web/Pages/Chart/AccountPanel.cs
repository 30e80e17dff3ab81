using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Charts;
using Assignum.Storage.Settings;

namespace Assignum.Web.Pages.Chart;

/// <summary>The panel of an account, or of one to be added: everything about it in one place.</summary>
/// <param name="Page">The page it is for.</param>
/// <param name="Form">Its fields.</param>
/// <param name="Chart">The chart.</param>
/// <param name="Faults">What is wrong with the fields.</param>
public sealed record AccountPanel(CompanyPage Page, AccountForm Form, ChartBook Chart, IReadOnlyList<FieldFault> Faults)
{
    const int Neighbours = 4;

    /// <summary>Its title.</summary>
    public string Title { get; init; } = "Account";
    /// <summary>It may be made once for each tax code.</summary>
    public bool OffersTaxCodes { get; init; }
    /// <summary>What uses it.</summary>
    public IReadOnlyList<AccountUse> Uses { get; init; } = [];
    /// <summary>The rules that answer with it today, with the members behind them.</summary>
    public IReadOnlyList<RuleLandsHere> LandsHere { get; init; } = [];
    /// <summary>How many items and parties they reach, each counted once.</summary>
    public int MembersLandingHere => LandsHere.SelectMany(r => r.Members.Select(m => (r.OfParties, m.Code))).Distinct().Count();
    /// <summary>Accounts of other companies matched to it.</summary>
    public IReadOnlyList<(string Company, string Number, string Name)> Matched { get; init; } = [];
    /// <summary>Row of a rule.</summary>
    public Func<Rule, long?> RuleRow { get; init; } = _ => null;
    /// <summary>Its changes, newest first.</summary>
    public IReadOnlyList<LoggedChange> History { get; init; } = [];
    /// <summary>Notes on it, newest first.</summary>
    public IReadOnlyList<AccountNote> Notes { get; init; } = [];
    /// <summary>The last lines posted to it.</summary>
    public IReadOnlyList<LastLine> Lines { get; init; } = [];
    /// <summary>The company's dimensions, and those the account asks for without being defined.</summary>
    public IReadOnlyList<DimensionDefined> Dimensions { get; init; } = [];
    /// <summary>Company whose chart is that of the group; null: none.</summary>
    public string? GroupCompany { get; init; }
    /// <summary>The account it was merged into; null: it was not.</summary>
    public (string Number, string Name)? MergedInto { get; init; }
    /// <summary>Where somebody else changed it meanwhile: what it is now beside what was typed.</summary>
    public IReadOnlyList<FieldChange> Meanwhile { get; init; } = [];

    /// <summary>Whether it is to be added.</summary>
    public bool IsNew => Form.Id is null;
    /// <summary>The fault of a field, or null.</summary>
    public string? FaultOf(string field) => Faults.FirstOrDefault(f => f.Field == field)?.Message;
    /// <summary>The answer to its number, and the ruler.</summary>
    public NumberPanel Numbers => NumberPanel.Of(Page, Chart, Form, IsNew ? null : Form.Number);
    /// <summary>The rules that keep it from being made inactive.</summary>
    public IReadOnlyList<AccountUse> Barring => FaultOf("active") is null && FaultOf("replacement") is null ? [] : [.. Uses.Where(u => u.Rule is not null)];
    /// <summary>Accounts beside it, with how much they are used.</summary>
    public IReadOnlyList<(Account Account, int Uses)> Beside
    {
        get
        {
            var tree = Chart.Tree;
            if (tree.PlaceOf(Form.Beside) is not (>= 0 and var place))
                return [];
            var siblings = tree.Below(tree.Nodes[place].Parent).Where(p => tree.Nodes[p].Account.Kind == AccountKind.Posting).ToList();
            var at = siblings.IndexOf(place);
            return [.. siblings.Skip(Math.Max(0, at - 1)).Take(Neighbours).Select(p => (tree.Nodes[p].Account, Chart.Uses.Count(tree.Nodes[p].Fold)))];
        }
    }
}

/// <summary>The answer to a number while it is typed.</summary>
/// <param name="Page">The page it is for.</param>
/// <param name="Answer">The answer.</param>
/// <param name="Ruler">The stretch of numbers around it; null where there is none.</param>
/// <param name="Stands">Where the account will stand, as a sentence; null while its class is open.</param>
public sealed record NumberPanel(CompanyPage Page, NumberAnswer Answer, NumberRuler? Ruler, string? Stands)
{
    /// <summary>The answer for a form.</summary>
    public static NumberPanel Of(CompanyPage page, ChartBook chart, AccountForm form, string? was)
    {
        var parent = chart.Tree.Find(Pick.CodeOf(form.Parent));
        AccountClass? accountClass = Words<AccountClass>.TryParse(form.Class ?? "", out var known) ? known : parent?.Class;
        var kind = Words<AccountKind>.TryParse(form.Kind ?? "", out var said) ? said : AccountKind.Posting;
        var beside = form.Beside ?? was
            ?? (parent is null ? null : chart.Tree.Below(chart.Tree.PlaceOf(parent.Number)).Select(p => chart.Tree.Nodes[p].Account).LastOrDefault(a =>
            a.Kind == AccountKind.Posting)?.Number);
        return new(page, chart.Numbers.Answer(form.Number, was, accountClass, kind, parent?.Number, beside),
            chart.Numbers.RulerAround(form.Number?.Trim(), beside), accountClass is { } stands ? Standing.Sentence(stands, parent) : null);
    }
}
