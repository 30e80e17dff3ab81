using System.Text.Json;
using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>Why something was not done: the field it is about, and one or two sentences with the thing, the place and the mend.</summary>
/// <param name="Field">Name of the field on the form, or "".</param>
/// <param name="Message">What is wrong and how to mend it.</param>
public sealed record Refusal(string Field, string Message);

/// <summary>The draft of a company: one change at a time, each whole or not at all, each in the change log.</summary>
public sealed class Draft(NpgsqlDataSource source, RulebookStore books)
{
    /// <summary>Makes a change of the draft under its lock.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who makes it; null for the system.</param>
    /// <param name="change">The change; when it refuses, nothing of it is kept.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<Refusal?> Change(int company, int? user, Func<DraftChange, Task<Refusal?>> change, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        var edition = await connection.Command("select edition from draft_row where company_id = $1 for update", company).Value<int>(stop);
        await connection.Command("select set_config('assignum.user', $1, true)", user?.ToString(System.Globalization.CultureInfo.InvariantCulture)
            ?? "").Run(stop);
        var session = new DraftChange(connection, books, company, edition, user, stop);
        try
        {
            if (await change(session) is { } refusal)
                return refusal;
        }
        catch (PostgresException inTheWay) when (Constraints.InWords(inTheWay) is { } said)
        {
            return new Refusal("", said);
        }
        await connection.Command("update draft_row set stamp = stamp + $2, described = described + $3 where company_id = $1", company, session.OnlyDescribes
            ? 0L : 1L, session.Describes || session.OnlyDescribes ? 1L : 0L).Run(stop);
        if (session.HoldsAtOnce)
            await connection.Command("update posting_row set stamp = stamp + 1 where company_id = $1", company).Run(stop);
        await transaction.CommitAsync(stop);
        return null;
    }
}

/// <summary>One change of a draft, while it is made.</summary>
public sealed class DraftChange(NpgsqlConnection connection, RulebookStore books, int company, int edition, int? user, CancellationToken stop)
{
    internal NpgsqlConnection Connection => connection;
    internal int Company => company;
    internal int Edition => edition;
    internal int? User => user;
    internal CancellationToken Stop => stop;
    /// <summary>The change touches what holds without an edition: names, new members, first groups.</summary>
    internal bool HoldsAtOnce { get; set; }
    /// <summary>The change touches descriptions, which are no settings.</summary>
    internal bool Describes { get; set; }
    /// <summary>The change touches nothing but descriptions, so that whoever is about to release saw all settings.</summary>
    internal bool OnlyDescribes { get; set; }

    internal NpgsqlCommand Command(string sql, params ReadOnlySpan<object?> values) => connection.Command(sql, values);

    /// <summary>The draft's rulebook, in this transaction.</summary>
    // What was just renamed is not yet in what is known of the edition in force.
    internal Task<StoredRulebook> Book() =>
        HoldsAtOnce ? RulebookStore.LoadWhole(connection, company, edition, stop) : books.Load(connection, company, edition, stop);

    /// <summary>Why a save of what only describes is stale; null when it is not.</summary>
    /// <param name="seen">Count of descriptions when it was opened; null where nobody looked.</param>
    /// <param name="what">What is saved: "the dimensions".</param>
    internal async Task<Refusal?> Stale(long? seen, string what) =>
        seen is null || await Command("select described from draft_row where company_id = $1", company).Value<long>(stop) == seen ? null
            : new Refusal("", $"Somebody else has changed {what}, or what else describes accounts, since you opened this page. Load it again, then make your " +
                "change.");

    /// <summary>The rulebook of the edition in force.</summary>
    internal Task<StoredRulebook> InForce() => books.Load(connection, company, null, stop);

    /// <summary>Ends the settings of many things: rows of the draft go, released ones end.</summary>
    /// <returns>Who had made the rows of the draft, by the thing's id.</returns>
    internal async Task<List<(int Subject, int Maker)>> EndRows(string table, string subjectColumn, int[] subjects)
    {
        var makers = await Command($"delete from {table} where company_id = $1 and {subjectColumn} = any($2) and introduced_in = $3 returning " +
            $"{subjectColumn}, made_by", company, subjects, edition)
            .List(row => (Subject: row.GetInt32(0), Maker: row.IntOrNull(1)), stop);
        await Command($"update {table} set retired_in = $3 where company_id = $1 and {subjectColumn} = any($2) and retired_in is null", company, subjects,
            edition).Run(stop);
        return [.. makers.Where(m => m.Maker is not null && m.Maker != user).Select(m => (m.Subject, m.Maker!.Value))];
    }

    /// <summary>A row of the draft that is altered stays its maker's.</summary>
    internal async Task KeepMakers(string table, string subjectColumn, List<(int Subject, int Maker)> makers)
    {
        if (makers.Count > 0)
            await Command($"update {table} t set made_by = m.maker from unnest($2::integer[], $3::integer[]) as m (subject, maker) where t.company_id = $1 " +
                $"and t.{subjectColumn} = m.subject and t.introduced_in = $4",
                company, makers.Select(m => m.Subject).ToArray(), makers.Select(m => m.Maker).ToArray(), edition).Run(stop);
    }

    /// <summary>Takes rows out of the draft: rows of the draft go, released ones end.</summary>
    internal async Task Retire(string table, long id)
    {
        if (await Command($"delete from {table} where company_id = $1 and id = $2 and introduced_in = $3", company, id, edition).Run(stop) == 0)
            await Command($"update {table} set retired_in = $3 where company_id = $1 and id = $2 and retired_in is null", company, id, edition).Run(stop);
    }

    /// <summary>Writes the change log; what only describes belongs to no edition.</summary>
    /// <param name="subject">What kind of thing: "account", "rule" …</param>
    /// <param name="id">Its id.</param>
    /// <param name="sentence">What changed, as a sentence.</param>
    /// <param name="before">What it was, or null.</param>
    /// <param name="after">What it is, or null.</param>
    internal Task Log(string subject, long id, string sentence, object? before, object? after) =>
        Command("insert into change_log (company_id, user_id, edition, subject, subject_id, sentence, before, after) values ($1, $2, $3, $4, $5, $6, $7, $8)",
            company, user, OnlyDescribes ? null : edition, subject, id, sentence, Json(before), Json(after)).Run(stop);

    static Jsonb Json(object? value) => new(value is null ? null : JsonSerializer.Serialize(value, JsonSerializerOptions.Web));
}
