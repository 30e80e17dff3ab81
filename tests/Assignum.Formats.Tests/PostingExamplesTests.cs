using System.Globalization;
using System.Text;
using Assignum.Core;
using Assignum.Core.Assets;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Projects;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Events;
using Assignum.Formats.Rulebooks;

namespace Assignum.Formats.Tests;

/// <summary>docs/posting.md: every type of event has a worked example, and lands as it says.</summary>
public class PostingExamplesTests
{
    static readonly Lazy<CompiledRulebook> Book = new(() => new CompiledRulebook(RulebookReader.Read(File.ReadAllBytes("files/rulebook.json")).Book!));

    static readonly Lazy<Dictionary<string, string[]>> Sections = new(() => File.ReadAllText("files/posting.md").Split("\n### ").Skip(1)
        .Select(section => section.Split('\n')).ToDictionary(lines => lines[0].Trim()));

    public static TheoryData<string> Types => [.. EventTypes.All.Select(type => type.Name)];

    [Theory]
    [MemberData(nameof(Types))]
    public void An_example_lands_as_its_figures_say(string type)
    {
        var section = Sections.Value[type];
        var json = section[Array.IndexOf(section, "```json") + 1];
        Assert.Equal(EventSamples.Of(type), json);

        var happened = new EventReader().Read(Encoding.UTF8.GetBytes(json), 1).Event!;
        Assert.Equal(type, happened.TypeName);
        var outcome = Core.Posting.Landing.Land(Book.Value, happened);
        Assert.Equal(section.Where(line => line.StartsWith("| ", StringComparison.Ordinal) && char.IsDigit(line[2])),
            outcome is Landed landed ? landed.Rows.Select(Written) : [((Held)outcome).Reasons[0].Message]);
    }

    static IEnumerable<string[]> Table(string named) => File.ReadAllLines("files/posting.md").SkipWhile(line => !line.StartsWith($"| {named} |", StringComparison.Ordinal)).Skip(2)
        .TakeWhile(line => line.StartsWith('|')).Select(line => line.Split('|')[1..^1].Select(cell => cell.Trim()).ToArray());

    static decimal Number(string cell) => cell.Length == 0 ? 0 : decimal.Parse(cell, CultureInfo.InvariantCulture);

    [Theory]
    [InlineData("percentage-of-completion", 6)]
    [InlineData("completed-contract", 4)]
    public void A_day_of_recognition_comes_to_what_its_row_says(string method, int days)
    {
        var (cost, revenue, fromBilled, rows) = (0m, 0m, 0m, 0);
        foreach (var row in Table(method))
        {
            var standing = new ProjectStanding
            {
                Project = "P-1", Incurred = Number(row[1]), Billed = Number(row[2]), CostRecognised = cost, RevenueRecognised = revenue, FromBilled = fromBilled,
                Estimate = new(DateOnly.Parse(row[0], CultureInfo.InvariantCulture), Number(row[3]), Number(row[4])),
            };
            var made = Recognition.Of(standing, Words<ProjectMethod>.Parse(method), row[5] == "yes", 2);
            (cost, revenue, fromBilled, rows) = (cost + made.Cost, revenue + made.Revenue, fromBilled + made.FromBilled, rows + 1);

            Assert.Equal(row[6..].Select(Number), [made.Percent ?? 0, made.Cost, made.Revenue, made.FromBilled, standing.Incurred - cost, standing.Billed - fromBilled, revenue - fromBilled]);
        }
        Assert.Equal(days, rows);
    }

    [Theory]
    [InlineData("straight-line", 4)]
    [InlineData("declining-balance", 5)]
    public void A_month_of_depreciation_comes_to_what_its_row_says(string method, int months)
    {
        var asset = method == "straight-line" ? new Asset { Code = "VAN-1", Method = AssetMethod.StraightLine, LifeMonths = 60, Residual = 4000 }
            : new Asset { Code = "GLASS-1", Method = AssetMethod.DecliningBalance, Percent = 20 };
        var (moves, rows) = (new List<AssetMove>(), 0);
        foreach (var row in Table(method))
        {
            if (row[1].Length > 0)
                moves.Add(new(DateOnly.Parse(row[1].Split(' ')[^1], CultureInfo.InvariantCulture), Number(row[2]), 0, false));
            var end = DateOnly.Parse(row[0], CultureInfo.InvariantCulture);
            var made = Depreciation.Of(asset, moves, end, day => new(day.Year, 1, 1), 2);
            moves.Add(new(end, 0, made.Amount, true));
            rows++;

            Assert.Equal(Number(row[3]), made.Amount);
        }
        Assert.Equal(months, rows);
    }

    static string Written(EntryRow row)
    {
        var amount = Math.Abs(row.Amount).ToString("0.00", CultureInfo.InvariantCulture);
        var (debit, credit) = row.Amount > 0 ? (amount, "") : ("", amount);
        return $"| {row.Account.Number} {row.Account.Name} | {debit} | {credit} | {row.Purpose?.Name} | {row.RungName} |";
    }
}
