using System.Globalization;
using Assignum.Core.Charts;
using Assignum.Formats.Charts;
using Assignum.Formats.Sheets;
using Microsoft.AspNetCore.Http;

namespace Assignum.Web.Pages.Chart;

/// <summary>A mapping as the address or a form has it: "sheet", "header", "placing", "f.0" for the field of the first column, "class.A" and "kind.K" for
/// codes.</summary>
static class MappingForm
{
    internal const string Column = "f.", ClassCode = "class.", KindCode = "kind.";

    /// <summary>Whether anything of a mapping was sent.</summary>
    internal static bool IsSent(IEnumerable<string> names) => names.Any(n => n.StartsWith(Column, StringComparison.Ordinal));

    /// <summary>The mapping that was sent; where another sheet or header line was chosen, one is proposed anew.</summary>
    internal static ChartMapping Read(IReadOnlyList<Sheet> sheets, IReadOnlyDictionary<string, string> sent)
    {
        var sheet = sheets.FirstOrDefault(s => s.Name == sent.GetValueOrDefault("sheet")) ?? sheets[0];
        var header = int.TryParse(sent.GetValueOrDefault("header"), NumberStyles.None, CultureInfo.InvariantCulture, out var line) ? line : 0;
        if (sheet.Name != sent.GetValueOrDefault("sheet-was", sheet.Name))
            return MappingProposal.For(sheet);
        if (header.ToString(CultureInfo.InvariantCulture) != sent.GetValueOrDefault("header-was", sent.GetValueOrDefault("header", "")))
            return MappingProposal.For(sheet, header);
        var mapping = new ChartMapping { Sheet = sheet.Name, HeaderLine = header, Placing = sent.GetValueOrDefault("placing") == "number" ? Placing.ByNumber
            : Placing.ByColumn, Classes = Codes(ClassCode), Kinds = Codes(KindCode),
            Values = ChartMapping.FieldsOfValues.Keys.ToDictionary(f => f, f => (IReadOnlyDictionary<string, string>)Codes(f + "."))
                .Where(v => v.Value.Count > 0).ToDictionary(),
            Lenience = new(Chosen("unknown-tax"), Chosen("unknown-parents")),
        };
        foreach (var (name, field) in sent)
            if (name.StartsWith(Column, StringComparison.Ordinal) && ChartFields.Find(field) is not null
                && int.TryParse(name.AsSpan(Column.Length), NumberStyles.None, CultureInfo.InvariantCulture, out var column) && column < sheet.Columns
                && !mapping.Columns.ContainsKey(field))
                mapping = mapping.With(field, column);
        // A column that was chosen only now brings codes nobody has said anything of.
        return WithNewCodes(sheet, mapping, sent);

        Unknown Chosen(string name) => Core.Words<Unknown>.TryParse(sent.GetValueOrDefault(name, ""), out var chosen) ? chosen : Unknown.Refused;

        Dictionary<string, string> Codes(string prefix) =>
            sent.Where(s => s.Key.StartsWith(prefix, StringComparison.Ordinal) && s.Value.Length > 0).ToDictionary(s => s.Key[prefix.Length..], s => s.Value);
    }

    static ChartMapping WithNewCodes(Sheet sheet, ChartMapping mapping, IReadOnlyDictionary<string, string> sent)
    {
        var proposed = MappingProposal.WithCodes(sheet, mapping);
        return mapping with
        {
            Classes = proposed.Classes.Where(c => mapping.Classes.ContainsKey(c.Key) || !sent.ContainsKey(ClassCode + c.Key)).ToDictionary(),
            Values = proposed.Values.ToDictionary(v => v.Key, v =>
                (IReadOnlyDictionary<string, string>)v.Value.Where(c => mapping.MeaningsOf(v.Key).ContainsKey(c.Key)
                || !sent.ContainsKey($"{v.Key}.{c.Key}")).ToDictionary()),
            Kinds = proposed.Kinds.Where(c => mapping.Kinds.ContainsKey(c.Key) || !sent.ContainsKey(KindCode + c.Key)).ToDictionary(),
        };
    }

    internal static IReadOnlyDictionary<string, string> Of(IQueryCollection query) => query.ToDictionary(q => q.Key, q => q.Value.ToString());

    internal static IReadOnlyDictionary<string, string> Of(IFormCollection form) => form.ToDictionary(q => q.Key, q => q.Value.ToString());
}
