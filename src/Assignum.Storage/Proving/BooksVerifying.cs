using System.Security.Cryptography;
using System.Text;
using Assignum.Core;
using Npgsql;

namespace Assignum.Storage.Proving;

/// <summary>What is checked when books prove themselves.</summary>
public enum ProvingStep
{
    /// <summary>Each event, with its entries, lines and movements, is as it was posted, and none is missing.</summary>
    Chain,
    /// <summary>The heads that were kept at closes are in the chain.</summary>
    Heads,
    /// <summary>Entries are numbered without a gap, and as many as were given.</summary>
    Numbers,
    /// <summary>Every entry comes to nothing.</summary>
    Entries,
    /// <summary>Every kept balance is the sum of its lines.</summary>
    Balances,
    /// <summary>Open items, stock and receipts are the sums of their movements.</summary>
    Subledgers,
}

/// <summary>Something in the books that is not as it was posted.</summary>
/// <param name="Step">What found it.</param>
/// <param name="Message">The thing, in a sentence.</param>
/// <param name="Entry">Id of the entry, where it is still there.</param>
public sealed record BooksFault(ProvingStep Step, string Message, long? Entry = null);

/// <summary>The end of a chain: what proves everything before it.</summary>
/// <param name="Year">First day of the fiscal year.</param>
/// <param name="Place">How many events it has.</param>
/// <param name="Digest">The digest of the last, in hexadecimal.</param>
public sealed record ChainHead(DateOnly Year, long Place, string Digest);

/// <summary>What checking a company's books came to.</summary>
/// <param name="Company">Its code.</param>
/// <param name="Events">Posted events in its chains.</param>
/// <param name="Entries">Entries.</param>
/// <param name="Lines">Ledger lines.</param>
/// <param name="Movements">Subledger movements.</param>
/// <param name="Heads">The ends of its chains, by year.</param>
/// <param name="Faults">What is wrong, at most <see cref="BooksVerifying.MostNamed"/> of each step.</param>
/// <param name="More">How many faults are not named.</param>
public sealed record VerifiedBooks(string Company, long Events, long Entries, long Lines, long Movements, IReadOnlyList<ChainHead> Heads,
    IReadOnlyList<BooksFault> Faults, long More)
{
    /// <summary>Whether nothing is wrong.</summary>
    public bool Sound => Faults.Count == 0;
}

/// <summary>Checks the books of a company against their own chain of digests, and their sums against their rows. Reads only, in one snapshot.</summary>
public sealed class BooksVerifying(NpgsqlDataSource source)
{
    /// <summary>Most faults of a step that are named; more are counted.</summary>
    public const int MostNamed = 20;

    const int LineRank = 3, MovementRank = 4;

    /// <summary>The ends of a company's chains, by year.</summary>
    public Task<List<ChainHead>> Heads(int company, CancellationToken stop) => source.Command(HeadsText, company).List(HeadOf, stop);

    const string HeadsText = """
        select y.starts, d.place, encode(d.digest, 'hex') from fiscal_year y cross join lateral (select place, digest from posted_digest d
            where d.company_id = y.company_id and d.fiscal_year_id = y.id order by place desc limit 1) d
        where y.company_id = $1 order by y.starts
        """;

    static ChainHead HeadOf(NpgsqlDataReader row) => new(row.GetFieldValue<DateOnly>(0), row.GetInt64(1), row.GetString(2));

