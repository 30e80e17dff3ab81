using System.Text.Json;
using System.Text.Json.Serialization;
using Assignum.Core;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Connections;

/// <summary>The connections of companies. Who changes one says what they saw of it.</summary>
public sealed class ConnectionStore(NpgsqlDataSource source)
{
    /// <summary>How switches are written.</summary>
    public static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
    };

    const string Columns = "id, code, name, address, secret, hook_secret, state, time_zone, day_end, switches::text, answer::text, cursor, fed_at, " +
        "failing_since, fault, stamp, company_id, partner_company_id";

    /// <summary>All connections of a company, by code.</summary>
    public Task<List<ConnectionRow>> All(int company, CancellationToken stop) =>
        source.Command($"select {Columns} from connection where company_id = $1 order by code_fold", company).List(Read, stop);

    /// <summary>A connection by its code; null: there is none.</summary>
    public Task<ConnectionRow?> Find(int company, string code, CancellationToken stop) =>
        source.Command($"select {Columns} from connection where company_id = $1 and code_fold = $2", company, Fold.Of(code)).FirstOrDefault(Read, stop);

    /// <summary>Companies and connections whose events are to be fetched.</summary>
    public Task<List<(int Company, ConnectionRow Connection)>> Running(CancellationToken stop) =>
        source.Command($"select {Columns} from connection where state = 'running' and (address is not null or partner_company_id is not null) " +
            "order by company_id, id")
            .List(row => (row.GetInt32(16), Read(row)), stop);

    static ConnectionRow Read(NpgsqlDataReader row) => new(row.GetInt32(0), row.GetString(1), row.GetString(2), row.TextOrNull(3), row.TextOrNull(4),
        row.TextOrNull(5), Words<ConnectionState>.Parse(row.GetString(6)), row.GetString(7), row.GetFieldValue<TimeOnly>(8),
        JsonSerializer.Deserialize<Switches>(row.GetString(9), Json)!, row.TextOrNull(10), row.TextOrNull(11), row.MomentOrNull(12), row.MomentOrNull(13),
        row.TextOrNull(14), row.GetInt64(15)) { Partner = row.IntOrNull(17) is { } there ? new(row.GetInt32(16), there) : null };

    /// <summary>Adds a connection.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who adds it.</param>
    /// <param name="code">Its code.</param>
    /// <param name="name">Its name.</param>
    /// <param name="hookSecret">What the other system signs with, encrypted.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="partner">Id of the company of the group that it is; null: another system.</param>
    /// <returns>Why it was not added; null when it was.</returns>
    public Task<Refusal?> Add(int company, int user, string code, string name, string hookSecret, CancellationToken stop,
        int? partner = null) => source.Act(async connection =>
    {
        var fold = Fold.Of(code);
        if (fold.Length is 0 or > 40 || fold.Any(c => c is '@' or '/' or '·' or '?' or '#'))
            return new Refusal("code",
                $"“{code.Trim()}” can't be the code of a connection: up to 40 characters, none of @ / ? # ·. Choose one such as web-shop.");
        if (fold == Fold.Of(Posting.PostableEvent.Own))
            return new Refusal("code", "“own” stands for what is typed in by hand. Choose another code.");
        if (await connection.Command("insert into connection (company_id, code, code_fold, name, hook_secret, partner_company_id) " +
            "values ($1, $2, $3, $4, $5, $6) on conflict do nothing",
            company, code.Trim(), fold, name.Trim().Length > 0 ? name.Trim() : code.Trim(), hookSecret, partner).Run(stop) == 0)
            return new Refusal("code", $"There is a connection {code.Trim()} already. Open it, or choose another code.");
        await ChangeLog.Note(connection, company, user, "connection", 0, $"Connection {code.Trim()} added.", stop);
        return null;
    }, stop);

    /// <summary>Says where the other system is and what we show it.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who says it.</param>
    /// <param name="of">The connection, as seen.</param>
    /// <param name="address">Where it is.</param>
    /// <param name="secret">The secret, encrypted; null: the one it has stays.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> SetAddress(int company, int user, ConnectionRow of, string address, string? secret, CancellationToken stop) =>
        Change(company, user, of, $"Connection {of.Code}: address {address}{(secret is null ? "" : ", new secret")}.",
            "address = $4, secret = coalesce($5, secret)", stop, address, secret);

    /// <summary>Notes what the other system answered, and, where nobody had reached it yet, that it is reached.</summary>
    public Task<int> Reached(int company, int id, string answer, CancellationToken stop) =>
        source.Command("update connection set answer = $3, state = case state when 'made' then 'reached' else state end where company_id = $1 and id = $2",
            company, id, new Jsonb(answer)).Run(stop);

    /// <summary>Starts a connection, or stops it.</summary>
    public Task<Refusal?> SetRunning(int company, int user, ConnectionRow of, bool running, CancellationToken stop) =>
        Change(company, user, of, $"Connection {of.Code} {(running ? "takes events" : "is stopped")}.", "state = $4, fault = null, failing_since = null", stop,
            running ? "running" : "stopped");

    /// <summary>Says how its events are taken and how its days are counted.</summary>
    public Task<Refusal?> SetSwitches(int company, int user, ConnectionRow of, Switches switches, string timeZone, TimeOnly dayEnd, CancellationToken stop) =>
        Change(company, user, of, $"Connection {of.Code}: how its events are taken.", "switches = $4, time_zone = $5, day_end = $6", stop,
            new Jsonb(JsonSerializer.Serialize(switches, Json)), timeZone, dayEnd);

    /// <summary>Gives it another secret to sign with, encrypted.</summary>
    public Task<Refusal?> SetHookSecret(int company, int user, ConnectionRow of, string secret, CancellationToken stop) =>
        Change(company, user, of, $"Connection {of.Code}: new signing secret.", "hook_secret = $4", stop, secret);

    /// <summary>Notes that its events can't be fetched, and why.</summary>
    public Task<int> Failing(int company, int id, string fault, CancellationToken stop) =>
        source.Command("update connection set fault = $3, failing_since = coalesce(failing_since, now()) where company_id = $1 and id = $2", company, id,
            fault).Run(stop);

    Task<Refusal?> Change(int company, int user, ConnectionRow of, string sentence, string set, CancellationToken stop, params object?[] values) =>
        source.Act(async connection =>
        {
            if (await connection.Command($"update connection set stamp = stamp + 1, {set} where company_id = $1 and id = $2 and stamp = $3",
                [company, of.Id, of.Stamp, .. values]).Run(stop) == 0)
                return new Refusal("", $"Somebody else has changed connection {of.Code} since you opened it. Look at it again, then make your change.");
            await ChangeLog.Note(connection, company, user, "connection", of.Id, sentence, stop);
            return null;
        }, stop);
}
