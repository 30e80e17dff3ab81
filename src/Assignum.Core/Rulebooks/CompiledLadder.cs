using System.Collections.Immutable;

namespace Assignum.Core.Rulebooks;

/// <summary>A ladder with its rules in tables; rungs without a rule are left out of the search.</summary>
sealed class CompiledLadder
{
    readonly (int Rung, RungTable Table, int[] Rules)[] tables;

    CompiledLadder(ImmutableArray<Rung> rungs, (int, RungTable, int[])[] tables)
    {
        Rungs = rungs;
        this.tables = tables;
    }

    internal ImmutableArray<Rung> Rungs { get; }

    /// <param name="rungs">The ladder.</param>
    /// <param name="rules">Each rule's rung, the interned values in the order of the ladder's rung, and validity; null for one that can't ever answer.</param>
    /// <param name="sizeOf">How many values a fact can have.</param>
    internal static CompiledLadder Of(ImmutableArray<Rung> rungs, IEnumerable<RuleValues> rules, Func<Fact, int> sizeOf)
    {
        var byRung = new List<RuleValues>?[rungs.Length];
        foreach (var rule in rules)
            (byRung[rule.Rung] ??= []).Add(rule);

        var tables = new List<(int, RungTable, int[])>();
        for (var i = 0; i < rungs.Length; i++)
        {
            if (byRung[i] is not { } own)
                continue;
            tables.Add(TableOf(rungs[i], i, own, sizeOf));
        }
        return new CompiledLadder(rungs, [.. tables]);
    }

    /// <summary>The ladder after a change of rules.</summary>
    /// <param name="change">The change; rungs it does not touch keep their tables.</param>
    /// <param name="valuesOf">The rules of a rung that changed; null for one that did not.</param>
    /// <param name="sizeOf">How many values a fact can have.</param>
    internal CompiledLadder Over(ListChange change, Func<Rung, List<RuleValues>?> valuesOf, Func<Fact, int> sizeOf)
    {
        var moved = change.Gone.Count + change.Added.Count > 0;
        var over = new List<(int, RungTable, int[])>();
        for (var i = 0; i < Rungs.Length; i++)
        {
            var known = Array.FindIndex(tables, t => t.Rung == i);
            if (valuesOf(Rungs[i]) is { } values)
            {
                if (values.Count > 0)
                    over.Add(TableOf(Rungs[i], i, values, sizeOf));
            }
            else if (known >= 0)
                over.Add(moved ? (i, tables[known].Table, Array.ConvertAll(tables[known].Rules, was => change.Now[was])) : tables[known]);
        }
        return new CompiledLadder(Rungs, [.. over]);
    }

    static (int, RungTable, int[]) TableOf(Rung rung, int place, List<RuleValues> own, Func<Fact, int> sizeOf)
    {
        int[] facts = [.. rung.Facts.Select(f => (int)f)];
        int[] sizes = [.. rung.Facts.Select(sizeOf)];
        return (place, new RungTable(facts, sizes, own.ConvertAll(rule => (rule.Values, rule.From, rule.To))), [.. own.Select(rule => rule.Index)]);
    }

    /// <summary>Walks the rungs from first to last; at most one look-up a rung.</summary>
    /// <returns>The answering rung and rule, or rung -1.</returns>
    internal (int Rung, int Rule) Resolve(ReadOnlySpan<int> ids, int day)
    {
        foreach (ref readonly var entry in tables.AsSpan())
        {
            var found = entry.Table.Find(ids, day);
            if (found >= 0)
                return (entry.Rung, entry.Rules[found]);
        }
        return (-1, -1);
    }

    /// <summary>The same, leaving out rungs.</summary>
    /// <param name="ids">The interned facts.</param>
    /// <param name="day">Posting date.</param>
    /// <param name="left">By rung: whether it is left out.</param>
    internal (int Rung, int Rule) ResolveWithout(ReadOnlySpan<int> ids, int day, bool[] left)
    {
        foreach (ref readonly var entry in tables.AsSpan())
        {
            var found = left[entry.Rung] ? -1 : entry.Table.Find(ids, day);
            if (found >= 0)
                return (entry.Rung, entry.Rules[found]);
        }
        return (-1, -1);
    }

    /// <summary>The rule that one rung has for the facts, or -1.</summary>
    internal int RuleOn(int rung, ReadOnlySpan<int> ids, int day)
    {
        foreach (ref readonly var entry in tables.AsSpan())
            if (entry.Rung == rung)
                return entry.Table.Find(ids, day) is var found and >= 0 ? entry.Rules[found] : -1;
        return -1;
    }

    internal readonly record struct RuleValues(int Index, int Rung, int[] Values, int From, int To);
}