    /// <summary>Checks everything.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="code">Its code.</param>
    /// <param name="kept">Heads that were kept outside, to be looked for in the chain.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<VerifiedBooks> Verify(int company, string code, IReadOnlyList<ChainHead> kept, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var snapshot = await connection.BeginTransactionAsync(System.Data.IsolationLevel.RepeatableRead, stop);
        var found = new Found();
        var counted = await Chain(connection, company, found, stop);
        await Kept(connection, company, kept, found, stop);
        foreach (var check in BooksSums.All)
            await foreach (var (message, entry) in connection.Command(check.Text, company).Stream(row => (row.GetString(0), row.LongOrNull(1)), stop))
                found.Add(new(check.Step, message, entry));
        return new(code, counted.Events, counted.Entries, counted.Lines, counted.Movements, await connection.Command(HeadsText, company).List(HeadOf, stop),
            found.Named, found.More);
    }

    sealed class Found
    {
        readonly Dictionary<ProvingStep, int> counts = [];
        internal List<BooksFault> Named { get; } = [];
        internal long More { get; private set; }

        internal void Add(BooksFault fault)
        {
            if (System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(counts, fault.Step, out _)++ < MostNamed)
                Named.Add(fault);
            else
                More++;
        }
    }

    sealed class Counted
    {
        internal long Events, Entries, Lines, Movements;

        internal void Add(int rank)
        {
            switch (rank)
            {
                case 1: Events++; break;
                case LineRank: Lines++; break;
                case MovementRank: Movements++; break;
                default: Entries++; break;
            }
        }
    }

    sealed record Row(long Event, int Rank, string Written, int? Year, long? Place, byte[]? Digest, DateOnly? Starts, string SourceId, bool Landed,
        long? Entry);

    // Rows come event by event. After a fault the chain goes on from what is kept, so that each altered event is named and no other.
    static async Task<Counted> Chain(NpgsqlConnection connection, int company, Found found, CancellationToken stop)
    {
        var (counted, heads, form) = (new Counted(), new Dictionary<int, (long Place, byte[] Digest)>(), new StringBuilder());
        Row? last = null;
        await using var rows = connection.Command("""
            select r.event_id, r.rank, r.written, d.fiscal_year_id, d.place, d.digest, y.starts, coalesce(e.source_id, ''),
                coalesce(e.outcome = 'landed' and not e.withdrawn,
                true),
                case when r.rank = 2 then r.major end
            from (select event_id, rank, major, minor, written from canonical_rows($1, 0, 9223372036854775807)
                union all select d.event_id, 9, 0, 0, '' from posted_digest d where d.company_id = $1) r
            left join event e on e.company_id = $1 and e.id = r.event_id
            left join posted_digest d on d.company_id = $1 and d.event_id = r.event_id
            left join fiscal_year y on y.company_id = $1 and y.id = d.fiscal_year_id
            order by r.event_id, r.rank, r.major, r.minor
            """, company);
        rows.CommandTimeout = 0;
        long? entry = null;
        await foreach (var row in rows.Stream(Read, stop))
        {
            if (last is not null && row.Event != last.Event)
                End(last);
            entry = row.Entry ?? entry;
            last = row;
            if (row.Digest is null && row.Rank > 1)
                last = row with { Landed = true };
            if (row.Rank == 9)
                continue;
            form.Append(row.Written).Append('\n');
            if (row.Digest is not null)
                counted.Add(row.Rank);
        }
        if (last is not null)
            End(last);
        return counted;

        static Row Read(NpgsqlDataReader row) => new(row.GetInt64(0), row.GetInt32(1), row.GetString(2), row.IntOrNull(3), row.LongOrNull(4),
            row.IsDBNull(5) ? null : row.GetFieldValue<byte[]>(5), row.DateOrNull(6), row.GetString(7), row.GetBoolean(8), row.LongOrNull(9));

        void End(Row of)
        {
            var (name, at) = ($"Event {of.SourceId} ({of.Event})", entry);
            var written = form.ToString();
            form.Clear();
            entry = null;
            if (of is not { Digest: { } digest, Year: { } year, Place: { } place })
            {
                if (of.Landed)
                    found.Add(new(ProvingStep.Chain, $"{name} is in the books and in no chain: it was put in beside posting, or its digest was taken away.",
                        at));
                return;
            }
            var (before, head) = heads.GetValueOrDefault(year, (0, []));
            if (place != before + 1)
                found.Add(new(ProvingStep.Chain, $"The chain of the year from {of.Starts:yyyy-MM-dd} goes from place {before} to place {place}, at {name}: " +
                    (place > before ? $"{place - before - 1} events between were taken away." : "the order was altered."), at));
            else if (!CryptographicOperations.FixedTimeEquals(CanonicalText.Chained(head, written), digest))
                found.Add(new(ProvingStep.Chain, written.Length == 0 ? $"Event {of.Event} is in the chain and not in the books: it was taken away."
                    : $"{name} is not as it was posted: its entry, a line, a movement or its place was altered.", at));
            heads[year] = (place, digest);
        }
    }

    // What was kept at a close, here and outside, must still be a place of the chain.
    static async Task Kept(NpgsqlConnection connection, int company, IReadOnlyList<ChainHead> kept, Found found, CancellationToken stop)
    {
        foreach (var head in kept)
            if (await connection.Command("""
                select encode(d.digest, 'hex') from fiscal_year y join posted_digest d on d.company_id = y.company_id and d.fiscal_year_id = y.id
                where y.company_id = $1 and y.starts = $2 and d.place = $3
                """, company, head.Year, head.Place).FirstOrDefault(row => row.GetString(0), stop) is not { } there)
                found.Add(new(ProvingStep.Heads, $"The chain of the year from {head.Year:yyyy-MM-dd} had {head.Place} events when its head was kept, " +
                    "and has fewer now: what came last was taken away."));
            else if (!string.Equals(there, head.Digest, StringComparison.OrdinalIgnoreCase))
                found.Add(new(ProvingStep.Heads,
                    $"Place {head.Place} of the chain of the year from {head.Year:yyyy-MM-dd} has another digest than the head that " +
                    "was kept: everything up to it was written again."));
    }
}
