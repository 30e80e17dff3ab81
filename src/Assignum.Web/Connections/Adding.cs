using System.Globalization;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Charts;
using Assignum.Storage.Connections;

namespace Assignum.Web.Connections;

/// <summary>What entries of theirs would become if they were added here, each with its code.</summary>
/// <param name="Added">What is added.</param>
/// <param name="Decisions">What each entry is matched with.</param>
/// <param name="Faults">Entries that can't be added, and why.</param>
/// <param name="Rows">What is added, for a look before: their code, our code, name, and where it stands.</param>
sealed record ToAdd(Additions Added, IReadOnlyList<Decided> Decisions, IReadOnlyList<(string Code, string Why)> Faults,
    IReadOnlyList<(string Theirs, string Ours, string Name, string Where)> Rows);

/// <summary>Adds entries of theirs here: under their number or the next of ours, beside what is most like them.</summary>
static class Adding
{
    /// <summary>Lists whose entries can be added here.</summary>
    internal static bool Takes(string list) => list is "accounts" or "customers" or "suppliers" or "items" or "categories";

    /// <summary>Groups an added entry may be in; none where it has none.</summary>
    internal static IReadOnlyList<Group> Groups(Rulebook book, string list) => list switch
    {
        "customers" or "suppliers" => book.PartyGroups, "items" => book.ItemGroups, _ => [],
    };

    /// <summary>What entries would become.</summary>
    /// <param name="book">The draft.</param>
    /// <param name="connection">The connection.</param>
    /// <param name="board">The list.</param>
    /// <param name="entries">The entries.</param>
    /// <param name="rule">"theirs": their numbers are taken over; "next": each gets the next number of ours.</param>
    /// <param name="group">Posting group of members; null: for items the one their category is matched with.</param>
    internal static ToAdd Of(Rulebook book, ConnectionRow connection, Board board, IReadOnlyList<KeptEntry> entries, string rule, string? group)
    {
        var list = board.List;
        var codes = Lists.Ours(book, list).Select(o => Fold.Of(o.Code)).Concat(list == "accounts" ? book.Accounts.Select(a => Fold.Of(a.Number)) : [])
            .Concat(list is "customers" or "suppliers" ? book.Parties.Select(p => Fold.Of(p.Code)) : []).ToHashSet(StringComparer.Ordinal);
        var (accounts, parties, items, groups) = (new List<NewAccount>(), new List<Party>(), new List<Item>(), new List<Group>());
        var (decisions, faults, rows) = (new List<Decided>(), new List<(string, string)>(), new List<(string, string, string, string)>());
        foreach (var entry in entries)
        {
            var sent = entry.Sent;
            var beside = list == "accounts" ? Beside(book, board, entry) : null;
            var code = rule == "next" ? Next(beside?.Number ?? Last(codes, list), codes) : sent.Code.Trim();
            if (list == "accounts" && beside is null)
                faults.Add((sent.Code,
                    $"Nothing of ours is of its class{(sent.Kind is null ? "" : ", " + sent.Kind.Replace('-', ' '))}. Add it in the chart."));
            else if (!codes.Add(Fold.Of(code)))
                faults.Add((sent.Code, $"{code} is taken here. Choose “the next number of ours”, or match it by hand."));
            else
            {
                var into = GroupOf(book, connection, list, sent, group);
                rows.Add((sent.Code, code, sent.Name, beside is not null ? $"beside {beside.Number} {beside.Name}" : into ?? "without a group"));
                decisions.Add(new(sent.Code, code, "added here"));
                if (beside is not null)
                    accounts.Add(new(new Account { Number = code, Name = sent.Name, Class = beside.Class, Parent = beside.Parent }, AccountDescription.None));
                else if (list == "items")
                    items.Add(new Item { Code = code, Name = sent.Name, Kind = KindOf(sent), Group = into });
                else if (list == "categories")
                    groups.Add(new Group(code, sent.Name));
                else
                    parties.Add(new Party { Code = code, Name = sent.Name, Role = list == "customers" ? PartyRole.Customer : PartyRole.Supplier,
                        Group = into });
            }
        }
        return new(new Additions { Accounts = accounts, Parties = parties, Items = items, ItemGroups = groups }, decisions, faults, rows);
    }

    static ItemKind KindOf(SentEntry sent) => sent.Kind is { } kind && Words<ItemKind>.TryParse(kind, out var known) ? known : ItemKind.NonStock;

    static string? GroupOf(Rulebook book, ConnectionRow connection, string list, SentEntry sent, string? chosen)
    {
        if (!string.IsNullOrEmpty(chosen))
            return chosen;
        return list == "items" && sent.Category is { } category ? book.Matches.FirstOrDefault(m => m.List == Core.Matching.SettingList.Categories
            && Fold.Same(m.Connection, connection.Code) && Fold.Same(m.Theirs, category))?.Ours : null;
    }

    // An account of theirs stands beside the one of ours that is most like it and of its class; else at the end of its class.
    static Account? Beside(Rulebook book, Board board, KeptEntry entry)
    {
        var byNumber = book.Accounts.ToDictionary(a => Fold.Of(a.Number));
        Account? Fits(Account? account) => account is not null && (entry.Sent.Kind is null || account.Class.Word() == entry.Sent.Kind) ? account : null;
        return board.For(entry).Select(s => Fits(byNumber.GetValueOrDefault(Fold.Of(s.Ours.Code)))).FirstOrDefault(a => a is not null)
            ?? book.Accounts.LastOrDefault(a => a.Kind == AccountKind.Posting && a.Control is null && a.Class.Word() == entry.Sent.Kind);
    }

    static string Last(HashSet<string> codes, string list)
    {
        var series = list switch { "customers" => "C-", "suppliers" => "S-", _ => "" };
        var numbered = codes.Where(c => c.StartsWith(series, StringComparison.Ordinal) && c.Length > series.Length && char.IsAsciiDigit(c[^1])).ToList();
        return numbered.Count == 0 ? series + "1000" : numbered.OrderBy(c => c.Length).ThenBy(c => c, StringComparer.Ordinal).Last();
    }

    /// <summary>The first free number after one: its last figures counted on.</summary>
    internal static string Next(string after, HashSet<string> taken)
    {
        var from = after.Length;
        while (from > 0 && char.IsAsciiDigit(after[from - 1]) && after.Length - from < 12)
            from--;
        var (stem, width) = (after[..from], after.Length - from);
        var number = width == 0 ? 0 : long.Parse(after[from..], CultureInfo.InvariantCulture);
        for (; ; )
            if (stem + (++number).ToString(CultureInfo.InvariantCulture).PadLeft(width, '0') is var next && !taken.Contains(Fold.Of(next)))
                return next;
    }
}
