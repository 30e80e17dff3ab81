using Assignum.Core;
using Assignum.Core.Findings;
using Assignum.Core.Rulebooks;
using Npgsql;
using NpgsqlTypes;

namespace Assignum.Storage.Settings;

/// <summary>Where a rule comes from.</summary>
/// <param name="Row">Its row.</param>
/// <param name="Introduced">Edition that brought it.</param>
/// <param name="ReleasedAt">When that edition was released; null while it is the draft.</param>
/// <param name="ReleasedBy">Who released it.</param>
/// <param name="Lines">Ledger lines it has answered, counted up to <see cref="RuleStore.MostCounted"/>.</param>
/// <param name="Turnover">Debits and credits of the lines counted together, company currency.</param>
public sealed record RuleOrigin(long Row, int Introduced, DateTime? ReleasedAt, string? ReleasedBy, long Lines, decimal Turnover);

/// <summary>How old a rule is, and how it was used.</summary>
/// <param name="Introduced">Edition that brought it.</param>
/// <param name="Since">When that edition was released; null while it is the draft.</param>
/// <param name="Lines">Ledger lines it has answered, counted up to <see cref="RuleStore.MostCounted"/>.</param>
/// <param name="Last">Posting date of the last of them, or null.</param>
public sealed record RuleUse(int Introduced, DateTime? Since, long Lines, DateOnly? Last);

/// <summary>Changes of rules, and where they come from.</summary>
public sealed class RuleStore(NpgsqlDataSource source, Draft draft)
{
    /// <summary>Most lines that are counted for one rule; more than that are many.</summary>
    public const int MostCounted = 10_000;

    /// <summary>Origin and use of a rule's row; null when there is no such row.</summary>
    public Task<RuleOrigin?> OriginOf(int company, long row, CancellationToken stop) =>
        source.Command($"""
            select r.id, r.introduced_in, e.released_at, u.shown_as, used.lines, used.turnover
            from rule r
            join edition e on e.company_id = r.company_id and e.number = r.introduced_in
            left join app_user u on u.id = e.released_by
            cross join lateral (select count(*) as lines, coalesce(sum(abs(amount)), 0) as turnover from (
                select amount from line l where l.company_id = r.company_id and l.rule_id = r.id limit {MostCounted}) counted) used
            where r.company_id = $1 and r.id = $2
            """, company, row).FirstOrDefault(r =>
                new RuleOrigin(r.GetInt64(0), r.GetInt32(1), r.MomentOrNull(2), r.TextOrNull(3), r.GetInt64(4), r.GetDecimal(5)), stop);

    /// <summary>Age and use of many rules, by row.</summary>
    public async Task<IReadOnlyDictionary<long, RuleUse>> UsesOf(int company, long[] rows, CancellationToken stop) =>
        (await source.Command($"""
            select r.id, r.introduced_in, e.released_at, used.lines, latest.date
            from rule r
            join edition e on e.company_id = r.company_id and e.number = r.introduced_in
            cross join lateral (select count(*) as lines from (select from line l where l.company_id = r.company_id
                and l.rule_id = r.id limit {MostCounted}) counted) used
            cross join lateral (select max(l.date) as date from line l where l.company_id = r.company_id and l.rule_id = r.id) latest
            where r.company_id = $1 and r.id = any($2)
            """, company, rows).List(r => (r.GetInt64(0), new RuleUse(r.GetInt32(1), r.MomentOrNull(2), r.GetInt64(3), r.DateOrNull(4))),
                stop)).ToDictionary(u => u.Item1, u => u.Item2);

