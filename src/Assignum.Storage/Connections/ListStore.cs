using Assignum.Core;
using Npgsql;

namespace Assignum.Storage.Connections;

/// <summary>An entry of a list as the other system sends it.</summary>
/// <param name="Code">Its number or code there.</param>
/// <param name="Name">Its name there.</param>
public sealed record SentEntry(string Code, string Name)
{
    /// <summary>What it is of: the class of an account, the kind of an item; null: not said.</summary>
    public string? Kind { get; init; }
    /// <summary>With what it is used there, a tax code; null: not said.</summary>
    public string? Use { get; init; }
    /// <summary>Rate of a tax code there, per cent; null: not said.</summary>
    public decimal? Rate { get; init; }
    /// <summary>Authority of a tax code there; null: not said.</summary>
    public string? Authority { get; init; }
    /// <summary>Category of an item there; null: not said.</summary>
    public string? Category { get; init; }
    /// <summary>In how many of its events it was used.</summary>
    public int Used { get; init; }
    /// <summary>What those came to; null: not said.</summary>
    public decimal? Amount { get; init; }
}

/// <summary>Whether somebody has seen an entry as it is now.</summary>
public enum EntrySeen { New, Changed, Seen }

/// <summary>An entry of a list as it is kept.</summary>
/// <param name="Sent">As it was sent last.</param>
/// <param name="Seen">Whether somebody has seen it as it is.</param>
/// <param name="Was">What it was before it changed, in words; null: it did not.</param>
/// <param name="GoneAt">Since when it is not there any more; null: it is.</param>
/// <param name="Decided">What was decided about it; null: it waits.</param>
public sealed record KeptEntry(SentEntry Sent, EntrySeen Seen, string? Was, DateTime? GoneAt, Decision? Decided);

/// <summary>What was decided about an entry.</summary>
/// <param name="Ours">Our code; null: it is not needed here.</param>
/// <param name="How">How it came to it: "same number", "by hand" …</param>
/// <param name="By">Name of who decided; null: nobody by hand.</param>
/// <param name="At">When.</param>
public sealed record Decision(string? Ours, string How, string? By, DateTime At);

/// <summary>A list of a connection.</summary>
/// <param name="List">Which.</param>
/// <param name="Version">Its version there when it was fetched.</param>
/// <param name="FetchedAt">When it was fetched last.</param>
/// <param name="Told">Codes of ours that the other system has been told, folded.</param>
/// <param name="ToldAt">When it was told last; null: never.</param>
/// <param name="NumberRule">What number an entry gets that is added here: "theirs", or "next".</param>
public sealed record KeptList(string List, long Version, DateTime FetchedAt, IReadOnlyList<string> Told, DateTime? ToldAt, string NumberRule);

/// <summary>How many entries a list has, and what was decided about them outside the draft.</summary>
public sealed record EntryCount(int Connection, string List, int Entries, int NotNeeded, int Matched, int Unseen);

/// <summary>What a refresh of a list found.</summary>
public sealed record Refreshed(int New, int Changed, int Gone);

/// <summary>The lists of connections, as they were fetched last, with what was decided about their entries.</summary>
public sealed class ListStore(NpgsqlDataSource source)
{
    /// <summary>Lists a connection may have, in the order in which they are matched.</summary>
    public static readonly IReadOnlyList<string> Known =
        ["accounts", "tax-codes", "customers", "suppliers", "categories", "items", "projects", "people"];

    /// <summary>The lists of a connection.</summary>
    public async Task<IReadOnlyList<KeptList>> All(int company, int connection, CancellationToken stop)
    {
        var lists = await source.Command("select list, version, fetched_at, told, told_at, number_rule from connection_list where company_id = $1 and " +
            "connection_id = $2", company, connection).List(row => new KeptList(row.GetString(0), row.GetInt64(1), row.GetDateTime(2),
                row.GetFieldValue<string[]>(3), row.MomentOrNull(4), row.GetString(5)), stop);
        return [.. lists.OrderBy(l => Known.ToList().IndexOf(l.List))];
    }

