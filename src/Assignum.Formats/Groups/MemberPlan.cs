using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Groups;

/// <summary>What shall change about a member; null leaves it.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Kind">Kind of an item, role of a party.</param>
/// <param name="Group">Posting group.</param>
/// <param name="TaxGroup">Tax group of its own; empty: that of its posting group.</param>
public sealed record MemberWish(string Code, string? Kind, string? Group, string? TaxGroup);

/// <summary>A rule of a member's own that shall be added, changed or ended.</summary>
/// <param name="Code">The member.</param>
/// <param name="Purpose">The purpose.</param>
/// <param name="Was">The rule it has, or null.</param>
/// <param name="Account">Number of the account; null: the rule ends.</param>
public sealed record RuleWish(string Code, Purpose Purpose, Rule? Was, string? Account);

/// <summary>A cell that can't be taken.</summary>
/// <param name="Line">Line of the sheet.</param>
/// <param name="Code">The member of its row.</param>
/// <param name="Column">Heading of its column.</param>
/// <param name="Typed">What it says.</param>
/// <param name="Why">Why it is refused, and the mend.</param>
public sealed record RefusedCell(int Line, string Code, string Column, string Typed, string Why);

/// <summary>What a sheet of members that is brought back would change.</summary>
/// <param name="Rows">Rows looked at.</param>
/// <param name="Members">Members with what shall change.</param>
/// <param name="Rules">Rules of their own that come, change or end.</param>
/// <param name="Refused">Cells that can't be taken.</param>
/// <param name="Fault">Why the whole sheet is refused; null when its cells were looked at.</param>
public sealed record MemberPlan(int Rows, IReadOnlyList<MemberWish> Members, IReadOnlyList<RuleWish> Rules, IReadOnlyList<RefusedCell> Refused,
    string? Fault = null)
{
    /// <summary>Members that the sheet brings, with the rows' own words for kind or role.</summary>
    public IReadOnlyList<SheetMember> Added { get; init; } = [];
    /// <summary>What is taken, and yet has something that speaks against it.</summary>
    public IReadOnlyList<string> Warnings { get; init; } = [];

    /// <summary>Looks at every cell: what differs from what was taken away is a wish, what somebody else has changed since is refused.</summary>
    /// <param name="sheet">The sheet.</param>
    /// <param name="book">The rulebook of the draft.</param>
    /// <param name="family">"item" or "party".</param>
    /// <param name="date">Posting date.</param>
    public static MemberPlan Of(Sheet sheet, CompiledRulebook book, string family, DateOnly date)
    {
        var head = sheet.Rows.FirstOrDefault(r => r.Cells.Any(c => Fold.Same(c, MemberSheet.Code)));
        if (head is null)
            return new(0, [], [], [], $"The sheet has no column {MemberSheet.Code}. Export the sheet of {(family == "item" ? "items" : "parties")} first, " +
                "fill it in, and import that one.");
        var columns = head.Cells.Select((c, i) => (Heading: c.Trim(), i)).Where(c => c.Heading.Length > 0).DistinctBy(c => Fold.Of(c.Heading)).ToDictionary(c =>
            Fold.Of(c.Heading), c => c.i);
        var reading = new Reading(new MemberState(book, family, date), family, columns);
        var rows = sheet.Rows.SkipWhile(r => r != head).Skip(1).ToList();
        foreach (var row in rows)
            reading.Take(row);
        return new(rows.Count, reading.Members, reading.Rules, reading.Refused) { Added = reading.Added, Warnings = [.. reading.Warnings.Distinct()] };
    }

    sealed class Reading(MemberState state, string family, Dictionary<string, int> columns)
    {
        readonly string kindColumn = family == "item" ? MemberSheet.Kind : MemberSheet.Role;
        readonly IReadOnlyList<Group> groups = family == "item" ? state.Book.Book.ItemGroups : state.Book.Book.PartyGroups, taxGroups = family == "item"
            ? state.Book.Book.ItemTaxGroups : state.Book.Book.PartyTaxGroups;
        readonly IReadOnlyList<Purpose> purposes = [.. Purpose.All.Where(p => columns.ContainsKey(Fold.Of(p.Name))
            || columns.ContainsKey(Fold.Of(p.Name + MemberSheet.LandsOn)))];
        readonly HashSet<string> seen = new(StringComparer.Ordinal);
        readonly Dictionary<(Purpose, string), Picked<Account>> accounts = [];
        SheetRow row = null!;
        SheetMember member = null!;
        AsTaken taken = null!;

        internal List<MemberWish> Members { get; } = [];
        internal List<RuleWish> Rules { get; } = [];
        internal List<RefusedCell> Refused { get; } = [];
        internal List<SheetMember> Added { get; } = [];
        internal List<string> Warnings { get; } = [];

        internal void Take(SheetRow next)
        {
            row = next;
            var code = Typed(MemberSheet.Code) ?? "";
            if (code.Length > 0 && !seen.Add(Fold.Of(code)))
            {
                Refuse(code, MemberSheet.Code, code, $"{code} has a row further up. Keep one of them.");
                return;
            }
            if (state.Find(code) is not { } known)
            {
                Add(code);
                return;
            }
            (member, taken) = (known, AsTaken.Read(Typed(MemberSheet.AsTaken) ?? ""));
            if (Typed(MemberSheet.Name) is { Length: > 0 } name && name != SheetFile.Cleaned(member.Name))
                Refuse(code, MemberSheet.Name, name, "Names are changed on the member itself, under Groups, and hold at once.");
            var wish = new MemberWish(member.Code, KindWish(), GroupWish(), TaxGroupWish());
            if (wish is not { Kind: null, Group: null, TaxGroup: null })
                Members.Add(wish);
            foreach (var purpose in purposes)
                TakeRule(purpose);
        }

        // A row that was not taken away from here brings a new member.
        void Add(string code)
        {
            var (name, kind, refused) = (Typed(MemberSheet.Name) ?? "", Typed(kindColumn) ?? "", Refused.Count);
            if (code.Length == 0)
                Refuse(code, MemberSheet.Code, code, "The row has no code. Write the code of the one it is about.");
            else if (Typed(MemberSheet.AsTaken) is { Length: > 0 })
                Refuse(code, MemberSheet.Code, code,
                    $"There is no {family} {code} any more: it has another code now, or is gone. Take the sheet again; a new {family} has nothing under " +
                        $"“{MemberSheet.AsTaken}”.");
            else if (name.Length == 0)
                Refuse(code, MemberSheet.Name, name, $"{code} is new and has no name. Write the name people read.");
            else if (KindNamed(kind) is not { } word)
                Refuse(code, kindColumn, kind, $"{code} is new: its {kindColumn} is one of {string.Join(", ", KindWords)}.");
            else
            {
                (member, taken) = (new SheetMember(code, name, word, null, null), AsTaken.Read(""));
                var group = Typed(MemberSheet.Group) is { Length: > 0 } typed ? PickGroup(groups, MemberSheet.Group, typed, null) : null;
                var tax = Typed(MemberSheet.TaxGroup) is { Length: > 0 } taxed ? PickGroup(taxGroups, MemberSheet.TaxGroup, taxed, null) : null;
                foreach (var purpose in purposes)
                    TakeRule(purpose);
                if (Refused.Count == refused)
                    Added.Add(member with { Group = group, TaxGroup = tax });
                else
                    Rules.RemoveAll(r => Fold.Same(r.Code, code));
            }
        }

        List<string> KindWords => family == "item" ? [.. Words<ItemKind>.All] : [.. Words<PartyRole>.All];

        string? KindNamed(string typed) => KindWords.Find(w => Fold.Same(w.Replace('-', ' '), typed.Replace('-', ' ')));

        string? KindWish()
        {
            if (Changed(kindColumn, MemberSheet.Kind, member.Kind) is not { } typed)
                return null;
            if (KindNamed(typed) is { } word)
                return word == member.Kind ? null : word;
            Refuse(member.Code, kindColumn, typed, $"The {kindColumn} is one of {string.Join(", ", KindWords)}.");
            return null;
        }

        string? GroupWish()
        {
            if (Changed(MemberSheet.Group, MemberSheet.Group, member.Group ?? "") is not { } typed)
                return null;
            if (typed.Length == 0)
                Refuse(member.Code, MemberSheet.Group, typed, $"{member.Code} can't be without a group again. Write the group it moves to.");
            return typed.Length == 0 ? null : PickGroup(groups, MemberSheet.Group, typed, member.Group);
        }

        string? TaxGroupWish()
        {
            if (Changed(MemberSheet.TaxGroup, MemberSheet.TaxGroup, member.TaxGroup ?? "") is not { } typed)
                return null;
            if (typed.Length == 0)
                return "";
            return PickGroup(taxGroups, MemberSheet.TaxGroup, typed, member.TaxGroup);
        }

        string? PickGroup(IReadOnlyList<Group> from, string column, string typed, string? now)
        {
            var picked = Pick.One(typed, from, g => g.Code, g => g.Name, column == MemberSheet.Group ? "group" : "tax group");
            if (picked.Fault is { } fault)
                Refuse(member.Code, column, typed, fault);
            return picked.Thing is { } group && !Fold.Same(group.Code, now) ? group.Code : null;
        }

        // Either cell can be filled in: the rule of its own, or the account it shall land on.
        void TakeRule(Purpose purpose)
        {
            var (rule, landing) = (state.OwnRule(purpose, member.Code), purpose.Name + MemberSheet.LandsOn);
            var own = columns.ContainsKey(Fold.Of(purpose.Name)) ? ChangedAccount(purpose, purpose.Name, rule?.Account ?? "") : null;
            var lands = Typed(landing) is { Length: > 0 } ? ChangedAccount(purpose, landing, state.LandsOn(purpose, member).Account?.Number ?? "") : null;
            if (own is { } first && lands is { } second && !Fold.Same(first, second))
                Refuse(member.Code, landing, Typed(landing)!,
                    $"The row wants two accounts for {purpose.InWords}: {(first.Length == 0 ? "no rule of its own" : first)}, and {second}. Fill in one of " +
                        "the two cells.");
            else if ((own ?? lands) is { } account && !Fold.Same(account, rule?.Account ?? ""))
                Wish(purpose, own is null ? landing : purpose.Name, rule, account);
        }

        void Wish(Purpose purpose, string column, Rule? rule, string account)
        {
            if (account.Length > 0 && !state.Book.Book.LadderOf(purpose).Contains(new Rung(MemberSheet.FactOf(family))))
                Refuse(member.Code, column, Typed(column) ?? "",
                    $"The ladder of {purpose.InWords} has no rung {family}. Add it to the ladder first, or leave the cell as it was.");
            else
            {
                Rules.Add(new(member.Code, purpose, rule, account.Length == 0 ? null : account));
                if (state.Book.Accounts.TryFind(account, out var chosen) && Core.Findings.AccountFit.InWords(purpose, chosen) is { Length: > 0 } warning)
                    Warnings.Add($"{purpose.Title} of {member.Code}: {warning}");
            }
        }

        // The number of the account the cell wants, empty for none; null where the cell says what was taken away.
        string? ChangedAccount(Purpose purpose, string column, string now)
        {
            var typed = Typed(column) ?? "";
            var before = taken[column] ?? now;
            if (typed.Length > 0 && Fold.Same(Pick.CodeOf(typed), before))
                return null;
            if (typed.Length == 0)
                return before.Length > 0 && ByNobodyElse(column, typed, before, now) ? "" : null;
            if (!accounts.TryGetValue((purpose, typed), out var picked))
                accounts[(purpose, typed)] = picked = AccountPick.One(typed, state.Accounts, purpose);
            if (picked.Thing is not { } account)
            {
                Refuse(member.Code, column, typed, picked.Fault!);
                return null;
            }
            return Fold.Same(account.Number, before) || !ByNobodyElse(column, typed, before, now) ? null : account.Number;
        }

        string? Changed(string column, string takenAs, string now)
        {
            if (!columns.ContainsKey(Fold.Of(column)))
                return null;
            var typed = Typed(column) ?? "";
            var before = taken[takenAs] ?? now;
            return Fold.Same(typed, before) || Fold.Same(Pick.CodeOf(typed), before) || !ByNobodyElse(column, typed, before, now) ? null : typed;
        }

        bool ByNobodyElse(string column, string typed, string before, string now)
        {
            if (Fold.Same(before, now))
                return true;
            Refuse(member.Code, column, typed,
                $"It was {(before.Length == 0 ? "empty" : before)} when the sheet was taken, and somebody has changed it to " +
                    $"{(now.Length == 0 ? "nothing" : now)} since. Take the sheet again.");
            return false;
        }

        // Text that would start a formula was put behind an apostrophe.
        string? Typed(string column)
        {
            if (!columns.TryGetValue(Fold.Of(column), out var at))
                return null;
            if (row[at] is ['\'', var sign, ..] guarded
                && "=+-@".Contains(sign, StringComparison.Ordinal))
                return guarded[1..];
            return row[at];
        }

        void Refuse(string code, string column, string typed, string why) => Refused.Add(new(row.Line, code, column, typed, why));
    }
}
