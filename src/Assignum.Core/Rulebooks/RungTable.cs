namespace Assignum.Core.Rulebooks;

/// <summary>Rules of one rung, found in one look-up: a dense array where the values fill it, an open hash table where they don't.</summary>
sealed class RungTable
{
    // A slot holds 0 for nothing, else the number of the first rule from 1; negative when that rule is alone and always valid.
    readonly int[] facts;
    readonly ulong[] radixes;
    readonly int[]? dense;
    readonly Slot[] hashed = [];
    readonly int shift;
    // Two bits a key in one word, sixteen times as many bits as keys: most questions that nothing answers end here, in the near cache.
    readonly ulong[] filter = [];
    readonly int filterShift;
    readonly int[]? verified;
    readonly Validity[] validities;

    /// <param name="facts">Positions of the rung's facts among the interned numbers.</param>
    /// <param name="sizes">How many values each of these facts can have.</param>
    /// <param name="rules">For each rule its values, in the order of facts, and its validity.</param>
    internal RungTable(int[] facts, int[] sizes, IReadOnlyList<(int[] Values, int From, int To)> rules)
    {
        this.facts = facts;
        radixes = [.. sizes.Select(size => (ulong)size + 1)];
        validities = new Validity[rules.Count];

        var combinations = radixes.Aggregate(UInt128.One, (product, radix) => product * radix);
        if (combinations > ulong.MaxValue)
            verified = [.. rules.SelectMany(rule => rule.Values)];

        var firsts = Chain(rules);
        if (combinations <= (UInt128)Math.Max(4096, 8L * rules.Count))
        {
            dense = new int[(int)combinations];
            foreach (var (key, first) in firsts)
                dense[key] = first;
            return;
        }

        var bits = Math.Max(4, 64 - System.Numerics.BitOperations.LeadingZeroCount((ulong)firsts.Count * 2));
        shift = 64 - bits;
        hashed = new Slot[1 << bits];
        filterShift = 64 - Math.Max(1, bits - 3);
        filter = new ulong[1 << (64 - filterShift)];
        foreach (var (key, first) in firsts)
        {
            filter[Mixed(key) >> filterShift] |= Bits(key);
            var at = Place(key);
            while (hashed[at].First != 0)
                at = (at + 1) & (hashed.Length - 1);
            hashed[at] = new Slot { Key = key, First = first };
        }
    }

    /// <summary>The rule with the facts' values that is valid on the day.</summary>
    /// <returns>Index of the rule in the list given, or -1.</returns>
    internal int Find(ReadOnlySpan<int> ids, int day)
    {
        var key = 0ul;
        for (var i = 0; i < facts.Length; i++)
        {
            var id = ids[facts[i]];
            if (id <= 0)
                return -1;
            key = key * radixes[i] + (ulong)id;
        }
        var first = dense is null ? FindHashed(key, ids) : dense[key];
        if (first == 0)
            return -1;
        if (first < 0)
            return -first - 1;
        return ValidFrom(first, day);
    }

    int FindHashed(ulong key, ReadOnlySpan<int> ids)
    {
        var bits = Bits(key);
        if ((filter[Mixed(key) >> filterShift] & bits) != bits)
            return 0;
        for (var at = Place(key); ; at = (at + 1) & (hashed.Length - 1))
        {
            ref readonly var slot = ref hashed[at];
            if (slot.First == 0)
                return 0;
            if (slot.Key == key && (verified is null || Matches(Math.Abs(slot.First) - 1, ids)))
                return slot.First;
        }
    }

    int ValidFrom(int first, int day)
    {
        for (var at = first; at != 0; at = validities[at - 1].Next)
        {
            ref readonly var validity = ref validities[at - 1];
            if (validity.From <= day && day <= validity.To)
                return at - 1;
        }
        return -1;
    }

    bool Matches(int rule, ReadOnlySpan<int> ids)
    {
        for (var i = 0; i < facts.Length; i++)
            if (verified![rule * facts.Length + i] != ids[facts[i]])
                return false;
        return true;
    }

    int Place(ulong key) => (int)(Mixed(key) >> shift);

    static ulong Mixed(ulong key) => key * 0x9E3779B97F4A7C15ul;

    static ulong Bits(ulong key) => Mixed(key) is var mixed ? 1ul << (int)(mixed >> 8) | 1ul << (int)(mixed >> 20) : 0;

    // Rules with the same values hang on one chain. Where keys can collide, each value set needs a chain of its own.
    List<(ulong Key, int First)> Chain(IReadOnlyList<(int[] Values, int From, int To)> rules)
    {
        var firsts = new List<(ulong Key, int First)>(rules.Count);
        var keys = new ulong[rules.Count];
        var order = new int[rules.Count];
        for (var i = 0; i < rules.Count; i++)
            (keys[i], order[i]) = (KeyOf(rules[i].Values), i);
        if (verified is null)
        {
            Array.Sort(keys, order);
        }
        else
        {
            Array.Sort(order, CompareByKeyAndValues);
            keys = Array.ConvertAll(order, rule => KeyOf(rules[rule].Values));
        }

        for (var start = 0; start < order.Length;)
        {
            var end = start + 1;
            while (end < order.Length && keys[end] == keys[start] && SameValues(order[start], order[end]))
                end++;
            for (var i = start; i < end; i++)
            {
                var (_, from, to) = rules[order[i]];
                validities[order[i]] = new Validity(from, to, i + 1 < end ? order[i + 1] + 1 : 0);
            }
            var head = order[start];
            var always = end == start + 1 && validities[head] is { From: 0, To: int.MaxValue };
            firsts.Add((keys[start], always ? -(head + 1) : head + 1));
            start = end;
        }
        return firsts;

        int CompareByKeyAndValues(int a, int b)
        {
            if (KeyOf(rules[a].Values).CompareTo(KeyOf(rules[b].Values)) is var byKey and not 0)
                return byKey;
            if (rules[a].Values.AsSpan().SequenceCompareTo(rules[b].Values) is var byValues and not 0)
                return byValues;
            return a.CompareTo(b);
        }

        bool SameValues(int a, int b) => verified is null || rules[a].Values.AsSpan().SequenceEqual(rules[b].Values);
    }

    ulong KeyOf(int[] values)
    {
        var key = 0ul;
        for (var i = 0; i < values.Length; i++)
            key = key * radixes[i] + (ulong)values[i];
        return key;
    }

    struct Slot
    {
        internal ulong Key;
        internal int First;
    }

    readonly record struct Validity(int From, int To, int Next);
}
