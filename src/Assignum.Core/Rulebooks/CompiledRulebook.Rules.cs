using System.Collections.Immutable;
using System.Runtime.InteropServices;

namespace Assignum.Core.Rulebooks;

/// <content>Rules into tables: all of them, or those that changed.</content>
public sealed partial class CompiledRulebook
{
    ImmutableArray<int> AccountsOfRules(Rulebook book)
    {
        var accounts = new int[book.Rules.Count];
        for (var i = 0; i < accounts.Length; i++)
            accounts[i] = Accounts.IdOf(book.Rules[i].Account);
        return ImmutableCollectionsMarshal.AsImmutableArray(accounts);
    }

    CompiledLadder[] CompileLadders(Rulebook book)
    {
        ImmutableArray<Rung>[] rungs = [.. Purpose.All.Select(book.LadderOf)];
        var values = new List<CompiledLadder.RuleValues>?[Purpose.All.Count];
        for (var i = 0; i < book.Rules.Count; i++)
            if (book.Rules[i] is var rule && ValuesOf(rule.When, rungs[rule.Purpose.Index], i, rule.From, rule.To) is { } ready)
                (values[rule.Purpose.Index] ??= []).Add(ready);
        return [.. Purpose.All.Select(p => CompiledLadder.Of(rungs[p.Index], values[p.Index] ?? [], SizeOf))];
    }

    bool NamesOpenCodes(CompiledRulebook known, ListChange change) =>
        change.Gone.Select(was => known.Book.Rules[was]).Concat(change.Added.Select(now => Book.Rules[now])).Any(rule =>
            rule.When.Any(w => w.Fact.List() is null));

    ImmutableArray<int> AccountsOver(CompiledRulebook known, ListChange change)
    {
        var accounts = new int[Book.Rules.Count];
        for (var was = 0; was < change.Now.Length; was++)
            if (change.Now[was] >= 0)
                accounts[change.Now[was]] = known.RuleAccounts[was];
        foreach (var added in change.Added)
            accounts[added] = Accounts.IdOf(Book.Rules[added].Account);
        return ImmutableCollectionsMarshal.AsImmutableArray(accounts);
    }

    // A rung on which nothing changed keeps its table; its rules may stand at other places now.
    CompiledLadder[] LaddersOver(CompiledRulebook known, ListChange change)
    {
        var changed = change.Gone.Select(was => known.Book.Rules[was]).Concat(change.Added.Select(now => Book.Rules[now])).Select(r =>
            (r.Purpose, r.Rung)).ToHashSet();
        var values = new Dictionary<(Purpose, Rung), List<CompiledLadder.RuleValues>>();
        foreach (var rung in changed)
            values[rung] = [];
        if (changed.Count > 0)
            for (var i = 0; i < Book.Rules.Count; i++)
                if (Book.Rules[i] is var rule && values.TryGetValue((rule.Purpose, rule.Rung), out var own)
                    && ValuesOf(rule.When, Book.LadderOf(rule.Purpose), i, rule.From, rule.To) is { } ready)
                    own.Add(ready);
        return [.. Purpose.All.Select(p => known.ladders[p.Index].Over(change, rung => values.GetValueOrDefault((p, rung)), SizeOf))];
    }
}
