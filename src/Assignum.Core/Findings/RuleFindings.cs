using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Findings;

/// <summary>What is wrong with rules.</summary>
static class RuleFindings
{
    internal static IEnumerable<Finding> Errors(Rulebook book)
    {
        var known = new Known(book);
        foreach (var rule in book.Rules)
            known.Check(rule);
        foreach (var finding in known.Found)
            yield return finding;
        foreach (var (a, b) in Overlaps.Among(Suspects(book.Rules), r => r.Key, r => r.From, r => r.To))
            yield return Overlap(known.Called, a, b);
    }

    // Rules with one key have one mark; few others share one by chance.
    static List<Rule> Suspects(IReadOnlyList<Rule> rules)
    {
        var first = new Dictionary<int, int>(rules.Count);
        var shared = new HashSet<int>();
        for (var i = 0; i < rules.Count; i++)
            if (!first.TryAdd(MarkOf(rules[i]), i))
                shared.Add(MarkOf(rules[i]));
        return shared.Count == 0 ? [] : [.. rules.Where(r => shared.Contains(MarkOf(r)))];
    }

    static int MarkOf(Rule rule)
    {
        var mark = rule.Purpose.Index;
        foreach (var (fact, code) in rule.When)
            mark += HashCode.Combine(fact, Fold.Of(code));
        return mark;
    }

    /// <summary>What bars rules from a rulebook, those they take the place of apart.</summary>
    internal static IEnumerable<Finding> ErrorsOf(Rulebook book, IReadOnlyList<Rule> candidates, IReadOnlySet<string> replaced)
    {
        var known = new Known(book);
        foreach (var candidate in candidates)
            known.Check(candidate);
        foreach (var finding in known.Found)
            yield return finding;
        var purposes = candidates.Select(c => c.Purpose).ToHashSet();
        var keys = candidates.Select(c => c.Key).ToHashSet(StringComparer.Ordinal);
        var same = RuleKey.NamedBy(book.Rules.Where(r => purposes.Contains(r.Purpose)), candidates.SelectMany(c => c.When)).Where(r => !replaced.Contains(r.Id)
            && keys.Contains(r.Key));
        foreach (var (a, b) in Overlaps.Among(same.Concat(candidates), r => r.Key, r => r.From, r => r.To))
            yield return Overlap(known.Called, a, b);
    }

    static Finding Overlap(Called called, Rule a, Rule b) =>
        Error("rule-overlap", b, $"{called.Of(b)}: two rules, with {a.Account} and with {b.Account}, hold on the same days. End one before the other begins, " +
            "or remove it.");

    /// <summary>What a rulebook has, for many rules to be held against.</summary>
    sealed class Known
    {
        readonly Rulebook book;
        readonly Dictionary<string, Account> accounts = [];
        readonly Dictionary<Fact, (string What, HashSet<string> Codes)> groups;
        readonly HashSet<string> taxCodes;
        readonly HashSet<Rung>?[] rungs = new HashSet<Rung>?[Purpose.All.Count];

        internal List<Finding> Found { get; } = [];
        internal Called Called { get; }

        internal Known(Rulebook book)
        {
            (this.book, Called) = (book, new Called(book));
            foreach (var account in book.Accounts)
                accounts.TryAdd(Fold.Of(account.Number), account);
            taxCodes = [.. book.TaxCodes.Select(t => Fold.Of(t.Code))];
            groups = new()
            {
                [Fact.ItemGroup] = ("item group", MemberFindings.Folds(book.ItemGroups)),
                [Fact.PartyGroup] = ("party group", MemberFindings.Folds(book.PartyGroups)),
                [Fact.ProjectGroup] = ("project group", MemberFindings.Folds(book.ProjectGroups)),
                [Fact.AssetGroup] = ("asset group", MemberFindings.Folds(book.AssetGroups)),
            };
        }

        // A heading is mended by an account below it.
        string BelowIt(Account heading) =>
            book.Accounts.Where(a => a.Kind == AccountKind.Posting && Fold.Same(a.Parent, heading.Number)).Take(3).Select(a =>
                a.Number).ToList() is { Count: > 0 } below
                ? $" below it: {string.Join(", ", below)}" : "";

        HashSet<Rung> RungsOf(Purpose purpose) => rungs[purpose.Index] ??= [.. book.LadderOf(purpose)];

        /// <summary>Adds what is wrong with a rule to what was found; a sound one costs a few look-ups.</summary>
        internal void Check(Rule rule)
        {
            if (!accounts.TryGetValue(Fold.Of(rule.Account), out var account))
                Found.Add(Error("unknown-account", rule,
                    $"{Called.Of(rule)}: account {rule.Account} is not in the chart. Add the account, or choose another."));
            else if (account.Kind != AccountKind.Posting)
                Found.Add(Error("rule-account-not-postable", rule,
                    $"{Called.Of(rule)}: account {account.Number} {account.Name} is a {account.Kind.Word()}. Choose a posting account{BelowIt(account)}."));
            if (!RungsOf(rule.Purpose).Contains(rule.Rung))
                Found.Add(Error("rule-off-ladder", rule,
                    $"{Called.Of(rule)}: the rule asks for {rule.Rung.InWords}, and the ladder of {rule.Purpose.InWords} has no such rung: " +
                        $"{string.Join(" · ", book.LadderOf(rule.Purpose).Select(r => r.InWords))}. Add the rung, or change the rule."));
            foreach (var (fact, code) in rule.When)
            {
                if (groups.TryGetValue(fact, out var group) && !group.Codes.Contains(Fold.Of(code)))
                    Found.AddRange(MemberFindings.Missing("rules/" + rule.Id, $"The rule for {rule.Purpose.InWords}, {Called.Of(rule.When)},", group.What, code,
                        group.Codes));
                if (fact == Fact.TaxCode && !taxCodes.Contains(Fold.Of(code)))
                    Found.Add(Error("unknown-tax-code", rule, $"{Called.Of(rule)}: tax code {code} does not exist. Add it, or choose another."));
            }
            if (rule.From > rule.To)
                Found.Add(Error("rule-dates", rule,
                    $"{Called.Of(rule)}: the rule ends on {Written.DayNow(rule.To.Value)}, before it begins on {Written.DayNow(rule.From.Value)}. Correct " +
                        "one of the dates."));
        }
    }

