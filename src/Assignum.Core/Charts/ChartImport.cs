using Assignum.Core.Rulebooks;

namespace Assignum.Core.Charts;

/// <summary>Plans the import of a chart file: each row becomes an account or is refused with the reason, at the cell.</summary>
public static class ChartImport
{
    /// <summary>Levels below the top that a chart may have.</summary>
    public const int DeepestLevel = 20;

    /// <summary>Plans it.</summary>
    /// <param name="rows">Rows of the file.</param>
    /// <param name="chart">The chart they join.</param>
    /// <param name="placing">How rows find their place.</param>
    /// <param name="kindsGiven">The file says which rows are headings; otherwise whatever has something below it becomes one.</param>
    /// <param name="lenience">What becomes of rows that name what nobody has; null: they are refused.</param>
    public static ChartPlan Plan(IReadOnlyList<ChartRow> rows, ChartBook chart, Placing placing = Placing.ByColumn, bool kindsGiven = true,
        ChartLenience? lenience = null)
    {
        if (placing == Placing.ByNumber)
            rows = PlacedByNumber(rows, chart.Book);
        var (taken, made, taxCodes, itemTaxGroups) = (lenience ?? ChartLenience.None).Apply(rows, chart);
        var plan = new Planning(taken, chart, kindsGiven, taxCodes, itemTaxGroups);
        return new ChartPlan([.. taken.Select(row => plan.FateOf(row) is var fate && made.Contains(row) && fate.Fate == ChartRowFate.New
            ? fate with { Why = "made, because rows stand under it" } : fate)])
        {
            TaxCodes = taxCodes, ItemTaxGroups = itemTaxGroups,
        };
    }

    static List<ChartRow> PlacedByNumber(IReadOnlyList<ChartRow> rows, Rulebook book)
    {
        var numberOf = new Dictionary<string, string>();
        foreach (var account in book.Accounts)
            numberOf.TryAdd(Stem(account.Number, account.Kind != AccountKind.Posting), account.Number);
        foreach (var row in rows.Where(r => r.Number.Length > 0))
            numberOf[Stem(row.Number, IsHeading(row))] = row.Number;
        return [.. rows.Select(row => row.Parent.Length > 0 ? row : row with { Parent = ParentOf(row) })];

        string ParentOf(ChartRow row)
        {
            var own = Stem(row.Number, IsHeading(row));
            for (var length = own.Length - 1; length > 0; length--)
                if (numberOf.TryGetValue(own[..length], out var above) && !Fold.Same(above, row.Number))
                    return above;
            return "";
        }
    }

    static bool IsHeading(ChartRow row) => row.Kind.Length > 0 && Words<AccountKind>.TryRead(row.Kind, out var kind) && kind != AccountKind.Posting;

    static string Stem(string number, bool heading)
    {
        var fold = Fold.Of(number);
        var stem = heading ? fold.TrimEnd('0', '.', '-', ' ') : fold;
        return stem.Length == 0 ? fold : stem;
    }

    sealed class Planning
    {
        readonly ChartBook chart;
        readonly bool kindsGiven;
        readonly Dictionary<string, ChartRow> firstByNumber = [];
        readonly HashSet<string> cyclic, tooDeep;
        readonly HashSet<string> haveBelow;
        readonly HashSet<string> taxCodes, itemTaxGroups;
        readonly Dictionary<ChartRow, PlannedRow> planned = new(ReferenceEqualityComparer.Instance);

