using System.Text;
using Assignum.Formats.Charts;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Tests;

/// <summary>Chart files with our own headings, in every encoding and with every separator.</summary>
public class ChartFileTests
{
    static string[] Rows(ReadSheets read)
    {
        var mapping = MappingProposal.For(read.Sheets);
        return [.. ChartSheet.Rows(read.Sheets[0], mapping).Select(r => $"{r.Line} {r.Number}|{r.Name}|{r.Class}|{r.Kind}|{r.Parent}")];
    }

    static ReadSheets Read(string text) => SheetFile.Read(Encoding.UTF8.GetBytes(text));

    [Fact]
    public void A_plain_file_is_read() => Assert.Equal(["2 10|Money|asset|heading|", "3 1000|Bank|||10"], Rows(Read("number,name,class,kind,parent\n10,Money,asset,heading,\n1000,Bank,,,10\n")));

    [Theory]
    [InlineData("\uFEFFnumber;name;class\r\n10;Money;asset\r\n", "UTF-8, separated by semicolons")]
    [InlineData("Number\tNAME\tclass\n10\tMoney\tasset", "UTF-8, separated by tabs")]
    [InlineData("name|class|number\nMoney|asset|10", "UTF-8, separated by bars")]
    public void Mark_separator_order_and_case_of_the_header_do_not_matter(string text, string said)
    {
        Assert.Equal(["2 10|Money|asset||"], Rows(Read(text)));
        Assert.Equal(said, Read(text).Said);
    }

    [Fact]
    public void Quoted_line_breaks_become_a_blank_and_line_numbers_stay_right() =>
        Assert.Equal(["2 10|Money in \"hand\"|asset||", "4 11|Receivables|asset||"], Rows(Read("number,name,class\n10,\"Money\nin \"\"hand\"\"\",asset\n11,Receivables,asset\n")));

    [Fact]
    public void Windows_1252_is_found_out()
    {
        Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);
        var read = SheetFile.Read(Encoding.GetEncoding(1252).GetBytes("number;name;class\n10;Gärtnerei – Töpfe €;asset\n"));

        Assert.Equal(["2 10|Gärtnerei – Töpfe €|asset||"], Rows(read));
        Assert.StartsWith("Windows-1252", read.Said, StringComparison.Ordinal);
    }

    [Fact]
    public void Utf_16_is_found_out() => Assert.Equal(["2 10|Töpfe|asset||"], Rows(SheetFile.Read((byte[])[0xFF, 0xFE, .. Encoding.Unicode.GetBytes("number,name,class\n10,Töpfe,asset\n")])));

    [Theory]
    [InlineData("", "empty")]
    [InlineData("\uFEFF", "empty")]
    [InlineData(" \n \n", "empty")]
    [InlineData("number,name\n10,Mon\"ey\n11,B\n", "quotation mark")]
    [InlineData("number,name\n10,\0Money\n", "not text")]
    [InlineData("PK\u0003\u0004\0\0\0", "can't be read as one")]
    public void A_file_that_is_no_chart_is_refused_with_the_mend(string text, string why)
    {
        var read = Read(text);

        Assert.Empty(read.Sheets);
        Assert.Contains(why, read.Fault, StringComparison.Ordinal);
    }

    [Fact]
    public void Fifty_megabytes_of_junk_are_refused_without_being_read()
    {
        var junk = new byte[50 << 20];
        new Random(1).NextBytes(junk);

        Assert.Contains("50 MB", SheetFile.Read(junk).Fault, StringComparison.Ordinal);
        Assert.NotNull(SheetFile.Read(junk.AsMemory(0, 9 << 20)).Fault);
    }

    [Fact]
    public void Rows_beyond_the_limit_are_refused()
    {
        var text = "number,name\n" + string.Concat(Enumerable.Range(0, SheetFile.MostRows + 1).Select(i => $"{i},A\n"));

        Assert.Contains("120,000", Read(text).Fault, StringComparison.Ordinal);
    }
}