    internal static IEnumerable<Finding> Advice(CompiledRulebook compiled)
    {
        var called = new Called(compiled.Book);
        var groupKinds = compiled.Book.Items.Where(i => i.Group is not null).ToLookup(i => Fold.Of(i.Group!), i => i.Kind);
        for (var i = 0; i < compiled.Book.Rules.Count; i++)
        {
            var rule = compiled.Book.Rules[i];
            var account = compiled.Accounts.ById(compiled.RuleAccounts[i]);
            if (!account.Active || account.ValidFrom > (rule.From ?? DateOnly.MinValue) || account.ValidTo < (rule.To ?? DateOnly.MaxValue))
                yield return Warn("rule-account-inactive", rule,
                    $"{called.Of(rule)}: account {account.Number} {account.Name} does not take postings on all days of the rule. Choose another account, or " +
                        "end the rule in time.");
            foreach (var fit in AccountFit.Of(rule.Purpose, account))
                yield return Warn(fit.Check, rule, $"{called.Of(rule)}: account {account.Number} {account.Name} {fit.Why}. {fit.Fix}");
            if (KindMismatch(compiled, rule, account, groupKinds) is { } mismatch)
                yield return Warn("kind-mismatch", rule, $"{called.Of(rule)}: {mismatch}");
        }
    }

    // Stock belongs on the balance sheet while it is on the shelf; what is never on a shelf does not.
    static string? KindMismatch(CompiledRulebook compiled, Rule rule, Account account, ILookup<string, ItemKind> groupKinds)
    {
        var kinds = KindsOf(compiled, rule, groupKinds);
        var costs = account.Class is AccountClass.Expense or AccountClass.CostOfSales or AccountClass.OtherExpense;
        if (rule.Purpose == Purpose.Inventory && costs && (kinds.Count == 0 || kinds.Contains(ItemKind.Stock)))
            return $"stock would land on {account.Number} {account.Name}, of class {account.Class.InWords()}, and be missing from the balance sheet while it " +
                "is on the shelf. Choose an asset account.";
        if (rule.Purpose == Purpose.PurchaseExpense && costs && kinds.Count > 0 && kinds.All(k => k == ItemKind.Stock)
            && compiled.Book.Company.Options.PerpetualStock)
            return $"bought stock would land on {account.Number} {account.Name}, of class {account.Class.InWords()}. Stock belongs on an asset account: make " +
                "an inventory rule, or change the items' kind.";
        if (rule.Purpose == Purpose.PurchaseExpense && account.Class == AccountClass.Asset && kinds.Count > 0 && kinds.All(k => k != ItemKind.Stock))
            return $"items that are not stock would land on {account.Number} {account.Name}, an asset, and overstate assets. Choose an expense account, or " +
                "make the items stock.";
        return null;
    }

    static HashSet<ItemKind> KindsOf(CompiledRulebook compiled, Rule rule, ILookup<string, ItemKind> groupKinds)
    {
        var kinds = new HashSet<ItemKind>();
        foreach (var (fact, code) in rule.When)
        {
            if (fact == Fact.Item && compiled.Items.TryFind(code, out var item))
                kinds.Add(item.Kind);
            else if (fact == Fact.ItemGroup)
                kinds.UnionWith(groupKinds[Fold.Of(code)]);
        }
        return kinds;
    }

    static Finding Error(string check, Rule rule, string message) => new(check, Severity.Error, "rules/" + rule.Id, message, rule.Account);

    static Finding Warn(string check, Rule rule, string message) => new(check, Severity.Warning, "rules/" + rule.Id, message, rule.Account);
}

/// <summary>Pairs of rules with the same key whose validity overlaps.</summary>
static class Overlaps
{
    internal static IEnumerable<(T, T)> Among<T>(IEnumerable<T> rules, Func<T, string> key, Func<T, DateOnly?> from, Func<T, DateOnly?> to)
    {
        foreach (var same in rules.GroupBy(key).Where(g => g.Skip(1).Any()))
        {
            var ordered = same.OrderBy(r => from(r) ?? DateOnly.MinValue).ToList();
            var reaching = ordered[0];
            foreach (var next in ordered.Skip(1))
            {
                if ((from(next) ?? DateOnly.MinValue) <= (to(reaching) ?? DateOnly.MaxValue))
                    yield return (reaching, next);
                if ((to(next) ?? DateOnly.MaxValue) > (to(reaching) ?? DateOnly.MaxValue))
                    reaching = next;
            }
        }
    }
}
