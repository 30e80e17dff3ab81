using System.Text;
using Assignum.Core.Consolidating;
using Assignum.Formats.Consolidating;

namespace Assignum.Formats.Tests.Consolidating;

/// <summary>A mapping to the group's chart goes out and comes back the same; what is wrong with a file names the row and the fix.</summary>
public class GroupMappingTests
{
    static readonly (string, string, GroupMatch?)[] Rows =
    [
        ("101000", "Bank & till", new("G-100", "G-240")), ("231000", "Wages", new("G-230", null, TranslationRate.Historical)), ("309000", "Opening <old>", null),
    ];

    static byte[] Xml()
    {
        using var to = new MemoryStream();
        GroupMapping.Write(to, "QL", "QG", Rows);
        return to.ToArray();
    }

    [Fact]
    public void As_XML_it_comes_back_as_it_went()
    {
        var (rows, fault) = GroupMapping.Read(Xml());

        Assert.Null(fault);
        Assert.Equal(Rows.Select(r => (r.Item1, r.Item3)), rows.Select(r => (r.Account, r.Match)));
    }

    [Fact]
    public void As_a_sheet_its_columns_may_stand_in_any_order_and_credit_and_rate_may_be_missing()
    {
        var (rows, fault) = GroupMapping.Read(Encoding.UTF8.GetBytes("debit;account\nG-100;101000\n;309000\n"));

        Assert.Null(fault);
        Assert.Equal([("101000", new GroupMatch("G-100")), ("309000", null)], rows.Select(r => (r.Account, r.Match)));
    }

    [Theory]
    [InlineData("account,name\n101000,Bank\n", "debit")]
    [InlineData("name,debit\nBank,G-100\n", "account")]
    public void A_sheet_without_a_column_it_needs_is_refused_by_its_name(string sheet, string named) =>
        Assert.Contains(named, GroupMapping.Read(Encoding.UTF8.GetBytes(sheet)).Fault, StringComparison.Ordinal);

    [Fact]
    public void A_rate_nobody_knows_is_refused_in_its_row()
    {
        var (rows, _) = GroupMapping.Read(Encoding.UTF8.GetBytes("account,debit,credit,rate\n101000,G-100,,monthly\n"));

        Assert.Contains("there is no rate monthly", Assert.Single(rows).Fault, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("<rate>", "rate")]
    [InlineData("<bank />", "bank")]
    public void XML_that_the_schema_does_not_know_is_refused(string added, string named)
    {
        var text = Encoding.UTF8.GetString(Xml());
        var broken = text.Replace("</", added + "</", StringComparison.Ordinal);

        var fault = GroupMapping.Read(Encoding.UTF8.GetBytes(broken)).Fault;
        Assert.NotNull(fault);
        Assert.Contains(named, fault, StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public void XML_that_declares_entities_is_not_read() =>
        Assert.NotNull(GroupMapping.Read(Encoding.UTF8.GetBytes("<?xml version=\"1.0\"?><!DOCTYPE a [<!ENTITY e \"x\">]><mapping xmlns=\"urn:assignum:group-mapping:1\">&e;</mapping>")).Fault);
}