        internal Planning(IReadOnlyList<ChartRow> rows, ChartBook chart, bool kindsGiven, IReadOnlyList<string> newTaxCodes,
            IReadOnlyList<string> newItemTaxGroups)
        {
            (this.chart, this.kindsGiven) = (chart, kindsGiven);
            var book = chart.Book;
            foreach (var row in rows)
                if (Fold.Of(row.Number) is { Length: > 0 } number)
                    firstByNumber.TryAdd(number, row);
            haveBelow = [.. firstByNumber.Values.Where(r => r.Parent.Length > 0).Select(r => Fold.Of(r.Parent))];
            taxCodes = [.. book.TaxCodes.Select(t => t.Code).Concat(newTaxCodes).Select(Fold.Of)];
            itemTaxGroups = [.. book.ItemTaxGroups.Select(g => g.Code).Concat(newItemTaxGroups).Select(Fold.Of)];
            var parents = firstByNumber.Where(r => r.Value.Parent.Length > 0).ToDictionary(r => r.Key, r => Fold.Of(r.Value.Parent));
            foreach (var node in chart.Tree.Nodes)
                if (node.Account.Parent is { } parent && !parents.ContainsKey(node.Fold))
                    parents[node.Fold] = Fold.Of(parent);
            cyclic = [.. ChartCheck.OnCycles(parents)];
            tooDeep = [.. TooDeep(parents)];
        }

        internal PlannedRow FateOf(ChartRow row)
        {
            if (planned.TryGetValue(row, out var known))
                return known;
            return planned[row] = Refusal(row) is { } fault ? new PlannedRow(row, ChartRowFate.Refused, null, fault.Message, fault.Field) : Accepted(row);
        }

        FieldFault? Refusal(ChartRow row) =>
            NumberRefusal(row) ?? NameRefusal(row) ?? WordRefusal(row) ?? ParentRefusal(row)
            ?? (ClassOf(row) is null ? new FieldFault("class",
                $"Account {row.Number} has no class, and no parent to take it from. Write one of {string.Join(", ", Words<AccountClass>.All)}.") : null)
            ?? CodeRefusal(row) ?? PlanRefusal(row) ?? UseRefusal(row);

        FieldFault? NumberRefusal(ChartRow row)
        {
            if (AccountCheck.NumberFault(row.Number) is { } fault)
                return new("number", fault);
            var first = firstByNumber[Fold.Of(row.Number)];
            if (!ReferenceEquals(first, row))
                return new("number", $"Number {row.Number} stands already in line {first.Line}, as {first.Number} {first.Name}. Numbers compare without " +
                    "regard to case and spaces; keep one of the two.");
            return chart.Tree.Find(row.Number) is null && chart.Numbers.TakenBy(row.Number) is { } taken
                ? new("number", taken + " Give the row another number.") : null;
        }

        static FieldFault? NameRefusal(ChartRow row)
        {
            if (row.Name.Length == 0)
                return new("name", $"Account {row.Number} has no name. Write it into column name.");
            if (row.Name.Length > AccountCheck.LongestName)
                return new("name", $"The name of {row.Number} has {row.Name.Length} characters. Shorten it to {AccountCheck.LongestName}.");
            if (row.ShortName.Length > AccountCheck.LongestShortName)
                return new("shortName", $"The short name of {row.Number} has {row.ShortName.Length} characters. " +
                    $"Shorten it to {AccountCheck.LongestShortName}.");
            if (row.Description.Length > AccountCheck.LongestText)
                return new("description", $"The description of {row.Number} has {row.Description.Length:N0} characters. Shorten it to " +
                    $"{AccountCheck.LongestText:N0}.");
            return null;
        }

        static FieldFault? WordRefusal(ChartRow row) =>
            UnknownWord<AccountClass>(row, "class", row.Class, "")
            ?? UnknownWord<AccountKind>(row, "kind", row.Kind, ", or leave it empty for posting")
            ?? UnknownWord<Control>(row, "control", row.Control, ", or leave it empty")
            ?? UnknownWord<ManualPolicy>(row, "manual", row.Manual, ", or leave it empty")
            ?? (row.Active.Length > 0 && YesOrNo(row.Active) is null
                ? new("active", $"“{row.Active}” says neither yes nor no for account {row.Number}. Write yes or no.") : null);

        static FieldFault? UnknownWord<T>(ChartRow row, string field, string word, string or) where T : struct, Enum =>
            word.Length == 0 || Words<T>.TryRead(word, out _) ? null
            : new(field, $"{char.ToUpperInvariant(field[0])}{field[1..]} {word} of account {row.Number} is not known. Write one of " +
                $"{string.Join(", ", Words<T>.All)}{or}.");

