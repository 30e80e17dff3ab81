using System.Collections.Concurrent;
using Assignum.Core.Charts;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Charts;

/// <summary>A note on an account.</summary>
public sealed record AccountNote(long Id, DateTime At, string By, string Text);

/// <summary>Reads charts. What it keeps in memory is read again when the settings or descriptions have changed.</summary>
public sealed class ChartStore(NpgsqlDataSource source)
{
    readonly ConcurrentDictionary<int, ((SettingsState State, long Described) Seen, ChartBook Chart)> byCompany = [];

    /// <summary>The chart of a rulebook that was read, with everything said of it.</summary>
    public async Task<ChartBook> Of(int company, StoredRulebook stored, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        var seen = (stored.State, await connection.Command("select described from draft_row where company_id = $1", company).Value<long>(stop));
        if (byCompany.TryGetValue(company, out var known) && known.Seen == seen && ReferenceEquals(known.Chart.Book, stored.Book))
            return known.Chart;
        var chart = await ChartReading.Read(connection, company, stored, stop);
        byCompany[company] = (seen, chart);
        return chart;
    }

    /// <summary>Id of the newest change of an account, 0 when there is none.</summary>
    public Task<long> LastChangeOf(int company, int id, CancellationToken stop) =>
        source.Command("select coalesce(max(id), 0) from change_log where company_id = $1 and subject = 'account' and subject_id = $2", company,
            (long)id).Value<long>(stop);

    /// <summary>Notes on an account, newest first.</summary>
    public Task<List<AccountNote>> NotesOf(int company, int id, CancellationToken stop) =>
        source.Command("""
            select n.id, n.at, u.shown_as, n.text from account_note n join app_user u on u.id = n.user_id
            where n.company_id = $1 and n.account_id = $2 order by n.id desc limit 50
            """, company, id).List(row => new AccountNote(row.GetInt64(0), row.GetDateTime(1), row.GetString(2), row.GetString(3)), stop);

    /// <summary>Accounts of other companies that belong to an account of the group's chart.</summary>
    public Task<List<(string Company, string Number, string Name)>> MatchedTo(int company, int id, CancellationToken stop) =>
        source.Command("""
            select c.code, a.number, a.name from account_description d
            join account a on a.company_id = d.company_id and a.id = d.account_id join company c on c.id = d.company_id
            where d.group_company_id = $1 and d.group_account_id = $2 order by c.code_fold, a.number_fold limit 200
            """, company, id).List(row => (row.GetString(0), row.GetString(1), row.GetString(2)), stop);

    /// <summary>How many accounts of other companies belong to each account of the group's chart.</summary>
    public async Task<IReadOnlyDictionary<int, int>> MatchCounts(int company, CancellationToken stop) =>
        (await source.Command("select group_account_id, count(*)::integer from account_description where group_company_id = $1 and group_account_id is not " +
            "null group by group_account_id", company)
            .List(row => (row.GetInt32(0), row.GetInt32(1)), stop)).ToDictionary();

    /// <summary>The account an account was merged into: its number and name, or null.</summary>
    public Task<(string Number, string Name)?> MergedInto(int company, int id, CancellationToken stop) =>
        source.Command("select t.number, t.name from account a join account t on t.company_id = a.company_id and t.id = a.merged_into where a.company_id = " +
            "$1 and a.id = $2", company, id)
            .FirstOrDefault(row => ((string, string)?)(row.GetString(0), row.GetString(1)), stop);
}
