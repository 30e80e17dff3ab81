using Assignum.Core.Charts;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Charts;

/// <summary>A chart to start from.</summary>
/// <param name="Name">Its name in addresses: "trading".</param>
/// <param name="Title">Its title.</param>
/// <param name="Says">Whom it is for.</param>
public sealed record ChartTemplate(string Name, string Title, string Says);

/// <summary>The charts to start from, and the empty file to be filled in.</summary>
public static class ChartTemplates
{
    /// <summary>All of them.</summary>
    public static IReadOnlyList<ChartTemplate> All { get; } =
    [
        new("trading", "Trading", "Buys goods and sells them: stock by kind of goods, goods received and not invoiced, shop and web takings."),
        new("services", "Services", "Sells hours and advice: fees, work in progress, people's cost; no stock."),
        new("growing-and-building", "Growing and building",
            "Raises plants and builds with them: stock that grows, projects with work in progress, production at standard cost."),
    ];

    /// <summary>Rows of a template; null when there is none of that name.</summary>
    public static IReadOnlyList<ChartRow>? RowsOf(string name) => All.Any(t => t.Name == name) ? Read(name + ".csv") : null;

    static IReadOnlyList<ChartRow> Read(string part)
    {
        var sheet = SheetFile.Part(part);
        return ChartSheet.Rows(sheet, MappingProposal.For(sheet));
    }

    /// <summary>The file to be filled in: all columns, and a few rows that show how.</summary>
    public static Table ToFillIn => new("Chart of accounts", [.. ChartFields.All.Select(f => f.Name)],
    [
        ["1", "Assets", "asset", "heading", "", "", "", "", "", "", "", ""],
        ["1100", "Trade receivables", "", "posting", "1", "Receivables", "What customers owe for invoices.", "receivables", "block", "", "", "yes"],
        ["4", "Income", "income", "heading", "", "", "", "", "", "", "", ""],
        ["4010", "Sales of goods", "", "posting", "4", "", "", "", "", "", "", "yes"],
    ]);
}
