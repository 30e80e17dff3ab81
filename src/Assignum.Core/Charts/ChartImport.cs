namespace Assignum.Core.Charts;

/// <summary>A row of a chart file, as written.</summary>
/// <param name="Line">Number of its first line in the file, from 1.</param>
/// <param name="Number">Account number.</param>
/// <param name="Name">Name.</param>
/// <param name="Class">Class, in the words of the formats; empty: that of its parent.</param>
/// <param name="Kind">Kind; empty: posting.</param>
/// <param name="Parent">Number of the account it stands under; empty: the top.</param>
public sealed record ChartRow(int Line, string Number, string Name, string Class, string Kind, string Parent);

/// <summary>What becomes of a row.</summary>
public enum ChartRowFate { New, Changed, Unchanged, Refused }

/// <summary>A row with what becomes of it.</summary>
/// <param name="Row">The row.</param>
/// <param name="Fate">What becomes of it.</param>
/// <param name="Account">The account it makes; null when refused.</param>
/// <param name="Why">Why it is refused or what changes, in a sentence; empty otherwise.</param>
public sealed record PlannedRow(ChartRow Row, ChartRowFate Fate, Account? Account, string Why);

/// <summary>What an import of a chart would do. Nothing is done by planning.</summary>
/// <param name="Rows">All rows, in the order of the file.</param>
public sealed record ChartPlan(IReadOnlyList<PlannedRow> Rows)
{
    /// <summary>Rows with a fate.</summary>
    public int Count(ChartRowFate fate) => Rows.Count(r => r.Fate == fate);
}

/// <summary>Plans the import of a chart file: each row becomes an account or is refused with the reason.</summary>
public static class ChartImport
{
    /// <summary>Levels below the top that a chart may have.</summary>
    public const int DeepestLevel = 20;

    /// <summary>Plans it.</summary>
    /// <param name="rows">Rows of the file.</param>
    /// <param name="existing">The chart as it is.</param>
    public static ChartPlan Plan(IReadOnlyList<ChartRow> rows, IReadOnlyCollection<Account> existing)
    {
        var plan = new Planning(rows, existing);
        return new ChartPlan([.. rows.Select(plan.FateOf)]);
    }

    sealed class Planning
    {
        readonly Dictionary<string, Account> existing = [];
        readonly Dictionary<string, ChartRow> firstByNumber = [];
        readonly HashSet<string> cyclic;
        readonly Dictionary<ChartRow, PlannedRow> planned = new(ReferenceEqualityComparer.Instance);

        internal Planning(IReadOnlyList<ChartRow> rows, IReadOnlyCollection<Account> accounts)
        {
            foreach (var account in accounts)
                existing.TryAdd(Fold.Of(account.Number), account);
            foreach (var row in rows)
                if (Fold.Of(row.Number) is { Length: > 0 } number)
                    firstByNumber.TryAdd(number, row);
            var parents = firstByNumber.Where(r => r.Value.Parent.Length > 0).ToDictionary(r => r.Key, r => Fold.Of(r.Value.Parent));
            foreach (var (number, account) in existing)
                if (account.Parent is { } parent && !firstByNumber.ContainsKey(number))
                    parents[number] = Fold.Of(parent);
            cyclic = [.. ChartCheck.OnCycles(parents)];
        }

        internal PlannedRow FateOf(ChartRow row)
        {
            if (planned.TryGetValue(row, out var known))
                return known;
            return planned[row] = Refusal(row) is { } why ? new PlannedRow(row, ChartRowFate.Refused, null, why) : Accepted(row);
        }

