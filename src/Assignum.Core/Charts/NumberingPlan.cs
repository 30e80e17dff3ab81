namespace Assignum.Core.Charts;

/// <summary>A stretch of numbers that belongs to a class, or to a heading.</summary>
/// <param name="Of">The class, as spelled in the formats, or the number of the heading.</param>
/// <param name="From">First number.</param>
/// <param name="To">Last number; numbers that begin with it belong to it too.</param>
public sealed record NumberRange(string Of, string From, string To)
{
    /// <summary>Whether a number lies in it; numbers compare sign by sign, from the left.</summary>
    public bool Has(string number)
    {
        var fold = Fold.Of(number);
        var last = Fold.Of(To);
        return string.CompareOrdinal(fold, Fold.Of(From)) >= 0 && (string.CompareOrdinal(fold, last) <= 0 || fold.StartsWith(last, StringComparison.Ordinal));
    }

    /// <summary>"6000 to 6999".</summary>
    public override string ToString() => $"{From} to {To}";
}

/// <summary>How a company numbers its accounts. It binds accounts of kind posting; headings and subtotals are free.</summary>
public sealed record NumberingPlan
{
    /// <summary>No plan: any number does.</summary>
    public static readonly NumberingPlan None = new();

    /// <summary>The shape of a number: # for each digit, everything else as it stands ("####", "##.##", "G-###"); empty: any.</summary>
    public string Pattern { get; init; } = "";
    /// <summary>Ranges by class, at most one a class.</summary>
    public IReadOnlyList<NumberRange> Classes { get; init; } = [];
    /// <summary>Ranges by heading, at most one a heading; the nearest heading above an account binds it.</summary>
    public IReadOnlyList<NumberRange> Headings { get; init; } = [];

    /// <summary>Digits of a number; 0: any.</summary>
    public int Digits => Pattern.Count(c => c == '#');

    /// <summary>Range of a class, or null.</summary>
    public NumberRange? RangeOf(AccountClass accountClass) => Classes.FirstOrDefault(r => r.Of == accountClass.Word());

    /// <summary>Range of the nearest of some headings that has one, or null.</summary>
    /// <param name="headings">Numbers of the headings above an account, the nearest first.</param>
    public NumberRange? RangeUnder(IEnumerable<string> headings) =>
        headings.Select(h => Headings.FirstOrDefault(r => Fold.Same(r.Of, h))).FirstOrDefault(r => r is not null);

    /// <summary>Whether a number has the shape of the plan.</summary>
    public bool HasShape(string number)
    {
        var fold = Fold.Of(number);
        var shape = Fold.Of(Pattern);
        return shape.Length == 0 || (fold.Length == shape.Length
            && fold.Zip(shape).All(p => p.Second == '#' ? char.IsAsciiDigit(p.First) : p.First == p.Second));
    }

    /// <summary>Why the plan bars a number for an account; null when it fits.</summary>
    /// <param name="number">The number.</param>
    /// <param name="accountClass">Class of the account.</param>
    /// <param name="kind">Its kind.</param>
    /// <param name="headings">Numbers of the headings above it, the nearest first.</param>
    public string? Fault(string number, AccountClass accountClass, AccountKind kind, IEnumerable<string> headings)
    {
        if (kind != AccountKind.Posting)
            return null;
        if (!HasShape(number))
            return $"{number} does not have the shape of the numbering plan: {ShapeInWords}.";
        if (RangeUnder(headings) is { } under && !under.Has(number))
            return $"{number} lies outside {under}, the range under {under.Of}.";
        return RangeOf(accountClass) is { } range && !range.Has(number) ? $"{number} lies outside {range}, the range of class {accountClass.Word()}." : null;
    }

    /// <summary>"4 digits", "4 digits, written ##.##".</summary>
    public string ShapeInWords
    {
        get
        {
            if (Pattern.Length == 0)
                return "any";
            if (Pattern.All(c => c == '#'))
                return $"{Digits} digits";
            return $"{Digits} digits, written {Pattern}";
        }
    }

    /// <summary>What is wrong with the plan itself, by field: "pattern", "class:asset", "heading:62".</summary>
    /// <param name="tree">The chart it is for.</param>
    public IReadOnlyList<FieldFault> Faults(ChartTree tree)
    {
        var faults = new List<FieldFault>();
        if (Pattern.Length > 0 && Digits == 0)
            faults.Add(new("pattern", $"The shape {Pattern} has no digit. Write # for each digit, such as ####, ##.## or G-###."));
        else if (Pattern.Length > AccountCheck.LongestNumber)
            faults.Add(new("pattern", $"The shape has {Pattern.Length} characters. Shorten it to {AccountCheck.LongestNumber}."));
        foreach (var range in Classes)
            Check(range, "class:" + range.Of);
        foreach (var range in Headings)
        {
            Check(range, "heading:" + range.Of);
            if (tree.Find(range.Of) is not { } heading)
                faults.Add(new("heading:" + range.Of, $"The chart has no heading {range.Of}. Correct its number, or delete the range."));
            else if (RangeOf(heading.Class) is { } around && !(around.Has(range.From) && around.Has(range.To)))
                faults.Add(new("heading:" + range.Of,
                    $"{range} lies outside {around}, the range of class {heading.Class.Word()}. Narrow it, or widen that of the class."));
        }
        foreach (var (first, second) in Classes.SelectMany((a, i) => Classes.Skip(i + 1).Select(b => (a, b))))
            if (first.Has(second.From) || second.Has(first.From))
                faults.Add(new("class:" + second.Of, $"{second} overlaps {first}, the range of {first.Of}. Let one end before the other begins."));
        return faults;

        void Check(NumberRange range, string field)
        {
            if (range.From.Length == 0 || range.To.Length == 0)
                faults.Add(new(field, "A range has a first and a last number. Give both, or neither."));
            else if (!HasShape(range.From) || !HasShape(range.To))
                faults.Add(new(field, $"{range} does not have the shape of the plan: {ShapeInWords}. Write both numbers so."));
            else if (string.CompareOrdinal(Fold.Of(range.From), Fold.Of(range.To)) > 0)
                faults.Add(new(field, $"{range.From} comes after {range.To}. Exchange the two."));
        }
    }

    /// <summary>Accounts of a chart that do not fit the plan, each with the reason.</summary>
    public IEnumerable<(ChartNode Node, string Why)> Misfits(ChartTree tree)
    {
        for (var i = 0; i < tree.Nodes.Count; i++)
        {
            var account = tree.Nodes[i].Account;
            if (Fault(account.Number, account.Class, account.Kind, tree.Above(i).Select(a => tree.Nodes[a].Account.Number)) is { } why)
                yield return (tree.Nodes[i], why);
        }
    }
}
