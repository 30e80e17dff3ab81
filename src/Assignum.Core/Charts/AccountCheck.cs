namespace Assignum.Core.Charts;

/// <summary>A fault of a form, by field.</summary>
/// <param name="Field">Name of the field: "number".</param>
/// <param name="Message">What is wrong, and the mend.</param>
public sealed record FieldFault(string Field, string Message);

/// <summary>What must hold of one account before it joins a chart, or takes a new shape in it.</summary>
public static class AccountCheck
{
    /// <summary>Longest account number, name, short name and description, in characters.</summary>
    public const int LongestNumber = 20, LongestName = 100, LongestShortName = 30, LongestText = 2000;
    const int RulesNamed = 3;

    /// <summary>All faults of an account.</summary>
    /// <param name="chart">The chart it belongs to.</param>
    /// <param name="account">The account as it shall be.</param>
    /// <param name="was">Number it has now, or null for a new one.</param>
    /// <param name="today">Rules that end before this day no longer count.</param>
    public static IReadOnlyList<FieldFault> Faults(ChartBook chart, Account account, string? was, DateOnly today)
    {
        var (book, numbers) = (chart.Book, chart.Numbers);
        var faults = new List<FieldFault>();
        AddNumberFault(faults, numbers, account, was);
        if (string.IsNullOrWhiteSpace(account.Name))
            faults.Add(new("name", "The account has no name. Give it the name people read."));
        else if (account.Name.Length > LongestName)
            faults.Add(new("name", $"The name has {account.Name.Length} characters. Shorten it to {LongestName}."));
        if (account.Parent is { } parent)
            AddParentFault(faults, numbers.Tree, account, was, parent);
        if (account.ValidFrom > account.ValidTo)
            faults.Add(new("validTo", $"The account would end on {Written.DayNow(account.ValidTo.Value)}, before it begins on " +
                $"{Written.DayNow(account.ValidFrom.Value)}. Correct one of the dates."));
        if (account.TaxCode is { } taxCode && !book.TaxCodes.Any(t => Fold.Same(t.Code, taxCode)))
            faults.Add(new("taxCode", $"There is no tax code {taxCode}. Choose one that exists."));
        if (account.ItemTaxGroup is { } group && !book.ItemTaxGroups.Any(g => Fold.Same(g.Code, group)))
            faults.Add(new("itemTaxGroup", $"There is no item tax group {group}. Choose one that exists."));
        if (account.Currencies.FirstOrDefault(c => !Money.TryMinorUnits(c, out _)) is { } currency)
            faults.Add(new("currencies", $"{currency} is no ISO 4217 code. Write codes of three letters, such as EUR USD."));
        foreach (var (dimension, value) in account.DimensionDefaults)
            if (account.Dimensions.Any(d => Fold.Same(d.Key, dimension) && d.Value == DimensionNeed.Barred))
                faults.Add(new("dimensions", $"Dimension {dimension} is barred and can't be given {value}. Delete the value, or make the dimension optional."));
        if (was is not null)
            AddUseFaults(faults, chart.Uses, account, was, today);
        return faults;
    }

    /// <summary>All faults of what describes an account.</summary>
    public static IReadOnlyList<FieldFault> Faults(AccountDescription description)
    {
        var faults = new List<FieldFault>();
        if (description.ShortName?.Length > LongestShortName)
            faults.Add(new("shortName", $"The short name has {description.ShortName.Length} characters. Shorten it to {LongestShortName}."));
        if (description.Text?.Length > LongestText)
            faults.Add(new("text", $"The description has {description.Text.Length:N0} characters. Shorten it to {LongestText:N0}."));
        if (description.Reporting.GroupBy(r => Fold.Of(r.Report)).FirstOrDefault(r => r.Count() > 1) is { } twice)
            faults.Add(new("reporting", $"Report {twice.First().Report} has two codes. An account has one code in a report; keep one."));
        if (description.Reporting.FirstOrDefault(r => r.Report.Length == 0 || r.Code.Length == 0 || r.Report.Length > 40 || r.Code.Length > 40) is not null)
            faults.Add(new("reporting", "A reporting code has a report and a code, each of at most 40 characters. " +
                "Write them as “annual accounts: 12”, one a " +
                "line."));
        return faults;
    }

