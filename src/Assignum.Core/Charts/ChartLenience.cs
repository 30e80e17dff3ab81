namespace Assignum.Core.Charts;

/// <summary>What becomes of a row that names something nobody has.</summary>
public enum Unknown
{
    /// <summary>The row is refused.</summary>
    Refused,
    /// <summary>What it names is left out, and the row is taken.</summary>
    LeftOut,
    /// <summary>What it names is made.</summary>
    Made,
}

/// <summary>How an import deals with tax settings and parents that neither file nor company has.</summary>
/// <param name="Tax">Unknown tax codes and item tax groups.</param>
/// <param name="Parents">Missing parents; made ones are headings.</param>
public sealed record ChartLenience(Unknown Tax, Unknown Parents)
{
    /// <summary>Every such row is refused.</summary>
    public static ChartLenience None { get; } = new(Unknown.Refused, Unknown.Refused);

    /// <summary>Rows with what is left out gone, and those that are made beside them.</summary>
    internal (IReadOnlyList<ChartRow> Rows, IReadOnlySet<ChartRow> Made, IReadOnlyList<string> TaxCodes,
        IReadOnlyList<string> ItemTaxGroups) Apply(IReadOnlyList<ChartRow> rows, ChartBook chart)
    {
        var (taxCodes, groups) = (new Dictionary<string, string>(), new Dictionary<string, string>());
        var (knownCodes, knownGroups) = (Folds(chart.Book.TaxCodes.Select(t => t.Code)), Folds(chart.Book.ItemTaxGroups.Select(g => g.Code)));
        if (Tax != Unknown.Refused)
            rows = [.. rows.Select(row => row with { TaxCode = Settled(row.TaxCode, knownCodes, taxCodes),
                ItemTaxGroup = Settled(row.ItemTaxGroup, knownGroups, groups) })];
        var made = new HashSet<ChartRow>(ReferenceEqualityComparer.Instance);
        if (Parents != Unknown.Refused)
            rows = WithParents(rows, chart, made);
        return (rows, made, [.. taxCodes.Values], [.. groups.Values]);

        string Settled(string code, HashSet<string> known, Dictionary<string, string> toMake)
        {
            if (code.Length == 0 || known.Contains(Fold.Of(code)))
                return code;
            if (Tax == Unknown.LeftOut)
                return "";
            toMake.TryAdd(Fold.Of(code), code.Trim());
            return code;
        }
    }

    List<ChartRow> WithParents(IReadOnlyList<ChartRow> rows, ChartBook chart, HashSet<ChartRow> made)
    {
        var numbers = Folds(rows.Select(r => r.Number));
        bool IsMissing(ChartRow row) => row.Parent.Length > 0 && !numbers.Contains(Fold.Of(row.Parent)) && chart.Tree.Find(row.Parent) is null;
        if (Parents == Unknown.LeftOut)
            return [.. rows.Select(row => IsMissing(row) ? row with { Parent = "" } : row)];
        foreach (var children in rows.Where(IsMissing).GroupBy(r => Fold.Of(r.Parent)))
            made.Add(new ChartRow(children.First().Line, children.First().Parent.Trim(), $"Heading {children.First().Parent.Trim()}",
                children.FirstOrDefault(c => c.Class.Length > 0)?.Class ?? "", AccountKind.Heading.Word(), ""));
        return [.. made, .. rows];
    }

    static HashSet<string> Folds(IEnumerable<string> codes) => [.. codes.Select(Fold.Of)];
}
