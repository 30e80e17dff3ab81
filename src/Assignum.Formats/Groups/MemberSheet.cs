using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Groups;

/// <summary>Items or parties as a sheet, one row each: group, tax group and rules of their own to be filled in, beside them the account each purpose lands on
/// and the rung it comes from.</summary>
public static class MemberSheet
{
    internal const string Code = "code", Name = "name", Kind = "kind", Role = "role", Group = "group", TaxGroup = "taxGroup", TaxedAs = "taxed as",
        AsTaken = "as taken", LandsOn = " lands on", By = " by";

    /// <summary>Purposes that a sheet of a family can have: those whose ladders have a rung for a single member.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="family">"item" or "party".</param>
    public static IEnumerable<Purpose> PurposesOf(Rulebook book, string family) =>
        Purpose.All.Where(p => book.LadderOf(p).Any(r => r.Facts is [var only] && only == FactOf(family)));

    /// <summary>The sheet.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="family">"item" or "party".</param>
    /// <param name="purposes">Purposes with columns.</param>
    /// <param name="date">Posting date.</param>
    /// <param name="fits">Which members; by code, name and group.</param>
    public static Table Of(CompiledRulebook book, string family, IReadOnlyList<Purpose> purposes, DateOnly date, Func<SheetMember, bool>? fits = null)
    {
        var state = new MemberState(book, family, date);
        string[] headings = [Code, Name, family == "item" ? Kind : Role, Group, TaxGroup, TaxedAs,
            .. purposes.SelectMany(p => new[] { p.Name, p.Name + LandsOn, p.Name + By }), AsTaken];
        return new Table(family == "item" ? "Items" : "Parties", headings,
            state.Members.Where(fits ?? (_ => true)).Select(member => Row(state, member, purposes)));
    }

    static List<object?> Row(MemberState state, SheetMember member, IReadOnlyList<Purpose> purposes)
    {
        var cells = new List<object?>(7 + purposes.Count * 3) { member.Code, member.Name, member.Kind, member.Group ?? "", member.TaxGroup ?? "",
            state.TaxedAs(member) ?? "" };
        var taken = new AsTaken([(Kind, member.Kind), (Group, member.Group ?? ""), (TaxGroup, member.TaxGroup ?? "")]);
        foreach (var purpose in purposes)
        {
            var (own, lands) = (state.OwnRule(purpose, member.Code)?.Account ?? "", state.LandsOn(purpose, member));
            var account = lands.Account?.Number ?? "";
            cells.AddRange([state.Written(own), state.Written(account), lands.Rung is null ? "nothing"
                : (lands.By != purpose ? lands.By!.Name + ": " : "") + lands.Rung.InWords]);
            taken.Add(purpose.Name, own);
            taken.Add(purpose.Name + LandsOn, account);
        }
        cells.Add(taken.Written);
        return cells;
    }

    internal static Fact FactOf(string family) => family == "item" ? Fact.Item : Fact.Party;
}
