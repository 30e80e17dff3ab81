using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Web.Pages.Rules;

/// <summary>A value at the side of a grid.</summary>
/// <param name="Code">Its code; null for "any".</param>
/// <param name="Name">Its name.</param>
public sealed record AxisValue(string? Code, string Name);

/// <summary>Which values stand at the sides of a grid: those that can meet its purpose, or that a rule asks for.</summary>
static class GridAxes
{
    /// <summary>The values of a fact, without "any".</summary>
    internal static IEnumerable<AxisValue> Of(Rulebook book, Purpose purpose, Fact fact) => fact switch
    {
        Fact.ItemGroup => Meeting(book, purpose, fact, book.ItemGroups, book.Items.Select(i => (i.Group, i.Kind.CanMeet(purpose)))),
        Fact.PartyGroup => Meeting(book, purpose, fact, book.PartyGroups, book.Parties.Select(p => (p.Group, p.Role.CanMeet(purpose)))),
        Fact.Item => book.Items.Where(i => i.Kind.CanMeet(purpose)).Select(i => new AxisValue(i.Code, i.Name)),
        Fact.Party => book.Parties.Where(p => p.Role.CanMeet(purpose)).Select(p => new AxisValue(p.Code, p.Name)),
        _ => fact.List()?.Of(book).Select(l => new AxisValue(l.Code, l.Name)) ?? OpenCodes(book, fact),
    };

    // A group nobody is in yet is shown: it waits for its rules.
    static IEnumerable<AxisValue> Meeting(Rulebook book, Purpose purpose, Fact fact, IReadOnlyList<Group> groups,
        IEnumerable<(string? Group, bool CanMeet)> members)
    {
        var (meeting, filled) = (new HashSet<string>(StringComparer.Ordinal), new HashSet<string>(StringComparer.Ordinal));
        foreach (var (group, canMeet) in members)
            if (group is not null && (canMeet ? meeting : filled).Add(group) && canMeet)
                filled.Add(group);
        var asked = book.Rules.Where(r => r.Purpose == purpose).SelectMany(r => r.When).Where(w => w.Fact == fact).Select(w =>
            Fold.Of(w.Code)).ToHashSet(StringComparer.Ordinal);
        var (can, any) = (meeting.Select(Fold.Of).ToHashSet(StringComparer.Ordinal), filled.Select(Fold.Of).ToHashSet(StringComparer.Ordinal));
        return groups.Where(g => Fold.Of(g.Code) is var fold && (can.Contains(fold) || !any.Contains(fold) || asked.Contains(fold))).Select(Value);
    }

    // Codes that are taken as they come are known from what names them.
    static IEnumerable<AxisValue> OpenCodes(Rulebook book, Fact fact)
    {
        var codes = book.Rules.SelectMany(r => r.When).Where(w => w.Fact == fact).Select(w => w.Code).Concat(fact switch
        {
            Fact.Currency => [book.Company.Currency],
            Fact.Authority => book.TaxCodes.SelectMany(t => t.Components).Select(c => c.Authority).OfType<string>(),
            Fact.TaxArea => book.Parties.Select(p => p.TaxArea).Concat(book.TaxRules.Select(r => r.TaxArea)).OfType<string>(),
            Fact.Reason => ["count", "damage", "expiry", "sample", "theft"],
            _ => [],
        });
        return codes.DistinctBy(Fold.Of).OrderBy(Fold.Of, StringComparer.Ordinal).Select(c => new AxisValue(c, ""));
    }

    static AxisValue Value(Group group) => new(group.Code, group.Name);
}
