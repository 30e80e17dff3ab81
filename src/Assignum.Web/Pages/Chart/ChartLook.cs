using System.Runtime.CompilerServices;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Storage.Settings;

namespace Assignum.Web.Pages.Chart;

/// <summary>What pages ask of every account of a chart at every request, worked out once for a chart: by its place in the tree.</summary>
public sealed class ChartLook
{
    static readonly ConditionalWeakTable<ChartBook, ChartLook> Known = [];

    ChartLook(ChartBook chart, Labels labels)
    {
        var nodes = chart.Tree.Nodes;
        Ids = new int[nodes.Count];
        Texts = new string[nodes.Count];
        Uses = new int[nodes.Count];
        Sides = new UsualSide?[nodes.Count];
        for (var i = 0; i < nodes.Count; i++)
        {
            var account = nodes[i].Account;
            Ids[i] = labels.Account(account.Number) ?? 0;
            var description = chart.DescriptionOf(account.Number);
            Texts[i] = Sought.Plain($"{account.Number} {account.Name} {description.ShortName}");
            Sides[i] = description.Side;
            Uses[i] = chart.Uses.Count(nodes[i].Fold);
        }
    }

    /// <summary>Ids.</summary>
    public int[] Ids { get; }
    /// <summary>Numbers, names and short names, ready to be looked through.</summary>
    public string[] Texts { get; }
    /// <summary>The usual side of each, where it is not that of its class.</summary>
    public UsualSide?[] Sides { get; }
    /// <summary>How many rules, tax codes and controls use each.</summary>
    public int[] Uses { get; }

    /// <summary>The look of a chart.</summary>
    public static ChartLook Of(ChartBook chart, Labels labels) => Known.GetValue(chart, c => new ChartLook(c, labels));
}
