using Assignum.Core.Groups;

namespace Assignum.Core.Rulebooks;

/// <summary>A word of a question that was not understood, or fits several things.</summary>
/// <param name="Word">The word.</param>
/// <param name="Fitting">What it fits, at most six; none: nothing.</param>
public sealed record UnclearWord(string Word, IReadOnlyList<FactValue> Fitting);

/// <summary>A question in one line: "retail tomato seeds shop". Codes, names and parts of names, in any case and order.</summary>
/// <param name="Understood">What it asks about; each fact once.</param>
/// <param name="Unclear">Words left over.</param>
public sealed record Question(IReadOnlyList<FactValue> Understood, IReadOnlyList<UnclearWord> Unclear)
{
    const int LongestPhrase = 6, MostFitting = 6, ShortestPart = 2;

    static readonly char[] Between = [' ', '\t', '\n', ',', ';', '×', '+'];

    // The order decides where a code means two things: members before groups.
    static readonly Fact[] Listed = [Fact.Party, Fact.Item, Fact.PartyGroup, Fact.ItemGroup, Fact.Location, Fact.Project, Fact.ProjectGroup, Fact.AssetGroup,
        Fact.TaxCode, Fact.ItemKind, Fact.Connection, Fact.Method, Fact.Currency, Fact.MoneyAccount, Fact.Reason, Fact.Authority, Fact.TaxArea, Fact.Partner];

    /// <summary>The question as the answers ask it.</summary>
    public Asked Asked => Asked.Of(Understood);

    /// <summary>Reads a question: the longest phrase that is a code or a name first, then parts that only one thing has.</summary>
    public static Question Read(Rulebook book, string text)
    {
        var words = text.Split(Between, StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        if (words.Length == 0)
            return new([], []);
        var things = Things(book);
        var (understood, taken) = (new List<FactValue>(), new bool[words.Length]);
        Take(exact: true);
        Take(exact: false);
        var unclear = words.Where((_, i) => !taken[i]).Select(w =>
            new UnclearWord(w, [.. things.Where(t => t.Fits(new Sought(w)) != Sought.Fit.Not).Select(t => t.Value).Take(MostFitting)])).ToList();
        return new(understood, unclear);

        void Take(bool exact)
        {
            for (var length = Math.Min(LongestPhrase, words.Length); length > 0; length--)
                for (var i = 0; i + length <= words.Length; i++)
                {
                    if (taken.AsSpan(i, length).Contains(true))
                        continue;
                    var fold = Sought.Plain(string.Join(' ', words[i..(i + length)]));
                    if (fold.Length == 0)
                        continue;
                    if ((exact ? things.FirstOrDefault(t => Free(t) && t.Is(fold)) : OnlyOne(fold)) is not { } found)
                        continue;
                    understood.Add(found.Value);
                    taken.AsSpan(i, length).Fill(true);
                }
        }

        Thing? OnlyOne(string fold)
        {
            if (fold.Length < ShortestPart)
                return null;
            var sought = new Sought(fold);
            var fitting = things.Where(Free).Select(t => (Thing: t, Fit: t.Fits(sought))).Where(t => t.Fit != Sought.Fit.Not).ToList();
            // "Mix 50" means the one with these words rather than "mix 500".
            var whole = fitting.Count > 1 ? fitting.Where(t => t.Fit <= Sought.Fit.WholeWords && t.Fit != Sought.Fit.CodeBegins).ToList() : fitting;
            return whole.Count == 1 ? whole[0].Thing : null;
        }

        bool Free(Thing thing) => !understood.Any(u => u.Fact == thing.Value.Fact);
    }

    sealed record Thing(FactValue Value, string Code, string Name)
    {
        internal bool Is(string fold) => Code == fold || Name == fold;

        internal Sought.Fit Fits(Sought sought) => sought.FitOf(Code, Name);
    }

    static List<Thing> Things(Rulebook book)
    {
        var things = new List<Thing>(book.Items.Count + book.Parties.Count + 200);
        foreach (var fact in Listed)
            foreach (var (code, name) in Of(book, fact))
                things.Add(new(new(fact, code), Sought.Plain(code), Sought.Plain(name)));
        return things;
    }

    // Codes that are taken as they come are known from the rules that ask for them.
    static IEnumerable<Listed> Of(Rulebook book, Fact fact) =>
        fact.List()?.Of(book)
        ?? book.Rules.SelectMany(r => r.When).Where(w => w.Fact == fact).Select(w => w.Code).Concat(fact == Fact.Currency ? [book.Company.Currency] : [])
            .DistinctBy(Fold.Of).Select(code => new Listed(code, ""));
}
