using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Storage.Charts;

namespace Assignum.Web.Pages.Chart;

/// <summary>An account as the chart shows it.</summary>
/// <param name="Place">Its place in the tree.</param>
/// <param name="Node">The account in its place.</param>
/// <param name="Context">It is there only because something below it is asked for.</param>
/// <param name="Open">Whether what is below it is shown.</param>
/// <param name="Balance">Its balance with all below it.</param>
/// <param name="Movement">Its movement with all below it.</param>
/// <param name="UsedBy">How many rules, tax codes, controls and matches use it.</param>
/// <param name="Posted">Whether anything was posted to it, or below it.</param>
/// <param name="WrongSide">Its balance stands on the other side than usual.</param>
public sealed record ChartLine(int Place, ChartNode Node, bool Context, bool Open, decimal Balance, decimal Movement, int UsedBy, bool Posted, bool WrongSide);

/// <summary>Works out which accounts a query shows, in which order, with their totals.</summary>
public sealed class ChartView
{
    const int SmallChart = 500;

    readonly ChartBook chart;
    readonly ChartLook look;
    readonly ChartQuery query;
    readonly Sought sought;
    readonly decimal[] own, balances, movements;
    readonly int[] uses;
    readonly bool[] posted;

    /// <summary>Prepares it.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="look">Its look.</param>
    /// <param name="sums">Sums by id of the account.</param>
    /// <param name="matches">How many accounts of other companies belong to each, by id.</param>
    /// <param name="query">What is asked for.</param>
    public ChartView(ChartBook chart, ChartLook look, IReadOnlyDictionary<int, SpanSum> sums, IReadOnlyDictionary<int, int> matches, ChartQuery query)
    {
        (this.chart, this.look, this.query, sought) = (chart, look, query, new Sought(query.Filter));
        own = new decimal[look.Ids.Length];
        posted = new bool[look.Ids.Length];
        var ownMovements = new decimal[look.Ids.Length];
        for (var i = 0; i < own.Length; i++)
            if (posted[i] = sums.TryGetValue(look.Ids[i], out var sum))
                (own[i], ownMovements[i]) = (sum.Balance, sum.Movement);
        uses = matches.Count == 0 ? look.Uses : [.. look.Uses.Select((count, i) => count + matches.GetValueOrDefault(look.Ids[i]))];
        balances = chart.Tree.Totals(own);
        movements = chart.Tree.Totals(ownMovements);
    }

    /// <summary>How many accounts have a balance on the other side than usual.</summary>
    public int WrongSides => Enumerable.Range(0, own.Length).Count(IsWrongSide);

    readonly record struct Shown(int Place, bool Context, bool Open);

    /// <summary>The lines of a page, and how many follow them. Only those are worked out.</summary>
    /// <param name="after">Number of the account on which the page before ended; null for the first page.</param>
    /// <param name="most">Most lines of a page.</param>
    public (IReadOnlyList<ChartLine> Lines, int More) Page(string? after, int most)
    {
        var shown = All(everything: false);
        var from = string.IsNullOrEmpty(after) ? 0 : shown.FindIndex(s => s.Place == chart.Tree.PlaceOf(after)) + 1;
        return ([.. shown.Skip(from).Take(most).Select(Line)], Math.Max(0, shown.Count - from - most));
    }

    /// <summary>All lines, folded branches included.</summary>
    public IEnumerable<ChartLine> Everything() => All(everything: true).Select(Line);

    List<Shown> All(bool everything)
    {
        if (query.IsSorted)
            return Sorted();
        if (query.Narrowed)
            return Narrowed();
        return Tree(everything);
    }

    List<Shown> Tree(bool everything)
    {
        var nodes = chart.Tree.Nodes;
        var lines = new List<Shown>();
        var turned = query.TurnedNumbers.Select(Fold.Of).ToHashSet();
        var openUsually = query.All is { Length: > 0 } all ? all != "closed" : nodes.Count <= SmallChart;
        for (var i = 0; i < nodes.Count;)
        {
            var open = everything || ((openUsually || (nodes[i].Depth == 0 && string.IsNullOrEmpty(query.All))) ^ turned.Contains(nodes[i].Fold));
            lines.Add(new(i, Context: false, open));
            i = open ? i + 1 : nodes[i].End;
        }
        return lines;
    }