    /// <summary>What is wrong with a number by itself; null when nothing is.</summary>
    public static string? NumberFault(string? number)
    {
        if (string.IsNullOrWhiteSpace(number))
            return "The account has no number. Give it one.";
        if (number.Trim().Length > LongestNumber)
            return $"Number {number.Trim()[..LongestNumber]}… has {number.Trim().Length} characters. Shorten it to {LongestNumber}.";
        if (number.Any(char.IsControl))
            return "The number has a character that can't be seen. Type it again.";
        return null;
    }

    static void AddNumberFault(List<FieldFault> faults, ChartNumbers numbers, Account account, string? was)
    {
        var keepsNumber = Fold.Same(account.Number, was);
        if (NumberFault(account.Number) is { } malformed)
            faults.Add(new("number", malformed));
        else if (!keepsNumber && numbers.TakenBy(account.Number.Trim(), was) is { } taken)
            faults.Add(new("number", $"{taken} {numbers.FreeInWords(account.Number.Trim(), account)}"));
        else if ((!keepsNumber || numbers.Tree.Find(was) is not { } known || known.Kind != account.Kind || known.Class != account.Class)
            && numbers.OutsidePlan(account) is { } outside)
            faults.Add(new("number", $"{outside} {numbers.FreeInWords(account.Number.Trim(), account)}"));
    }

    static void AddParentFault(List<FieldFault> faults, ChartTree tree, Account account, string? was, string parent)
    {
        var place = tree.PlaceOf(parent);
        var own = tree.PlaceOf(was);
        if (Fold.Same(parent, account.Number) || (was is not null && Fold.Same(parent, was)))
            faults.Add(new("parent", $"Account {account.Number} can't stand under itself. Choose another parent."));
        else if (place < 0)
            faults.Add(new("parent", $"There is no account {parent} to stand under. Choose one that exists, or leave it empty for the top."));
        else if (own >= 0 && place > own && place < tree.Nodes[own].End)
            faults.Add(new("parent", $"Account {parent} itself stands under {was}. Choose a parent outside of it."));
        else if (tree.Nodes[place].Depth + 1 + LevelsBelow(tree, own) > ChartImport.DeepestLevel)
            faults.Add(new("parent", $"Account {account.Number}, or one below it, would stand more than {ChartImport.DeepestLevel} levels below the top. " +
                "Choose a parent higher up."));
    }

    // What stands below an account moves along with it.
    static int LevelsBelow(ChartTree tree, int place) =>
        place < 0 ? 0 : tree.Nodes.Skip(place).Take(tree.Nodes[place].End - place).Max(n => n.Depth) - tree.Nodes[place].Depth;

    static void AddUseFaults(List<FieldFault> faults, AccountUses uses, Account account, string was, DateOnly today)
    {
        var rules = uses.RulesOf(Fold.Of(was)).Where(r => !(r.To < today)).ToList();
        if (rules.Count == 0)
            return;
        var named = string.Join(", ", rules.Take(RulesNamed).Select(r => $"for {r.Purpose.InWords}, {r.InWords}")) + (rules.Count > RulesNamed
            ? $" and {rules.Count - RulesNamed} more" : "");
        var these = rules.Count == 1 ? "rule" : "rules";
        if (account.Kind != AccountKind.Posting)
            faults.Add(new("kind", $"Account {was} can't become a {account.Kind.Word()}: {these} {named} {(rules.Count == 1 ? "answers" : "answer")} with " +
                $"it. Give {(rules.Count == 1 ? "that rule" : "those rules")} another account first."));
        if (!account.Active)
            faults.Add(new("active", $"Account {was} can't be made inactive: {these} {named} still {(rules.Count == 1 ? "answers" : "answer")} with it. " +
                "Choose the account that answers in its place."));
    }
}
