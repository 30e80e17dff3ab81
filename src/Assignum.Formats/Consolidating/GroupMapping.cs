using System.Text;
using System.Xml;
using System.Xml.Linq;
using System.Xml.Schema;
using Assignum.Core;
using Assignum.Core.Consolidating;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Consolidating;

/// <summary>A row of a mapping to the group's chart.</summary>
/// <param name="Line">Number of its line in the file, from 1.</param>
/// <param name="Account">Number of the company's account.</param>
/// <param name="Debit">Number of the group's account; empty: it goes nowhere.</param>
/// <param name="Credit">Number of the group's account for balances in credit; empty: the same.</param>
/// <param name="Rate">The rate it is translated by, as the format spells it; empty: that of its class.</param>
public sealed record MappingRow(int Line, string Account, string Debit, string Credit, string Rate)
{
    /// <summary>Where it goes; null: nowhere.</summary>
    public GroupMatch? Match => Debit.Length == 0 ? null : new(Debit, Credit.Length == 0 ? null : Credit, Rate.Length == 0 ? null
        : Words<TranslationRate>.Parse(Rate));
    /// <summary>What is wrong with the row itself; null: nothing.</summary>
    public string? Fault => Rate.Length > 0 && !Words<TranslationRate>.TryParse(Rate, out _)
        ? $"there is no rate {Rate}; write one of {string.Join(", ", Words<TranslationRate>.All)}, or leave it empty" : null;
}

/// <summary>The mapping of a company's accounts to the group's chart as a file: CSV, XLSX, or XML by docs/schemas/group-mapping.xsd.</summary>
public static class GroupMapping
{
    /// <summary>Columns of the table.</summary>
    public static readonly IReadOnlyList<string> Columns = ["account", "name", "class", "debit", "credit", "rate"];

    /// <summary>The namespace of the XML.</summary>
    public const string Namespace = "urn:assignum:group-mapping:1";
    const int MostBytes = 64 << 20;

    /// <summary>Writes the XML.</summary>
    /// <param name="to">Where it goes.</param>
    /// <param name="company">Code of the company.</param>
    /// <param name="group">Code of the group.</param>
    /// <param name="rows">The accounts with their names.</param>
    public static void Write(Stream to, string company, string group, IEnumerable<(string Account, string Name, GroupMatch? Match)> rows)
    {
        XNamespace of = Namespace;
        using var writer = XmlWriter.Create(to, new XmlWriterSettings { Indent = true, Encoding = new UTF8Encoding(false), NewLineChars = "\n" });
        new XDocument(new XElement(of + "mapping", new XAttribute("company", company), new XAttribute("group", group), rows.Select(r => new XElement(of
            + "account",
            new XAttribute("number", r.Account), new XAttribute("name", r.Name), Attribute("debit", r.Match?.Debit), Attribute("credit", r.Match?.Credit),
            Attribute("rate", r.Match?.Rate is { } rate ? Words<TranslationRate>.Of(rate) : null))))).Save(writer);
    }

    static XAttribute? Attribute(string name, string? value) => value is null ? null : new XAttribute(name, value);

    /// <summary>Reads a mapping, whichever of the three it is.</summary>
    /// <returns>Its rows, or why it can't be read.</returns>
    public static (IReadOnlyList<MappingRow> Rows, string? Fault) Read(ReadOnlyMemory<byte> file) => IsXml(file.Span) ? ReadXml(file) : ReadSheet(file);

    static bool IsXml(ReadOnlySpan<byte> file)
    {
        var text = file.StartsWith("\uFEFF"u8) ? file[3..] : file;
        return text.TrimStart(" \t\r\n"u8).StartsWith("<"u8);
    }

    static (IReadOnlyList<MappingRow>, string?) ReadXml(ReadOnlyMemory<byte> file)
    {
        try
        {
            var schemas = new XmlSchemaSet { XmlResolver = null };
            using var schema = XmlReader.Create(typeof(GroupMapping).Assembly.GetManifestResourceStream("group-mapping.xsd")!);
            schemas.Add(Namespace, schema);
            var settings = new XmlReaderSettings
            {
                DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null, MaxCharactersInDocument = MostBytes, ValidationType = ValidationType.Schema,
                Schemas = schemas, ValidationFlags = XmlSchemaValidationFlags.ReportValidationWarnings,
            };
            settings.ValidationEventHandler += (_, told) => throw told.Exception;
            using var reader = XmlReader.Create(new MemoryStream(file.ToArray()), settings);
            var read = XDocument.Load(reader, LoadOptions.SetLineInfo);
            return ([.. read.Root!.Elements().Select(e => new MappingRow(((IXmlLineInfo)e).LineNumber, Of(e, "number"), Of(e, "debit"), Of(e, "credit"),
                Of(e, "rate")))], null);
        }
        catch (Exception fault) when (fault is XmlException or XmlSchemaException)
        {
            var line = fault is XmlSchemaException told ? told.LineNumber : ((XmlException)fault).LineNumber;
            return ([], $"Line {line}: {fault.Message} Write it as docs/schemas/group-mapping.xsd has it; an export shows how.");
        }
    }

    static string Of(XElement element, string name) => element.Attribute(name)?.Value.Trim() ?? "";

    static (IReadOnlyList<MappingRow>, string?) ReadSheet(ReadOnlyMemory<byte> file)
    {
        var read = SheetFile.Read(file);
        if (read.Fault is { } fault)
            return ([], fault);
        if (read.Sheets.Count == 0 || read.Sheets[0].Rows.Count == 0)
            return ([], "The file is empty. It needs the headings account and debit.");
        var rows = read.Sheets[0].Rows;
        var names = rows[0].Cells.Select(h => h.Trim().ToLowerInvariant()).ToList();
        var (account, debit, credit, rate) = (names.IndexOf("account"), names.IndexOf("debit"), names.IndexOf("credit"), names.IndexOf("rate"));
        return account < 0 || debit < 0 ? ([], "The headings account and debit are missing. Export the mapping, fill it in, and bring that file back.")
            : ([.. rows.Skip(1).Where(r => r[account].Length > 0).Select(r => new MappingRow(r.Line, r[account].Trim(), r[debit].Trim(),
                credit < 0 ? "" : r[credit].Trim(), rate < 0 ? "" : r[rate].Trim()))], null);
    }
}
