using System.Text;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Landing;
using Assignum.Formats.Rulebooks;

namespace Assignum.Formats.Tests;

public class LandingRunTests
{
    static readonly CompiledRulebook Demo = new(RulebookReader.Read(File.ReadAllBytes("files/rulebook.json")).Book!);

    static (LandingCounts Counts, string Journal, string Held, string Subledger) Land(string events)
    {
        using var from = new MemoryStream(Encoding.UTF8.GetBytes(events));
        using MemoryStream journal = new(), held = new(), subledger = new();
        var counts = LandingRun.Run(Demo, from, new LandingOutputs(journal, held, subledger, null));
        return (counts, Encoding.UTF8.GetString(journal.ToArray()), Encoding.UTF8.GetString(held.ToArray()), Encoding.UTF8.GetString(subledger.ToArray()));
    }

    [Fact]
    public void The_journal_is_written_as_the_formats_say()
    {
        var landed = Land("""{"id":"INV, 1","type":"sales-invoice","date":"2026-03-14","party":"c-10","location":"NORTH","text":"Spring \"order\"","lines":[{"item":"seed-01","quantity":10,"price":2.5,"discountPercent":5,"shipped":true}]}""");

        Assert.Equal(""""
            event,line,date,account,debit,credit,currency,amount,purpose,rung,rule,party,item,location,project,taxcode,dimensions,text
            "INV, 1",1,2026-03-14,4015,,23.75,EUR,-23.75,revenue,itemGroup+partyGroup,r12,C-10,SEED-01,NORTH,,R8,,"Spring ""order"""
            "INV, 1",2,2026-03-14,5010,8.50,,EUR,8.50,cost-of-sales,itemGroup,r54,C-10,SEED-01,NORTH,,R8,,"Spring ""order"""
            "INV, 1",3,2026-03-14,1320,,8.50,EUR,-8.50,inventory,itemGroup,r48,C-10,SEED-01,NORTH,,R8,,"Spring ""order"""
            "INV, 1",4,2026-03-14,2210,,1.90,EUR,-1.90,output-tax,taxCode,r27,C-10,,NORTH,,R8,,"Spring ""order"""
            "INV, 1",5,2026-03-14,1100,25.65,,EUR,25.65,receivable,default,r1,C-10,,NORTH,,,,"Spring ""order"""

            """", landed.Journal);
        Assert.Equal(""""
            event,date,subledger,member,quantity,base,amount,currency,documentamount
            "INV, 1",2026-03-14,inventory,SEED-01@NORTH,-10,,-8.50,EUR,-8.50
            "INV, 1",2026-03-14,tax,R8,,-23.75,-1.90,EUR,-1.90
            "INV, 1",2026-03-14,receivables,C-10,,,25.65,EUR,25.65

            """", landed.Subledger);
    }

    [Fact]
    public void A_held_event_leaves_nothing_in_the_journal_and_says_why()
    {
        var landed = Land("""
            {"id":"A","type":"sales-invoice","date":"2026-03-14","party":"C-70","lines":[{"item":"SEED-01","price":1}]}

            not json
            """);

        Assert.Equal(new LandingCounts(2, 2), landed.Counts);
        Assert.Single(landed.Journal.TrimEnd().Split('\n'));
        Assert.StartsWith("""{"event":"A","reason":"no-tax-rule","facts":{"partyTaxGroup":"ABROAD","itemTaxGroup":"REDUCED"},"message":""", landed.Held, StringComparison.Ordinal);
        Assert.Contains("""{"event":"line 3","reason":"invalid","field":"",""", landed.Held, StringComparison.Ordinal);
    }

    [Fact]
    public void Many_blocks_keep_the_order_of_the_file()
    {
        var line = """{"id":"INV-#","type":"sales-invoice","date":"2026-03-14","party":"C-10","lines":[{"item":"SEED-01","quantity":1,"price":2.5}]}""";
        var landed = Land(string.Join('\n', Enumerable.Range(0, 20_000).Select(i => line.Replace("#", $"{i}", StringComparison.Ordinal))));
        var order = landed.Journal.Split('\n').Skip(1).Where(l => l.Contains(",receivable,", StringComparison.Ordinal)).Select(l => l.Split(',')[0]);

        Assert.Equal(Enumerable.Range(0, 20_000).Select(i => $"INV-{i}"), order);
    }

    [Fact]
    public void The_demo_s_events_all_land() => Assert.Equal(new LandingCounts(50, 0), Land(File.ReadAllText("files/events.ndjson")).Counts);
}