    // What fits, under the headings it stands below.
    List<Shown> Narrowed()
    {
        var nodes = chart.Tree.Nodes;
        var (fits, context) = (new bool[nodes.Count], new bool[nodes.Count]);
        for (var i = 0; i < nodes.Count; i++)
            if (fits[i] = Fits(i))
                for (var above = nodes[i].Parent; above >= 0 && !context[above]; above = nodes[above].Parent)
                    context[above] = true;
        return [.. Enumerable.Range(0, nodes.Count).Where(i => fits[i] || context[i]).Select(i => new Shown(i, !fits[i], Open: true))];
    }

    List<Shown> Sorted()
    {
        var places = Enumerable.Range(0, chart.Tree.Nodes.Count).Where(i => chart.Tree.Nodes[i].Account.Kind == AccountKind.Posting && Fits(i)).ToList();
        var falling = query.Sort!.StartsWith('-');
        return query.Sort.TrimStart('-') switch
        {
            "balance" => Ordered(i => balances[i]), "movement" => Ordered(i => movements[i]), "used" => Ordered(i => uses[i]),
            "name" => Ordered(i => Fold.Of(Account(i).Name)), "class" => Ordered(i => Account(i).Class), "control" =>
                Ordered(i => Account(i).Control?.Word() ?? "~"),
            "tax" => Ordered(i => Account(i).TaxCode ?? Account(i).ItemTaxGroup ?? "~"), "group" =>
                Ordered(i => chart.DescriptionOf(Account(i).Number).GroupAccount ?? "~"),
            "short" => Ordered(i => chart.DescriptionOf(Account(i).Number).ShortName ?? "~"),
            _ => Ordered(i => chart.Tree.Nodes[i].Fold),
        };

        Account Account(int place) => chart.Tree.Nodes[place].Account;

        List<Shown> Ordered<T>(Func<int, T> key)
        {
            var comparer = typeof(T) == typeof(string) ? (IComparer<T>)StringComparer.Ordinal : Comparer<T>.Default;
            return [.. (falling ? places.OrderByDescending(key, comparer) : places.OrderBy(key, comparer)).ThenBy(i => chart.Tree.Nodes[i].Fold,
                StringComparer.Ordinal).Select(i => new Shown(i, Context: false, Open: true))];
        }
    }

    bool Fits(int place) => InView(place) && sought.InPlain(look.Texts[place]);

    bool InView(int place)
    {
        var account = chart.Tree.Nodes[place].Account;
        return query.View switch
        {
            "used" => uses[place] > 0,
            "control" => account.Control is not null,
            "untaxed" => IsUntaxed(account),
            "unruled" => account.Kind == AccountKind.Posting && !chart.Uses.RulesOf(chart.Tree.Nodes[place].Fold).Any(),
            "ungrouped" => account.Kind == AccountKind.Posting && chart.DescriptionOf(account.Number).GroupAccount is null,
            "unposted" => account.Kind == AccountKind.Posting && !posted[place],
            "inactive" => !account.Active,
            "wrong" => IsWrongSide(place),
            _ => true,
        };
    }

    // Where nothing is said of its side of tax, accounts of the profit and loss are expected to have a setting.
    static bool IsUntaxed(Account account) =>
        account is { Kind: AccountKind.Posting, TaxCode: null, ItemTaxGroup: null }
        && (account.TaxRelevance is { } said ? said != TaxRelevance.None
            : account.Class is AccountClass.Income or AccountClass.Expense or AccountClass.CostOfSales);

    bool IsWrongSide(int place)
    {
        var account = chart.Tree.Nodes[place].Account;
        return account.Kind == AccountKind.Posting && own[place] != 0 && Standing.IsWrongSide(account.Class, look.Sides[place], own[place]);
    }

    ChartLine Line(Shown shown)
    {
        var place = shown.Place;
        var node = query.IsSorted ? chart.Tree.Nodes[place] with { Depth = 0 } : chart.Tree.Nodes[place];
        return new(place, node, shown.Context, shown.Open, balances[place], movements[place], uses[place], posted[place] || balances[place] != 0
            || movements[place] != 0, IsWrongSide(place));
    }
}