        FieldFault? ParentRefusal(ChartRow row)
        {
            if (row.Parent.Length == 0)
                return null;
            var parent = Fold.Of(row.Parent);
            if (tooDeep.Contains(Fold.Of(row.Number)))
                return new("parent", $"Account {row.Number}, or one below it, would stand more than {DeepestLevel} levels below the top. Give it a parent " +
                    "higher up.");
            if (cyclic.Contains(Fold.Of(row.Number)))
                return new("parent", $"Account {row.Number} stands, by way of its parent {row.Parent}, under itself. Give it another parent.");
            if (firstByNumber.TryGetValue(parent, out var above))
                return FateOf(above).Fate == ChartRowFate.Refused
                    ? new("parent", $"Its parent {row.Parent} in line {above.Line} is refused. Fix that row first.") : null;
            return chart.Tree.Find(row.Parent) is not null ? null
                : new("parent", $"Its parent {row.Parent} is neither in the file nor in the chart. Add a row for {row.Parent}, correct the parent, or choose " +
                    "above what becomes of missing parents.");
        }

        // Of file and chart together: an account that the file only moves takes those below it along.
        IEnumerable<string> TooDeep(Dictionary<string, string> parents)
        {
            foreach (var number in parents.Keys)
            {
                var (at, levels) = (number, 0);
                while (levels <= DeepestLevel && !cyclic.Contains(at) && parents.TryGetValue(at, out var above))
                    (at, levels) = (above, levels + 1);
                if (levels <= DeepestLevel)
                    continue;
                // Whoever is in the file is to blame, the nearest one above included.
                at = number;
                while (!firstByNumber.ContainsKey(at) && parents.TryGetValue(at, out var above))
                    at = above;
                yield return at;
            }
        }

        FieldFault? CodeRefusal(ChartRow row)
        {
            if (row.TaxCode.Length > 0 && !taxCodes.Contains(Fold.Of(row.TaxCode)))
                return new("taxCode", $"There is no tax code {row.TaxCode} for account {row.Number}. Add it on the tax page, leave the cell empty, or choose " +
                    "above what becomes of unknown tax settings.");
            if (row.ItemTaxGroup.Length > 0 && !itemTaxGroups.Contains(Fold.Of(row.ItemTaxGroup)))
                return new("itemTaxGroup", $"There is no item tax group {row.ItemTaxGroup} for account {row.Number}. Add it on the tax page, leave the cell " +
                    "empty, or choose above what becomes of unknown tax settings.");
            return null;
        }

        // The plan binds a number that is new; one the chart has already was let in before.
        FieldFault? PlanRefusal(ChartRow row) =>
            chart.Tree.Find(row.Number) is null && chart.Numbers.Plan.Fault(row.Number, ClassOf(row)!.Value, KindOf(row), HeadingsOf(row)) is { } outside
                ? new("number", outside + " Correct the number, or change the numbering plan.") : null;

        IEnumerable<string> HeadingsOf(ChartRow row)
        {
            var parent = row.Parent;
            for (var levels = 0; parent is { Length: > 0 } && levels <= DeepestLevel; levels++)
            {
                yield return parent;
                parent = firstByNumber.TryGetValue(Fold.Of(parent), out var above) && above.Parent.Length > 0 ? above.Parent : chart.Tree.Find(parent)?.Parent;
            }
        }

        FieldFault? UseRefusal(ChartRow row)
        {
            if (chart.Uses.RulesOf(Fold.Of(row.Number)).FirstOrDefault() is not { } rule)
                return null;
            if (KindOf(row) != AccountKind.Posting)
                return new("kind", $"Account {row.Number} can't become a {KindOf(row).Word()}: the rule for {rule.Purpose.InWords}, {rule.InWords}, answers " +
                    "with it. Give that rule another account first.");
            return YesOrNo(row.Active) == false
                ? new("active", $"Account {row.Number} can't be made inactive: the rule for {rule.Purpose.InWords}, {rule.InWords}, answers with it. Give " +
                    "that rule another account first.") : null;
        }

