using Assignum.Core.Rulebooks;
using NpgsqlTypes;

namespace Assignum.Storage.Settings;

/// <summary>Writes rules: many at once, by COPY.</summary>
static class RuleRows
{
    /// <summary>Adds rules to the draft.</summary>
    internal static async Task Copy(DraftChange change, Labels labels, IReadOnlyList<Rule> rules)
    {
        if (rules.Count == 0)
            return;
        await using var copy = await change.Connection.BeginBinaryImportAsync("copy rule (company_id, name, purpose, rung, keys, account_id, rule_key, " +
            "validity, note, introduced_in) from stdin binary", change.Stop);
        foreach (var rule in rules)
        {
            await copy.StartRowAsync(change.Stop);
            copy.Write(change.Company);
            copy.Write(rule.Id);
            copy.Write(rule.Purpose.Name);
            copy.Write(rule.When.Select(w => w.Fact.Name()).ToArray());
            copy.Write(rule.When.Select(labels.KeyOf).ToArray());
            copy.Write(labels.Account(rule.Account)!.Value);
            copy.Write(labels.RuleKeyOf(change.Company, rule.Purpose.Name, rule.When));
            copy.Write(RuleStore.Validity(rule.From, rule.To), NpgsqlDbType.DateRange);
            copy.Write(rule.Note ?? "");
            copy.Write(change.Edition);
        }
        await copy.CompleteAsync(change.Stop);
    }

    /// <summary>Ends rows in the draft, and adds rules that follow them. A rule of the draft that is altered stays its maker's.</summary>
    internal static async Task Replace(DraftChange change, Labels labels, long[] rows, IReadOnlyList<Rule> rules)
    {
        var makers = await change.Command("delete from rule where company_id = $1 and id = any($2) and introduced_in = $3 returning name, made_by",
            change.Company, rows, change.Edition)
            .List(row => (Name: row.GetString(0), Maker: row.IntOrNull(1)), change.Stop);
        await change.Command("update rule set retired_in = $3 where company_id = $1 and id = any($2) and retired_in is null", change.Company, rows,
            change.Edition).Run(change.Stop);
        await Copy(change, labels, await NotThereBefore(change, labels, rules));
        var others = makers.Where(m => m.Maker is not null && m.Maker != change.User).ToList();
        if (others.Count > 0)
            await change.Command("update rule r set made_by = m.maker from unnest($2::text[], $3::integer[]) as m (name, maker) where r.company_id = $1 and " +
                "r.name = m.name and r.introduced_in = $4",
                change.Company, others.Select(m => m.Name).ToArray(), others.Select(m => m.Maker!.Value).ToArray(), change.Edition).Run(change.Stop);
    }

    // A rule that the draft had ended or altered, and that shall be again as it was, simply lives on.
    static async Task<IReadOnlyList<Rule>> NotThereBefore(DraftChange change, Labels labels, IReadOnlyList<Rule> rules)
    {
        if (rules.Count == 0)
            return rules;
        var ended = await change.Command("select id, purpose, rule_key, account_id, lower(validity), upper(validity), note from rule where company_id = $1 " +
            "and retired_in = $2", change.Company, change.Edition)
            .List(row => (Id: row.GetInt64(0), Shape: (row.GetGuid(2), row.GetInt32(3), row.DateOrNull(4), row.DateOrNull(5)?.AddDays(-1), row.GetString(6))),
                change.Stop);
        if (ended.Count == 0)
            return rules;
        var byShape = ended.ToLookup(e => e.Shape, e => e.Id);
        var (come, back) = (new List<Rule>(), new List<long>());
        foreach (var rule in rules)
            if (byShape[(labels.RuleKeyOf(change.Company, rule.Purpose.Name, rule.When), labels.Account(rule.Account)!.Value, rule.From, rule.To, rule.Note
                ?? "")].FirstOrDefault() is > 0 and var id)
                back.Add(id);
            else
                come.Add(rule);
        if (back.Count > 0)
            await change.Command("update rule set retired_in = null where company_id = $1 and id = any($2)", change.Company, back.ToArray()).Run(change.Stop);
        return come;
    }

    /// <summary>Row of a rule of the draft; 0 where it has none of that name.</summary>
    internal static Task<long> RowOf(DraftChange change, string name) =>
        change.Command("select coalesce(max(id), 0) from rule where company_id = $1 and name = $2 and editions @> $3", change.Company, name,
            change.Edition).Value<long>(change.Stop);
}

/// <summary>Free ids for new rules: r1, r2 …</summary>
sealed class RuleNames
{
    int highest;

    internal RuleNames(Rulebook book) =>
        highest = book.Rules.Select(r => r.Id.StartsWith('r') && int.TryParse(r.Id.AsSpan(1), System.Globalization.NumberStyles.None, null, out var n) ? n
            : 0).DefaultIfEmpty().Max();

    internal string Next() => FormattableString.Invariant($"r{++highest}");
}
