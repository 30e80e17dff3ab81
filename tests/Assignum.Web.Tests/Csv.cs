using System.Globalization;
using System.Text;
using Microsoft.VisualBasic.FileIO;

namespace Assignum.Web.Tests;

/// <summary>A table that was exported, read without the product's own reader.</summary>
static class Csv
{
    /// <summary>Its rows, each by the names of the columns.</summary>
    internal static async Task<List<Dictionary<string, string>>> Read(Visitor visitor, string address)
    {
        using var parser = new TextFieldParser(new MemoryStream(await visitor.Download(address)), Encoding.UTF8) { Delimiters = [","] };
        var (head, rows) = (parser.ReadFields()!, new List<Dictionary<string, string>>());
        while (parser.ReadFields() is { } fields)
            rows.Add(head.Zip(fields).ToDictionary(c => c.First, c => c.Second));
        return rows;
    }

    internal static decimal Number(string text) => decimal.Parse(text, CultureInfo.InvariantCulture);
}
