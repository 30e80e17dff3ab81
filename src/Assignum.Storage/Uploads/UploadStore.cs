using Npgsql;

namespace Assignum.Storage.Uploads;

/// <summary>A file that somebody looks at before it is taken in.</summary>
public sealed record Upload(Guid Id, string Name, byte[] Content);

/// <summary>Files between their preview and their import; kept for a day at most.</summary>
public sealed class UploadStore(NpgsqlDataSource source)
{
    /// <summary>Keeps a file, and forgets those of yesterday.</summary>
    public async Task<Guid> Keep(int company, int user, string name, byte[] content, CancellationToken stop)
    {
        await source.Command("delete from upload where company_id = $1 and at < now() - interval '1 day'", company).Run(stop);
        return await source.Command("insert into upload (company_id, user_id, name, content) values ($1, $2, $3, $4) returning id", company, user, name, content).Value<Guid>(stop);
    }

    /// <summary>A file that the same person has uploaded, or null.</summary>
    public Task<Upload?> Find(int company, int user, Guid id, CancellationToken stop) =>
        source.Command("select id, name, content from upload where company_id = $1 and user_id = $2 and id = $3", company, user, id)
            .FirstOrDefault(row => new Upload(row.GetGuid(0), row.GetString(1), row.GetFieldValue<byte[]>(2)), stop);

    /// <summary>Forgets a file.</summary>
    public Task Forget(int company, Guid id, CancellationToken stop) =>
        source.Command("delete from upload where company_id = $1 and id = $2", company, id).Run(stop);
}
