using System.Security.Cryptography;
using System.Text;
using Assignum.Core.Posting;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>The dimensions that stand together on lines, kept once for each set of names and values.</summary>
sealed class DimensionSets
{
    internal static readonly DimensionSets None = new([]);

    readonly Dictionary<string, int> ids;

    DimensionSets(Dictionary<string, int> ids) => this.ids = ids;

    /// <summary>Id of a set; null for none.</summary>
    internal int? IdOf(Dimensions dimensions) => dimensions.IsEmpty ? null : ids[Key(dimensions)];

    /// <summary>Finds the sets, and keeps those that are new.</summary>
    internal static async Task<DimensionSets> Take(NpgsqlConnection connection, int company, IEnumerable<Dimensions> sets, CancellationToken stop)
    {
        var asked = sets.Where(s => !s.IsEmpty).DistinctBy(Key).ToDictionary(Key);
        if (asked.Count == 0)
            return None;
        byte[][] digests = [.. asked.Keys.Select(Convert.FromHexString)];
        var added = await connection.Command("""
            insert into dimension_set (company_id, digest, text) select $1, * from unnest($2::bytea[], $3::text[]) on conflict (company_id, digest) do nothing
                returning id, digest
            """, company, digests, asked.Values.Select(s => s.ToString()).ToArray())
            .List(row => (Id: row.GetInt32(0), Key: Convert.ToHexString(row.GetFieldValue<byte[]>(1))), stop);
        var parts = added.SelectMany(a => asked[a.Key].All.Select(d => (a.Id, d.Key, d.Value))).ToList();
        if (parts.Count > 0)
            await connection.Command("insert into dimension_of_set (company_id, dimension_set_id, dimension, value) select $1, * from unnest($2::integer[], " +
                "$3::text[], $4::text[])",
                company, parts.Select(p => p.Id).ToArray(), parts.Select(p => p.Key).ToArray(), parts.Select(p => p.Value).ToArray()).Run(stop);
        return new((await connection.Command("select digest, id from dimension_set where company_id = $1 and digest = any($2)", company, digests)
            .List(row => (Convert.ToHexString(row.GetFieldValue<byte[]>(0)), row.GetInt32(1)), stop)).ToDictionary());
    }

    /// <summary>Reads the sets of some ids.</summary>
    internal static async Task<Dictionary<int, Dimensions>> Read(NpgsqlConnection connection, int company, int[] ids, CancellationToken stop) =>
        (await connection.Command("select dimension_set_id, dimension, value from dimension_of_set where company_id = $1 and dimension_set_id = any($2)",
            company, ids)
            .List(row => (Id: row.GetInt32(0), Part: KeyValuePair.Create(row.GetString(1), row.GetString(2))), stop))
            .GroupBy(p => p.Id).ToDictionary(g => g.Key, g => new Dimensions(g.Select(p => p.Part)));

    // Names and values with their lengths before them, so that no two sets read alike; the migration that began with it writes the same.
    static string Key(Dimensions dimensions)
    {
        var text = new StringBuilder();
        foreach (var (name, value) in dimensions.All.OrderBy(d => d.Key, StringComparer.Ordinal))
            text.Append(Encoding.UTF8.GetByteCount(name)).Append(':').Append(name).Append(Encoding.UTF8.GetByteCount(value)).Append(':').Append(value);
        return Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(text.ToString())));
    }
}
