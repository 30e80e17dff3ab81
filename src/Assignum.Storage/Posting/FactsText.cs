using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Storage.Posting;

/// <summary>The facts a line was landed with, as its column keeps them: "item=SEED-01;itemGroup=SEEDS".</summary>
sealed class FactsText(CompiledRulebook book)
{
    RowContext? last;
    string text = "";

    /// <summary>Facts of a row; rows of one line of a document share them.</summary>
    internal string Of(RowContext context)
    {
        if (!ReferenceEquals(last, context))
        {
            last = context;
            text = string.Join(';', book.InWords(context.Facts).Select(f => $"{f.Fact.Name()}={Escaped(f.Code)}"));
        }
        return text;
    }

    /// <summary>The facts kept in a column.</summary>
    internal static IReadOnlyList<FactValue> Read(string text)
    {
        var facts = new List<FactValue>();
        foreach (var part in text.Split(';', StringSplitOptions.RemoveEmptyEntries))
        {
            var at = part.IndexOf('=', StringComparison.Ordinal);
            if (Enum.TryParse<Fact>(part[..at], ignoreCase: true, out var fact))
                facts.Add(new FactValue(fact, part[(at + 1)..].Replace("%3B", ";", StringComparison.Ordinal).Replace("%25", "%", StringComparison.Ordinal)));
        }
        return facts;
    }

    static string Escaped(string code) =>
        code.AsSpan().IndexOfAny('%', ';') < 0 ? code : code.Replace("%", "%25", StringComparison.Ordinal).Replace(";", "%3B", StringComparison.Ordinal);
}