        PlannedRow Accepted(ChartRow row)
        {
            var was = chart.Tree.Find(row.Number);
            var account = (was ?? new Account { Number = row.Number, Name = row.Name, Class = default }) with
            {
                Name = row.Name, Class = ClassOf(row)!.Value, Kind = KindOf(row),
                Parent = row.Parent.Length > 0 ? row.Parent : was?.Parent,
                Control = Words<Control>.TryRead(row.Control, out var control) ? control : was?.Control,
                Manual = Words<ManualPolicy>.TryRead(row.Manual, out var manual) ? manual : was?.Manual ?? ManualPolicy.Open,
                TaxCode = row.TaxCode.Length > 0 ? row.TaxCode : was?.TaxCode,
                ItemTaxGroup = row.ItemTaxGroup.Length > 0 ? row.ItemTaxGroup : was?.ItemTaxGroup,
                Active = YesOrNo(row.Active) ?? was?.Active ?? true,
            };
            if (was is null)
                return new PlannedRow(row, ChartRowFate.New, account, "");
            var changes = Changes(was, account, row, chart.DescriptionOf(was.Number));
            return new PlannedRow(row, changes.Length == 0 ? ChartRowFate.Unchanged : ChartRowFate.Changed, account, changes);
        }

        static string Changes(Account was, Account now, ChartRow row, AccountDescription description) => string.Join(", ", new[]
        {
            was.Name == now.Name ? null : $"name was {was.Name}",
            was.Class == now.Class ? null : $"class was {was.Class.Word()}",
            was.Kind == now.Kind ? null : $"kind was {was.Kind.Word()}",
            Fold.Same(was.Parent, now.Parent) ? null : $"parent was {was.Parent ?? "none"}",
            was.Control == now.Control ? null : $"control was {was.Control?.Word() ?? "none"}",
            was.Manual == now.Manual ? null : $"by hand was {was.Manual.Word()}",
            Fold.Same(was.TaxCode, now.TaxCode) ? null : $"tax code was {was.TaxCode ?? "none"}",
            Fold.Same(was.ItemTaxGroup, now.ItemTaxGroup) ? null : $"item tax group was {was.ItemTaxGroup ?? "none"}",
            Differing(was.Active != now.Active, was.Active ? "was active" : "was inactive"),
            row.ShortName.Length == 0 || row.ShortName == description.ShortName ? null : $"short name was {description.ShortName ?? "none"}",
            Differing(row.Description.Length > 0 && row.Description != description.Text,
                description.Text is null ? "description was none" : "description was another"),
        }.OfType<string>());

        static string? Differing(bool differs, string was) => differs ? was : null;

        AccountKind KindOf(ChartRow row)
        {
            if (row.Kind.Length > 0 && Words<AccountKind>.TryRead(row.Kind, out var kind))
                return kind;
            if (chart.Tree.Find(row.Number) is { } was)
                return was.Kind;
            if (!kindsGiven && haveBelow.Contains(Fold.Of(row.Number)))
                return AccountKind.Heading;
            return AccountKind.Posting;
        }

        AccountClass? ClassOf(ChartRow row)
        {
            for (var (at, levels) = (row, 0); levels <= DeepestLevel; levels++)
            {
                if (at.Class.Length > 0)
                    return Words<AccountClass>.TryRead(at.Class, out var own) ? own : null;
                if (chart.Tree.Find(at.Number) is { } was)
                    return was.Class;
                if (at.Parent.Length == 0)
                    return null;
                if (!firstByNumber.TryGetValue(Fold.Of(at.Parent), out var above))
                    return chart.Tree.Find(at.Parent)?.Class;
                at = above;
            }
            return null;
        }

        static bool? YesOrNo(string text) => text.Trim().ToLowerInvariant() switch
        {
            "yes" or "y" or "true" or "1" or "x" => true,
            "no" or "n" or "false" or "0" => false,
            _ => null,
        };
    }
}
