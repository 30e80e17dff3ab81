using Assignum.Core.Findings;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Checks;

/// <summary>A finding that somebody lets stand until a day, with the reason.</summary>
/// <param name="Id">Id of the acceptance.</param>
/// <param name="Key">What tells the finding from others, as <see cref="AcceptedFindings.KeyOf"/> gives it.</param>
/// <param name="Message">What it said when it was accepted.</param>
/// <param name="Reason">Why it may stand.</param>
/// <param name="Until">Last day on which it may; from the next on it is open again.</param>
/// <param name="By">Who accepted it.</param>
/// <param name="At">When, universal time.</param>
public sealed record AcceptedFinding(int Id, string Key, string Message, string Reason, DateOnly Until, string By, DateTime At);

/// <summary>Findings that were accepted. They stand beside the rulebook, so that they hold for the draft and for what is released alike.</summary>
public sealed class AcceptedFindings(NpgsqlDataSource source)
{
    /// <summary>Longest reason, in characters.</summary>
    public const int LongestReason = 500;

    /// <summary>What tells a finding from others: check, place and account. A rule that gets another account has another finding.</summary>
    public static string KeyOf(Core.Findings.Finding finding) => $"{finding.Check}|{finding.Where}|{finding.Account}";

    /// <summary>Acceptances of a company that have not been ended, the last first; also those whose day has passed.</summary>
    public Task<List<AcceptedFinding>> Of(int company, CancellationToken stop) =>
        source.Command("""
            select a.id, a.finding, a.message, a.reason, a.until, u.shown_as, a.at
            from accepted_finding a join app_user u on u.id = a.user_id
            where a.company_id = $1 and a.ended_at is null order by a.id desc
            """, company).List(row => new AcceptedFinding(row.GetInt32(0), row.GetString(1), row.GetString(2), row.GetString(3), row.GetFieldValue<DateOnly>(4),
                row.GetString(5), row.GetDateTime(6)), stop);

    /// <summary>Accepts a finding until a day. An earlier acceptance of it ends.</summary>
    /// <returns>Why not, or null.</returns>
    public async Task<Refusal?> Accept(int company, int user, Core.Findings.Finding finding, string reason, DateOnly until, DateOnly today,
        CancellationToken stop)
    {
        if (finding.Severity == Severity.Error)
            return new Refusal("finding", "An error bars release and landing, and can't be accepted. Fix it where it stands.");
        if (string.IsNullOrWhiteSpace(reason) || reason.Trim().Length > LongestReason)
            return new Refusal("reason", $"Say in up to {LongestReason} characters why this may stay as it is.");
        if (until < today)
            return new Refusal("until", "The day has passed already. Choose the last day on which it may stay.");
        return await source.Act(async connection =>
        {
            await connection.Command("""
                update accepted_finding set ended_at = now(), ended_by = $3 where company_id = $1 and finding = $2 and ended_at is null
                """, company, KeyOf(finding), user).Run(stop);
            var id = await connection.Command("""
                insert into accepted_finding (company_id, finding, message, reason, until, user_id) values ($1, $2, $3, $4, $5, $6) returning id
                """, company, KeyOf(finding), finding.Message, reason.Trim(), until, user).Value<int>(stop);
            await ChangeLog.Note(connection, company, user, "finding", id,
                $"Accepted until {until:yyyy-MM-dd}: {finding.Message} Reason: {reason.Trim()}", stop);
            return null;
        }, stop);
    }

    /// <summary>Ends an acceptance: the finding is open again.</summary>
    public async Task<bool> End(int company, int user, int id, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        var message = await connection.Command("update accepted_finding set ended_at = now(), ended_by = $3 where company_id = $1 and id = $2 and ended_at " +
            "is null returning message", company, id, user)
            .FirstOrDefault(row => row.GetString(0), stop);
        if (message is null)
            return false;
        await ChangeLog.Note(connection, company, user, "finding", id, $"Open again: {message}", stop);
        await transaction.CommitAsync(stop);
        return true;
    }
}
