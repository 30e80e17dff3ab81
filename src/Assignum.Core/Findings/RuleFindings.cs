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
            yield return Overlap(a, b);
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
        var rungs = candidates.Select(c => (c.Purpose, c.Rung)).ToHashSet();
        var keys = candidates.Select(c => c.Key).ToHashSet(StringComparer.Ordinal);
        var same = book.Rules.Where(r => rungs.Contains((r.Purpose, r.Rung)) && !replaced.Contains(r.Id) && keys.Contains(r.Key));
        foreach (var (a, b) in Overlaps.Among(same.Concat(candidates), r => r.Key, r => r.From, r => r.To))
            yield return Overlap(a, b);
    }

    static Finding Overlap(Rule a, Rule b) =>
        Error("rule-overlap", b, $"Rules {a.Id} and {b.Id} are both for {b.Purpose} and {b.InWords}, and their dates overlap. End one before the other begins, or remove it.");

    /// <summary>What a rulebook has, for many rules to be held against.</summary>
    sealed class Known
    {
        readonly Rulebook book;
        readonly Dictionary<string, Account> accounts = [];
        readonly Dictionary<Fact, (string What, HashSet<string> Codes)> groups;
        readonly HashSet<string> taxCodes;
        readonly HashSet<Rung>?[] rungs = new HashSet<Rung>?[Purpose.All.Count];

        internal List<Finding> Found { get; } = [];

        internal Known(Rulebook book)
        {
            this.book = book;
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

        HashSet<Rung> RungsOf(Purpose purpose) => rungs[purpose.Index] ??= [.. book.LadderOf(purpose)];

        /// <summary>Adds what is wrong with a rule to what was found; a sound one costs a few look-ups.</summary>
        internal void Check(Rule rule)
        {
            if (!accounts.TryGetValue(Fold.Of(rule.Account), out var account))
                Found.Add(Error("unknown-account", rule, $"Rule {rule.Id} answers with account {rule.Account}, which the chart does not have. Add the account, or choose another."));
            else if (account.Kind != AccountKind.Posting)
                Found.Add(Error("rule-account-not-postable", rule, $"Rule {rule.Id} answers with account {account.Number} {account.Name}, which is a {account.Kind.Word()}. Choose a posting account."));
            if (!RungsOf(rule.Purpose).Contains(rule.Rung))
                Found.Add(Error("rule-off-ladder", rule, $"Rule {rule.Id} asks for {rule.Rung.InWords}, which is no rung of the ladder of {rule.Purpose}: {string.Join(" · ", book.LadderOf(rule.Purpose).Select(r => r.Name))}. Add the rung, or change the rule."));
            foreach (var (fact, code) in rule.When)
            {
                if (groups.TryGetValue(fact, out var group) && !group.Codes.Contains(Fold.Of(code)))
                    Found.AddRange(MemberFindings.Missing("rules/" + rule.Id, group.What, code, group.Codes));
                if (fact == Fact.TaxCode && !taxCodes.Contains(Fold.Of(code)))
                    Found.Add(Error("unknown-tax-code", rule, $"Rule {rule.Id} asks for tax code {code}, which does not exist. Add it, or choose another."));
            }
            if (rule.From > rule.To)
                Found.Add(Error("rule-dates", rule, $"Rule {rule.Id} ends on {rule.To:yyyy-MM-dd}, before it begins on {rule.From:yyyy-MM-dd}. Correct from or to."));
        }
    }

    internal static IEnumerable<Finding> Advice(CompiledRulebook compiled)
    {
        var groupKinds = compiled.Book.Items.Where(i => i.Group is not null).ToLookup(i => Fold.Of(i.Group!), i => i.Kind);
        for (var i = 0; i < compiled.Book.Rules.Count; i++)
        {
            var rule = compiled.Book.Rules[i];
            var account = compiled.Accounts.ById(compiled.RuleAccounts[i]);
            if (!account.Active || account.ValidFrom > (rule.From ?? DateOnly.MinValue) || account.ValidTo < (rule.To ?? DateOnly.MaxValue))
                yield return Warn("rule-account-inactive", rule, $"Rule {rule.Id} answers with account {account.Number} {account.Name}, which is not active and valid on all days of the rule. Choose another account, or end the rule in time.");
            if (!rule.Purpose.Classes.Contains(account.Class))
                yield return Warn("class-mismatch", rule, $"Rule {rule.Id} sends {rule.Purpose} to account {account.Number} {account.Name} of class {account.Class.Word()}; it should be {string.Join(" or ", rule.Purpose.Classes.Select(c => c.Word()))}. Choose another account.");
            if (rule.Purpose.Control is { } control && account.Control is null)
                yield return Warn("control-missing", rule, $"Rule {rule.Id} sends {rule.Purpose} to account {account.Number} {account.Name}, which is no control account; it should belong to {control.Word()}. Set its control, or choose another account.");
            else if (account.Control is { } carried && carried != rule.Purpose.Control)
                yield return Warn("control-foreign", rule, $"Rule {rule.Id} sends {rule.Purpose} to account {account.Number} {account.Name}, a control account of {carried.Word()}. Ledger and subledger would differ: choose another account.");
            if (KindMismatch(compiled, rule, account, groupKinds) is { } mismatch)
                yield return Warn("kind-mismatch", rule, mismatch);
        }
    }

    // Stock belongs on the balance sheet while it is on the shelf; what is never on a shelf does not.
    static string? KindMismatch(CompiledRulebook compiled, Rule rule, Account account, ILookup<string, ItemKind> groupKinds)
    {
        var kinds = KindsOf(compiled, rule, groupKinds);
        var costs = account.Class is AccountClass.Expense or AccountClass.CostOfSales or AccountClass.OtherExpense;
        if (rule.Purpose == Purpose.Inventory && costs && (kinds.Count == 0 || kinds.Contains(ItemKind.Stock)))
            return $"Rule {rule.Id} sends stock to account {account.Number} {account.Name} of class {account.Class.Word()}, which understates stock while it is on the shelf. Choose an asset account.";
        if (rule.Purpose == Purpose.PurchaseExpense && costs && kinds.Count > 0 && kinds.All(k => k == ItemKind.Stock) && compiled.Book.Company.Options.PerpetualStock)
            return $"Rule {rule.Id} sends bought goods of kind stock to account {account.Number} {account.Name} of class {account.Class.Word()}. Stock belongs on an asset account: make an inventory rule, or change the items' kind.";
        if (rule.Purpose == Purpose.PurchaseExpense && account.Class == AccountClass.Asset && kinds.Count > 0 && kinds.All(k => k != ItemKind.Stock))
            return $"Rule {rule.Id} sends items that are not stock to account {account.Number} {account.Name} of class asset, which overstates assets. Choose an expense account, or make the items stock.";
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