        string? Refusal(ChartRow row)
        {
            if (AccountCheck.NumberFault(row.Number) is { } fault)
                return fault;
            var first = firstByNumber[Fold.Of(row.Number)];
            if (!ReferenceEquals(first, row))
                return $"Number {row.Number} stands already in line {first.Line}, as {first.Number} {first.Name}. Numbers compare without regard to case and spaces; keep one of the two.";
            if (row.Name.Length == 0)
                return $"Account {row.Number} has no name. Write it into column name.";
            if (row.Name.Length > AccountCheck.LongestName)
                return $"The name of {row.Number} has {row.Name.Length} characters. Shorten it to {AccountCheck.LongestName}.";
            if (row.Class.Length > 0 && !Words<AccountClass>.TryParse(Worded(row.Class), out _))
                return $"Class {row.Class} of account {row.Number} is not known. Write one of {string.Join(", ", Words<AccountClass>.All)}.";
            if (row.Kind.Length > 0 && !Words<AccountKind>.TryParse(Worded(row.Kind), out _))
                return $"Kind {row.Kind} of account {row.Number} is not known. Write one of {string.Join(", ", Words<AccountKind>.All)}, or leave it empty for posting.";
            return ParentRefusal(row) ?? (ClassOf(row) is null ? $"Account {row.Number} has no class, and no parent to take it from. Write one of {string.Join(", ", Words<AccountClass>.All)}." : null);
        }

        string? ParentRefusal(ChartRow row)
        {
            if (row.Parent.Length == 0)
                return null;
            var parent = Fold.Of(row.Parent);
            if (IsTooDeep(row))
                return $"Account {row.Number} stands more than {DeepestLevel} levels below the top. Give it a parent higher up.";
            if (cyclic.Contains(Fold.Of(row.Number)))
                return $"Account {row.Number} stands, by way of its parent {row.Parent}, under itself. Give it another parent.";
            if (firstByNumber.TryGetValue(parent, out var above))
                return FateOf(above).Fate == ChartRowFate.Refused ? $"Its parent {row.Parent} in line {above.Line} is refused. Mend that row first." : null;
            return existing.ContainsKey(parent) ? null
                : $"Its parent {row.Parent} is neither in the file nor in the chart. Add a row for {row.Parent}, or correct the parent.";
        }

        bool IsTooDeep(ChartRow row)
        {
            var levels = 0;
            for (var at = row; at.Parent.Length > 0 && levels <= DeepestLevel; levels++)
                if (!firstByNumber.TryGetValue(Fold.Of(at.Parent), out at!) || cyclic.Contains(Fold.Of(at.Number)))
                    return false;
            return levels > DeepestLevel;
        }

        PlannedRow Accepted(ChartRow row)
        {
            var was = existing.GetValueOrDefault(Fold.Of(row.Number));
            var account = (was ?? new Account { Number = row.Number, Name = row.Name, Class = default }) with
            {
                Name = row.Name, Class = ClassOf(row)!.Value,
                Kind = row.Kind.Length > 0 && Words<AccountKind>.TryParse(Worded(row.Kind), out var kind) ? kind : was?.Kind ?? AccountKind.Posting,
                Parent = row.Parent.Length > 0 ? row.Parent : was?.Parent,
            };
            if (was is null)
                return new PlannedRow(row, ChartRowFate.New, account, "");
            var changes = Changes(was, account);
            return new PlannedRow(row, changes.Length == 0 ? ChartRowFate.Unchanged : ChartRowFate.Changed, account, changes);
        }

        static string Changes(Account was, Account now) => string.Join(", ", new[]
        {
            was.Name == now.Name ? null : $"name was {was.Name}",
            was.Class == now.Class ? null : $"class was {was.Class.Word()}",
            was.Kind == now.Kind ? null : $"kind was {was.Kind.Word()}",
            Fold.Same(was.Parent, now.Parent) ? null : $"parent was {was.Parent ?? "none"}",
        }.OfType<string>());

        AccountClass? ClassOf(ChartRow row)
        {
            if (row.Class.Length > 0)
                return Words<AccountClass>.TryParse(Worded(row.Class), out var own) ? own : null;
            if (existing.TryGetValue(Fold.Of(row.Number), out var was))
                return was.Class;
            if (row.Parent.Length == 0)
                return null;
            return firstByNumber.TryGetValue(Fold.Of(row.Parent), out var above) ? ClassOf(above)
                : existing.TryGetValue(Fold.Of(row.Parent), out var parent) ? parent.Class
                : null;
        }

        static string Worded(string text) => string.Join('-', text.Trim().ToLowerInvariant().Split([' ', '-', '_'], StringSplitOptions.RemoveEmptyEntries));
    }
}
