using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Formats.Groups;

/// <summary>A member as its row has it.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Name">Its name.</param>
/// <param name="Kind">Kind of an item, role of a party.</param>
/// <param name="Group">Posting group, or null.</param>
/// <param name="TaxGroup">Tax group of its own, or null.</param>
public sealed record SheetMember(string Code, string Name, string Kind, string? Group, string? TaxGroup);

/// <summary>Members of a family as the rulebook has them, with where they land.</summary>
sealed class MemberState
{
    readonly CompiledRulebook book;
    readonly string family;
    readonly DateOnly date;
    readonly Dictionary<(Purpose, string), Rule> own = [];
    readonly Dictionary<string, SheetMember> byCode = new(StringComparer.Ordinal);

    internal MemberState(CompiledRulebook book, string family, DateOnly date)
    {
        (this.book, this.family, this.date) = (book, family, date);
        Members = family == "item" ? [.. book.Book.Items.Select(i => new SheetMember(i.Code, i.Name, i.Kind.Word(), i.Group, i.TaxGroup))]
            : [.. book.Book.Parties.Select(p => new SheetMember(p.Code, p.Name, p.Role.Word(), p.Group, p.TaxGroup))];
        foreach (var member in Members)
            byCode[Fold.Of(member.Code)] = member;
        var fact = MemberSheet.FactOf(family);
        foreach (var rule in book.Book.Rules)
            if (rule.When is [var only] && only.Fact == fact && rule.ValidOn(date))
                own[(rule.Purpose, Fold.Of(only.Code))] = rule;
    }

    internal IReadOnlyList<SheetMember> Members { get; }
    internal CompiledRulebook Book => book;

    internal SheetMember? Find(string code) => byCode.GetValueOrDefault(Fold.Of(code));

    internal Rule? OwnRule(Purpose purpose, string code) => own.GetValueOrDefault((purpose, Fold.Of(code)));

    internal LandsOn LandsOn(Purpose purpose, SheetMember member) =>
        Whereabouts.Of(book, purpose, Whereabouts.FactsOf(book, family == "item" ? new Asked { Item = member.Code } : new Asked { Party = member.Code }), date);

    internal string? TaxedAs(SheetMember member)
    {
        if (member.TaxGroup is not null || member.Group is null)
            return member.TaxGroup;
        return (family == "item" ? book.ItemGroups : book.PartyGroups).TryFind(member.Group, out var group) ? group.TaxGroup : null;
    }

    /// <summary>"4010 · Sales of seeds"; empty for none.</summary>
    internal string Written(string number) =>
        number.Length == 0 ? "" : Pick.Written(number, book.Accounts.TryFind(number, out var account) ? account.Name : "");

    internal IReadOnlyList<Account> Accounts => book.Book.Accounts;
}