    /// <summary>Takes a list over as it is there: what is new, what has changed and what is gone is marked.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="connection">Id of the connection.</param>
    /// <param name="list">Which list.</param>
    /// <param name="version">Its version there.</param>
    /// <param name="entries">Entries, all of them or those that changed.</param>
    /// <param name="gone">Codes that are gone; where the list is whole, all others are.</param>
    /// <param name="whole">The list is whole.</param>
    /// <param name="stop">Cancels; nothing is taken over.</param>
    public async Task<Refreshed> Refresh(int company, int connection, string list, long version, IReadOnlyList<SentEntry> entries,
        IReadOnlyList<string> gone, bool whole, CancellationToken stop)
    {
        await using var open = await source.OpenConnectionAsync(stop);
        await using var transaction = await open.BeginTransactionAsync(stop);
        await open.Command("""
            insert into connection_list (company_id, connection_id, list, version) values ($1, $2, $3, $4)
            on conflict (company_id, connection_id, list) do update set version = excluded.version, fetched_at = now()
            """, company, connection, list, version).Run(stop);
        var sent = entries.DistinctBy(e => Fold.Of(e.Code)).ToList();
        var became = await open.Command("""
            insert into connection_entry as k (company_id, connection_id, list, code_fold, code, name, kind, use, rate, authority, category, used, amount)
            select $1, $2, $3, * from unnest($4::text[], $5::text[], $6::text[], $7::text[], $8::text[], $9::numeric[], $10::text[], $11::text[],
                $12::integer[], $13::numeric[])
            on conflict (company_id, connection_id, list, code_fold) do update set
                was = case when (k.name, k.kind, k.rate, k.authority, k.category, k.gone_at) is distinct from
                    (excluded.name, excluded.kind, excluded.rate, excluded.authority, excluded.category, null::timestamptz)
                    then concat_ws(', ', k.name, k.kind, trim_scale(k.rate) || ' %', k.authority, k.category) else k.was end,
                seen = case when (k.name, k.kind, k.rate, k.authority, k.category, k.gone_at) is distinct from
                    (excluded.name, excluded.kind, excluded.rate, excluded.authority, excluded.category, null::timestamptz) and k.seen <> 'new'
                    then 'changed' else k.seen end,
                code = excluded.code, name = excluded.name, kind = excluded.kind, use = excluded.use, rate = excluded.rate, authority = excluded.authority,
                category = excluded.category, used = excluded.used, amount = excluded.amount, gone_at = null
            returning seen
            """, company, connection, list, Of(e => Fold.Of(e.Code)), Of(e => e.Code), Of(e => e.Name), Of(e => e.Kind), Of(e => e.Use), Of(e => e.Rate),
            Of(e => e.Authority), Of(e => e.Category), Of(e => e.Used), Of(e => e.Amount)).List(row => row.GetString(0), stop);
        var left = await open.Command("""
            update connection_entry set gone_at = now() where company_id = $1 and connection_id = $2 and list = $3 and gone_at is null
                and (code_fold = any($4) or $5 and not code_fold = any($6))
            """, company, connection, list, gone.Select(Fold.Of).ToArray(), whole, Of(e => Fold.Of(e.Code))).Run(stop);
        await transaction.CommitAsync(stop);
        return new(became.Count(s => s == "new"), became.Count(s => s == "changed"), left);

        T[] Of<T>(Func<SentEntry, T> value) => [.. sent.Select(value)];
    }

    /// <summary>Entries of a list, with what was decided about them outside the draft, by code.</summary>
    public Task<List<KeptEntry>> Entries(int company, int connection, string list, CancellationToken stop) => source.Command("""
        select e.code, e.name, e.kind, e.use, e.rate, e.authority, e.category, e.used, e.amount, e.seen, e.was, e.gone_at, m.ours, m.how, u.shown_as,
            m.decided_at
        from connection_entry e
        left join connection_match m on (m.company_id, m.connection_id, m.list, m.code_fold) = (e.company_id, e.connection_id, e.list, e.code_fold)
        left join app_user u on u.id = m.decided_by
        where e.company_id = $1 and e.connection_id = $2 and e.list = $3 order by e.code_fold
        """, company, connection, list).List(row => new KeptEntry(new SentEntry(row.GetString(0), row.GetString(1))
        {
            Kind = row.TextOrNull(2), Use = row.TextOrNull(3), Rate = row.DecimalOrNull(4) is { } rate ? Money.Plain(rate) : null,
            Authority = row.TextOrNull(5), Category = row.TextOrNull(6), Used = row.GetInt32(7), Amount = row.DecimalOrNull(8),
        }, Words<EntrySeen>.Parse(row.GetString(9)), row.TextOrNull(10), row.MomentOrNull(11),
            row.IsDBNull(13) ? null : new Decision(row.TextOrNull(12), row.GetString(13), row.TextOrNull(14), row.GetDateTime(15))), stop);

    /// <summary>How many entries each list of each connection has, and what was decided about them outside the draft.</summary>
    public Task<List<EntryCount>> Counts(int company, CancellationToken stop) => source.Command("""
        select e.connection_id, e.list, count(*)::integer, (count(*) filter (where m.how is not null and m.ours is null))::integer,
            (count(*) filter (where m.ours is not null))::integer, (count(*) filter (where e.seen <> 'seen'))::integer
        from connection_entry e
        left join connection_match m on (m.company_id, m.connection_id, m.list, m.code_fold) = (e.company_id, e.connection_id, e.list, e.code_fold)
        where e.company_id = $1 and e.gone_at is null group by 1, 2
        """, company).List(row => new EntryCount(row.GetInt32(0), row.GetString(1), row.GetInt32(2), row.GetInt32(3), row.GetInt32(4), row.GetInt32(5)), stop);

    /// <summary>Somebody has seen a list as it is.</summary>
    public Task<int> MarkSeen(int company, int connection, string list, CancellationToken stop) =>
        source.Command("update connection_entry set seen = 'seen' where company_id = $1 and connection_id = $2 and list = $3 and seen <> 'seen'", company,
            connection, list).Run(stop);

    /// <summary>Notes which of our codes the other system has been told.</summary>
    public Task<int> Tell(int company, int connection, string list, IReadOnlyList<string> codes, CancellationToken stop) => source.Command("""
        insert into connection_list (company_id, connection_id, list, version, told, told_at) values ($1, $2, $3, 0, $4, now())
        on conflict (company_id, connection_id, list) do update set told = $4, told_at = now()
        """, company, connection, list, codes.Select(Fold.Of).ToArray()).Run(stop);

    /// <summary>Says what number an entry gets that is added here.</summary>
    public Task<int> SetNumberRule(int company, int connection, string list, string rule, CancellationToken stop) =>
        source.Command("update connection_list set number_rule = $4 where company_id = $1 and connection_id = $2 and list = $3", company, connection, list,
            rule == "next" ? "next" : "theirs").Run(stop);
}
