using System.Text;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Counts;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Tests;

/// <summary>A count sheet says of every row what was counted, or why the row counts nothing.</summary>
public class CountSheetTests
{
    static readonly CompiledRulebook Book = new(new Rulebook
    {
        Company = new Company("QN", "Quillmoss Nurseries", "EUR", new CompanyOptions()),
        Items = [new Item { Code = "SEED-01", Name = "Field poppy", Kind = ItemKind.Stock }, new Item { Code = "WORK", Name = "Work", Kind = ItemKind.Labour }],
        Locations = [new Location("NORTH", "North yard")],
    });

    static (IReadOnlyList<Counted> Counts, IReadOnlyList<RefusedCount> Refused) Read(string sheet) =>
        CountSheet.Read(SheetFile.Read(Encoding.UTF8.GetBytes(sheet), default).Sheets[0], Book);

    [Theory]
    [InlineData("item;place;counted\nseed-01;north;12", "SEED-01 NORTH 12 ")]
    [InlineData("SEED-01;7.5", "SEED-01  7.5 ")]
    [InlineData("SEED-01;NORTH;0;0.85", "SEED-01 NORTH 0 0.85")]
    [InlineData("SEED-01;NORTH;3\nSEED-01;4", "SEED-01 NORTH 3 |SEED-01  4 ")]
    public void A_row_has_item_place_quantity_and_cost(string sheet, string counted)
    {
        var (counts, refused) = Read(sheet);
        Assert.Empty(refused);
        Assert.Equal(counted, string.Join("|", counts.Select(c => FormattableString.Invariant($"{c.Item.Code} {c.Location?.Code} {c.Quantity} {c.UnitCost}"))));
    }

    [Theory]
    [InlineData("SEED-99;1", "There is no item SEED-99")]
    [InlineData("WORK;1", "not kept in stock")]
    [InlineData("SEED-01;SOUTH;1", "There is no location SOUTH")]
    [InlineData("SEED-01;NORTH", "The quantity of SEED-01 is missing")]
    [InlineData("SEED-01;-1", "0 or more")]
    [InlineData("SEED-01;1\nSEED-01;2", "is counted twice")]
    public void What_counts_nothing_says_why(string sheet, string why) => Assert.Contains(why, Assert.Single(Read("item;counted\n" + sheet).Refused).Why, StringComparison.Ordinal);
}
