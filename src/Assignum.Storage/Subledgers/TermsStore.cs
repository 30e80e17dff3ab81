using Assignum.Core;
using Assignum.Core.Preparation;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Subledgers;

/// <summary>Terms of payment, and whose they are.</summary>
/// <param name="Party">Id of the party; null: of a group.</param>
/// <param name="Group">Id of the group; null: of a party.</param>
/// <param name="Code">Code of that.</param>
/// <param name="Name">Its name.</param>
/// <param name="Terms">The terms.</param>
public sealed record TermsRow(int? Party, int? Group, string Code, string Name, Terms Terms);

/// <summary>Terms of payment by party and party group. They hold at once and are logged: what is due when changes no landing.</summary>
public sealed class TermsStore(NpgsqlDataSource source)
{
    const string Columns = "t.days, t.discount_percent, t.discount_days, t.tolerance, t.late_percent, t.reminder_fee, t.grace_days";

    /// <summary>All that are set: groups first, then parties, each by code.</summary>
    public Task<List<TermsRow>> All(int company, CancellationToken stop) => source.Command($"""
        select t.party_id, t.grouping_id, coalesce(g.code, m.code), coalesce(g.name, m.name), {Columns}
        from payment_terms t left join grouping g on g.company_id = t.company_id and g.id = t.grouping_id
        left join member m on m.company_id = t.company_id and m.id = t.party_id
        where t.company_id = $1 order by t.party_id is not null, 3
        """, company).List(row => new TermsRow(row.IntOrNull(0), row.IntOrNull(1), row.GetString(2), row.GetString(3), Read(row, 4)), stop);

    /// <summary>Terms of parties: their own, else those of their group; a party without any is left out.</summary>
    public async Task<Dictionary<int, Terms>> Of(int company, int[] parties, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        return await Of(connection, company, parties, stop);
    }

    internal static async Task<Dictionary<int, Terms>> Of(NpgsqlConnection connection, int company, int[] parties, CancellationToken stop) =>
        (await connection.Command($"""
            select p.id, case when t.party_id is null then g.code end, {Columns}
            from unnest($2::integer[]) p(id)
            left join lateral (select s.group_id from member_setting s join posting_row r on r.company_id = s.company_id
                where s.company_id = $1 and s.member_id = p.id and s.introduced_in <= r.edition and (s.retired_in is null or s.retired_in > r.edition)
                limit 1) s on true
            join lateral (select * from payment_terms t where t.company_id = $1 and (t.party_id = p.id or t.grouping_id = s.group_id)
                order by t.party_id is null limit 1) t on true
            left join grouping g on g.company_id = $1 and g.id = t.grouping_id
            """, company, parties).List(row => (row.GetInt32(0), Read(row, 2) with { OfGroup = row.TextOrNull(1) }), stop)).ToDictionary();

    /// <summary>Sets the terms of a group or a party, or takes them away.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who does it.</param>
    /// <param name="of">Whose; its terms are those seen.</param>
    /// <param name="seen">The terms its author saw; null: none.</param>
    /// <param name="terms">The new ones; null: none any more.</param>
    /// <param name="stop">Cancels.</param>
    /// <returns>Why not: somebody has changed them since.</returns>
    public Task<Refusal?> Set(int company, int user, (int? Party, int? Group, string Code) of, Terms? seen, Terms? terms, CancellationToken stop) =>
        source.Act(async connection =>
        {
            await connection.Command("select from company where id = $1 for update", company).Run(stop);
            var now = await connection.Command($"""
                select {Columns} from payment_terms t where t.company_id = $1 and t.party_id is not distinct from $2 and t.grouping_id is not distinct from $3
                """, company, of.Party, of.Group).FirstOrDefault(row => Read(row, 0), stop);
            if (now != seen)
                return new Refusal("",
                    $"The terms of {of.Code} have changed since you looked: {now?.InWords ?? "none"}. Look at them once more, then save.");
            await connection.Command("""
                delete from payment_terms where company_id = $1 and party_id is not distinct from $2 and grouping_id is not distinct from $3
                """, company, of.Party, of.Group).Run(stop);
            if (terms is not null)
                await connection.Command("""
                    insert into payment_terms (company_id, party_id, grouping_id, days, discount_percent, discount_days, tolerance, late_percent,
                        reminder_fee, grace_days)
                    values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)
                    """, company, of.Party, of.Group, terms.Days,
                    terms.DiscountPercent, terms.DiscountDays, terms.Tolerance, terms.LatePercent, terms.ReminderFee, terms.GraceDays).Run(stop);
            await ChangeLog.Note(connection, company, user, of.Party is null ? "grouping" : "member", of.Party ?? of.Group!.Value,
                $"Terms of payment of {of.Code}: {terms?.InWords ?? "none"}; before: {now?.InWords ?? "none"}.", stop);
            return null;
        }, stop);

    static Terms Read(NpgsqlDataReader row, int first) =>
        new(row.GetInt32(first), Money.Plain(row.GetDecimal(first + 1)), row.GetInt32(first + 2), Money.Plain(row.GetDecimal(first + 3)))
        {
            LatePercent = Money.Plain(row.GetDecimal(first + 4)), ReminderFee = Money.Plain(row.GetDecimal(first + 5)), GraceDays = row.GetInt32(first + 6),
        };
}
