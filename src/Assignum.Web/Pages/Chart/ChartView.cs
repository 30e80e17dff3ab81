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
/// <param name="UsedBy">How many rules, tax codes and controls use it.</param>
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
    readonly decimal[] own, balances, movements;
    readonly bool[] posted;

    /// <summary>Prepares it.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="look">Its look.</param>
    /// <param name="sums">Sums by id of the account.</param>
    /// <param name="query">What is asked for.</param>
    public ChartView(ChartBook chart, ChartLook look, IReadOnlyDictionary<int, SpanSum> sums, ChartQuery query)
    {
        (this.chart, this.look, this.query) = (chart, look, query);
        own = new decimal[look.Ids.Length];
        posted = new bool[look.Ids.Length];
        var ownMovements = new decimal[look.Ids.Length];
        for (var i = 0; i < own.Length; i++)
            if (posted[i] = sums.TryGetValue(look.Ids[i], out var sum))
                (own[i], ownMovements[i]) = (sum.Balance, sum.Movement);
        balances = chart.Tree.Totals(own);
        movements = chart.Tree.Totals(ownMovements);
    }

    /// <summary>How many accounts each view has; only those that call for a look.</summary>
    public int WrongSides => Enumerable.Range(0, own.Length).Count(IsWrongSide);

    /// <summary>All lines the query shows, from the first; folded branches are left out unless <paramref name="everything"/> is asked for.</summary>
    public IEnumerable<ChartLine> Lines(bool everything = false)
    {
        if (query.IsSorted)
            return Sorted();
        return query.Narrowed ? Narrowed() : Tree(everything);
    }

    IEnumerable<ChartLine> Tree(bool everything)
    {
        var nodes = chart.Tree.Nodes;
        var turned = query.TurnedNumbers.Select(Fold.Of).ToHashSet();
        var openUsually = query.All is { Length: > 0 } all ? all != "closed" : nodes.Count <= SmallChart;
        for (var i = 0; i < nodes.Count;)
        {
            var open = everything || ((openUsually || (nodes[i].Depth == 0 && string.IsNullOrEmpty(query.All))) ^ turned.Contains(nodes[i].Fold));
            yield return Line(i, context: false, open);
            i = open ? i + 1 : nodes[i].End;
        }
    }

    // What fits, under the headings it stands below.
    IEnumerable<ChartLine> Narrowed()
    {
        var nodes = chart.Tree.Nodes;
        var shown = new byte[nodes.Count];
        for (var i = 0; i < nodes.Count; i++)
        {
            if (!Fits(i))
                continue;
            shown[i] = 2;
            foreach (var above in chart.Tree.Above(i))
                if (shown[above] == 0)
                    shown[above] = 1;
        }
        for (var i = 0; i < nodes.Count; i++)
            if (shown[i] > 0)
                yield return Line(i, context: shown[i] == 1, open: true);
    }

    IEnumerable<ChartLine> Sorted()
    {
        var places = Enumerable.Range(0, chart.Tree.Nodes.Count).Where(i => chart.Tree.Nodes[i].Account.Kind == AccountKind.Posting && Fits(i)).Select(i => Line(i, context: false, open: true) with { Node = chart.Tree.Nodes[i] with { Depth = 0 } });
        var falling = query.Sort!.StartsWith('-');
        var by = query.Sort.TrimStart('-');
        return by switch
        {
            "balance" => Ordered(l => l.Balance), "movement" => Ordered(l => l.Movement), "used" => Ordered(l => l.UsedBy),
            "name" => Ordered(l => Fold.Of(l.Node.Account.Name)), "class" => Ordered(l => l.Node.Account.Class), "control" => Ordered(l => l.Node.Account.Control?.Word() ?? "~"),
            "tax" => Ordered(l => l.Node.Account.TaxCode ?? l.Node.Account.ItemTaxGroup ?? "~"), "group" => Ordered(l => chart.DescriptionOf(l.Node.Account.Number).GroupAccount ?? "~"),
            "short" => Ordered(l => chart.DescriptionOf(l.Node.Account.Number).ShortName ?? "~"),
            _ => Ordered(l => l.Node.Fold),
        };

        IEnumerable<ChartLine> Ordered<T>(Func<ChartLine, T> key)
        {
            var comparer = typeof(T) == typeof(string) ? (IComparer<T>)StringComparer.Ordinal : Comparer<T>.Default;
            return (falling ? places.OrderByDescending(key, comparer) : places.OrderBy(key, comparer)).ThenBy(l => l.Node.Fold, StringComparer.Ordinal);
        }
    }

    bool Fits(int place) => InView(place) && (string.IsNullOrWhiteSpace(query.Filter) || look.Texts[place].Contains(Fold.Of(query.Filter), StringComparison.Ordinal));

    bool InView(int place)
    {
        var account = chart.Tree.Nodes[place].Account;
        return query.View switch
        {
            "used" => look.Uses[place] > 0,
            "control" => account.Control is not null,
            "untaxed" => IsUntaxed(account),
            "unposted" => account.Kind == AccountKind.Posting && !posted[place],
            "inactive" => !account.Active,
            "wrong" => IsWrongSide(place),
            _ => true,
        };
    }

    // Where nothing is said of its side of tax, accounts of the profit and loss are expected to have a setting.
    static bool IsUntaxed(Account account) =>
        account is { Kind: AccountKind.Posting, TaxCode: null, ItemTaxGroup: null }
        && (account.TaxRelevance is { } said ? said != TaxRelevance.None : account.Class is AccountClass.Income or AccountClass.Expense or AccountClass.CostOfSales);

    bool IsWrongSide(int place)
    {
        var account = chart.Tree.Nodes[place].Account;
        return account.Kind == AccountKind.Posting && own[place] != 0 && Standing.IsWrongSide(account.Class, chart.DescriptionOf(account.Number).Side, own[place]);
    }

    ChartLine Line(int place, bool context, bool open)
    {
        var node = chart.Tree.Nodes[place];
        return new(place, node, context, open, balances[place], movements[place], look.Uses[place], posted[place] || balances[place] != 0 || movements[place] != 0, IsWrongSide(place));
    }
}
