using System.Text;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Rulebooks;

namespace Assignum.Formats.Tests;

public class RulebookReaderTests
{
    const string Company = """ "company": { "code": "QN", "name": "Quillmoss", "currency": "EUR" } """;

    static ReadRulebook Read(string body) => RulebookReader.Read(Encoding.UTF8.GetBytes($$"""{ "format": "assignum-rulebook/1", {{Company}}{{(body.Length > 0 ? "," + body : "")}} }"""));

    static (string, string) Finding(string body)
    {
        var read = Read(body);
        Assert.Null(read.Book);
        var finding = Assert.Single(read.Findings);
        return (finding.Check, finding.Where);
    }

    [Fact]
    public void Defaults_hold_where_nothing_is_said()
    {
        var book = Read("""
            "accounts": [ { "number": "1", "name": "A", "class": "asset", "kind": "posting", "control": null } ], "taxCodes": [ { "code": "R8", "rates": [ { "from": "2020-01-01", "percent": "8" } ] } ]
            """).Book!;

        Assert.Equal(new CompanyOptions(), book.Company.Options);
        Assert.True(book.Accounts[0].Active);
        Assert.Equal((100m, false, Core.Taxes.TaxDirection.Both), (book.TaxCodes[0].Components[0].RecoverablePercent, book.TaxCodes[0].ReverseCharge, book.TaxCodes[0].Direction));
    }

    [Fact]
    public void The_empty_rung_and_absent_ladders_are_read_as_03_has_them()
    {
        var book = Read(""" "ladders": { "revenue": [ ["item"], ["partyGroup", "itemGroup"], [] ] } """).Book!;

        Assert.Equal(["item", "partyGroup+itemGroup", "default"], book.LadderOf(Purpose.Revenue).Select(r => r.Name));
        Assert.Equal(Purpose.SalesReturn.DefaultLadder, book.LadderOf(Purpose.SalesReturn));
    }

    [Theory]
    [InlineData(""" "colour": "red" """, "unknown-property", "colour")]
    [InlineData(""" "items": [ { "code": "A", "kind": "stock", "colour": 1 } ] """, "unknown-property", "items/A/colour")]
    [InlineData(""" "items": [ { "code": "A", "kind": "shelf" } ] """, "bad-value", "items/A")]
    [InlineData(""" "items": [ { "code": "A" } ] """, "missing-value", "items/A")]
    [InlineData(""" "items": [ { "code": "A", "kind": "stock", "cost": 1.0000001 } ] """, "bad-value", "items/A")]
    [InlineData(""" "items": { } """, "bad-value", "")]
    [InlineData(""" "rules": [ { "id": "r1", "purpose": "income", "account": "1" } ] """, "unknown-purpose", "rules/r1")]
    [InlineData(""" "rules": [ { "id": "r1", "purpose": "revenue", "when": { "colour": "red" }, "account": "1" } ] """, "rule-off-ladder", "rules/r1/when")]
    [InlineData(""" "rules": [ { "id": "r1", "purpose": "revenue", "account": "1", "from": "1.1.2026" } ] """, "bad-value", "rules/r1")]
    [InlineData(""" "ladders": { "revenue": [ ["colour"] ] } """, "bad-rung", "ladders")]
    [InlineData(""" "ladders": { "revenue": [ ["item", "item"] ] } """, "bad-rung", "ladders")]
    [InlineData(""" "ladders": { "income": [] } """, "unknown-purpose", "ladders")]
    [InlineData(""" "taxCodes": [ { "code": "A", "components": [] } ] """, "missing-value", "taxCodes/A")]
    public void What_is_wrong_is_named_with_its_place(string body, string check, string where) => Assert.Equal((check, where), Finding(body));

    [Theory]
    [InlineData("")]
    [InlineData("[]")]
    [InlineData("{")]
    [InlineData("""{ "format": "something/1" }""")]
    [InlineData("""{ "format": "assignum-rulebook/1", "format": "assignum-rulebook/1" }""")]
    public void What_is_no_rulebook_is_refused_and_not_a_fault_of_ours(string json) => Assert.Equal("not-a-rulebook", Assert.Single(RulebookReader.Read(Encoding.UTF8.GetBytes(json)).Findings).Check);
}
