using Assignum.Core.Rulebooks;
using Assignum.Storage.Posting;
using Npgsql;

namespace Assignum.Storage.HeldEvents;

/// <summary>How many lines that have landed would land elsewhere.</summary>
/// <param name="Lines">How many lines.</param>
/// <param name="Amount">What they come to, without signs, company currency.</param>
public sealed record MovedCount(long Lines, decimal Amount)
{
    /// <summary>Counts the lines of a purpose, and of those it stands in for, that a rule would take from where they are.</summary>
    /// <param name="source">The database.</param>
    /// <param name="company">Id of the company.</param>
    /// <param name="by">The rulebook with the rule.</param>
    /// <param name="rule">The rule.</param>
    /// <param name="since">First posting date that counts.</param>
    /// <param name="stop">Cancels.</param>
    public static async Task<MovedCount> Of(NpgsqlDataSource source, int company, CompiledRulebook by, Rule rule, DateOnly since, CancellationToken stop)
    {
        string[] purposes = [.. Purpose.All.Where(p => p.Chain().Contains(rule.Purpose)).Select(p => p.Name)];
        var kinds = await source.Command("""
            select l.purpose, l.facts, a.number, max(l.date), count(*), sum(abs(l.amount)) from line l
            join account a on a.company_id = l.company_id and a.id = l.account_id
            where l.company_id = $1 and l.purpose = any($2) and l.answered_by = 'ladder' and l.date >= $3 group by 1, 2, 3
            """, company, purposes, since).List(row => (Purpose: row.GetString(0), Facts: FactsText.Read(row.GetString(1)), Account: row.GetString(2),
                Day: row.GetFieldValue<DateOnly>(3), Lines: row.GetInt64(4), Amount: row.GetDecimal(5)), stop);
        bool Holds(IReadOnlyList<FactValue> facts) => rule.When.All(w => facts.Any(f => f.Fact == w.Fact && Core.Fold.Same(f.Code, w.Code)));
        var moved = kinds.FindAll(k => Holds(k.Facts) && by.Resolve(Purpose.Find(k.Purpose)!, by.FactsOf(k.Facts), k.Day) is { Found: true } answer
            && !Core.Fold.Same(by.AccountOf(answer).Number, k.Account));
        return new(moved.Sum(k => k.Lines), Core.Money.Plain(moved.Sum(k => k.Amount)));
    }
}