    /// <summary>Ends many rules with the next release, all or none.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who ends them.</param>
    /// <param name="ids">Their ids.</param>
    /// <param name="seen">State of the draft they were seen in; when it is another by now, nothing ends.</param>
    /// <param name="why">Why, for the log: "redundant".</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> EndAll(int company, int user, IReadOnlyCollection<string> ids, long seen, string why, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (stored.State.InDraft != seen)
                return new Refusal("", "The draft has changed since you looked. Look at the rules again, then end them.");
            var rules = stored.Book.Rules.Where(r => ids.Contains(r.Id)).ToList();
            if (rules.Count < ids.Count)
                return Gone();
            await RuleRows.Replace(change, stored.Labels, [.. rules.Select(r => stored.Labels.RuleRow(r.Id)!.Value)], []);
            await change.Log("rule", 0, $"{(rules.Count == 1 ? "A rule ends" : $"{rules.Count} rules end")}, {why}: " +
                $"{string.Join("; ", rules.Take(5).Select(r => $"{r.Purpose.Title}, {r.InWords} → {r.Account}"))}{(rules.Count > 5 ? " …" : "")}.",
                    rules.Take(1000).Select(Shape), null);
            return null;
        }, stop);

    /// <summary>Adds a rule to the draft. Its id is made here.</summary>
    public Task<Refusal?> Add(int company, int user, Rule rule, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            var named = rule with { Id = rule.Id.Length > 0 ? rule.Id : new RuleNames(stored.Book).Next() };
            if (Fault(stored, named, replaced: null) is { } fault)
                return fault;
            await RuleRows.Replace(change, stored.Labels, [], [named]);
            var row = await RuleRows.RowOf(change, named.Id);
            await change.Log("rule", row, $"Rule added: {named.Purpose.Title}, {named.InWords} → {named.Account}.", null, Shape(named));
            return null;
        }, stop);

    /// <summary>Gives a rule another answer, other facts or other dates, in the draft.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who changes it.</param>
    /// <param name="row">The row the user saw; when the draft no longer has it, the change is refused.</param>
    /// <param name="rule">The rule as it shall be.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> Change(int company, int user, long row, Rule rule, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (stored.Book.Rules.FirstOrDefault(r => stored.Labels.RuleRow(r.Id) == row) is not { } was)
                return Gone();
            var now = rule with { Id = was.Id };
            if (Fault(stored, now, replaced: was.Id) is { } fault)
                return fault;
            await RuleRows.Replace(change, stored.Labels, [row], [now]);
            var newRow = await RuleRows.RowOf(change, now.Id);
            await change.Log("rule", newRow, $"Rule changed: {now.Purpose.Title}, {now.InWords} → {now.Account}, was {was.Account}.", Shape(was), Shape(now));
            return null;
        }, stop);

    /// <summary>Ends a rule: after a last day, or, without one, altogether with the next release.</summary>
    public Task<Refusal?> End(int company, int user, long row, DateOnly? lastDay, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (stored.Book.Rules.FirstOrDefault(r => stored.Labels.RuleRow(r.Id) == row) is not { } was)
                return Gone();
            if (lastDay < was.From)
                return new Refusal("to", $"The rule begins on {Written.DayNow(was.From.Value)}, after {Written.DayNow(lastDay.Value)}. Choose a later day, " +
                    "or end it altogether.");
            await RuleRows.Replace(change, stored.Labels, [row], lastDay is { } last ? [was with { To = last }] : []);
            if (lastDay is not null)
                row = await RuleRows.RowOf(change, was.Id);
            await change.Log("rule", row, $"Rule ends{(lastDay is { } day ? $" after {day:yyyy-MM-dd}" : "")}: {was.Purpose.Title}, {was.InWords} → " +
                $"{was.Account}.", Shape(was), null);
            return null;
        }, stop);

    static Refusal Gone() => new("",
        "The draft no longer has this rule as you saw it: somebody else has changed or ended it. Look at it again, then make your change.");

    static Refusal? Fault(StoredRulebook stored, Rule rule, string? replaced)
    {
        foreach (var (fact, code) in rule.When)
            if (Labels.ListOf(fact) is { } list && stored.Labels.IdOf(list, code) is null)
                return new Refusal(fact.Name(), $"There is no {fact.InWords()} {code}. Choose one that exists.");
        var error = RulebookChecks.ErrorsOf(stored.Book, rule, replaced) is [var first, ..] ? first : null;
        return error is null ? null : new Refusal(FieldOf(error.Check), error.Message);
    }

    static string FieldOf(string check) => check switch
    {
        "unknown-account" or "rule-account-not-postable" => "account",
        "rule-dates" => "to",
        "rule-overlap" => "from",
        _ => "rung",
    };

    static object Shape(Rule rule) =>
        new { rule.Id, Purpose = rule.Purpose.Name, When = rule.When.ToDictionary(w => w.Fact.Name(), w => w.Code), rule.Account, rule.From, rule.To,
        rule.Note };

    internal static NpgsqlRange<DateOnly> Validity(DateOnly? from, DateOnly? to) =>
        new(from ?? default, lowerBoundIsInclusive: true, lowerBoundInfinite: from is null, to ?? default, upperBoundIsInclusive: true,
            upperBoundInfinite: to is null);
}
