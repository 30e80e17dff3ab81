using Npgsql;

namespace Assignum.Storage.Charts;

/// <summary>Mappings of chart files, remembered by the headings of the file, so that the next file of the same make is understood at once.</summary>
public sealed class MappingStore(NpgsqlDataSource source)
{
    /// <summary>The mapping remembered for a signature, as JSON; null when there is none.</summary>
    public Task<string?> Find(int company, string signature, CancellationToken stop) =>
        source.Command("select mapping::text from chart_mapping where company_id = $1 and signature = $2", company, signature).FirstOrDefault(row =>
            row.GetString(0), stop)!;

    /// <summary>Remembers one.</summary>
    public Task<int> Remember(int company, int user, string signature, string mapping, CancellationToken stop) =>
        source.Command("""
            insert into chart_mapping (company_id, signature, mapping, user_id) values ($1, $2, $3, $4)
            on conflict (company_id, signature) do update set mapping = excluded.mapping, user_id = excluded.user_id, at = now()
            """, company, signature, new Jsonb(mapping), user).Run(stop);

    /// <summary>Forgets one.</summary>
    public Task<int> Forget(int company, string signature, CancellationToken stop) =>
        source.Command("delete from chart_mapping where company_id = $1 and signature = $2", company, signature).Run(stop);
}
