using System.Globalization;
using System.Text;
using Assignum.Core.Posting;
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

    static string Written(EntryRow row)
    {
        var amount = Math.Abs(row.Amount).ToString("0.00", CultureInfo.InvariantCulture);
        var (debit, credit) = row.Amount > 0 ? (amount, "") : ("", amount);
        return $"| {row.Account.Number} {row.Account.Name} | {debit} | {credit} | {row.Purpose?.Name} | {row.RungName} |";
    }
}
