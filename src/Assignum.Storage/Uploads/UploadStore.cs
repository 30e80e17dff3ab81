using Npgsql;

namespace Assignum.Storage.Uploads;

/// <summary>A file that somebody looks at before it is imported.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Name">Its name, without a path and without what can't be seen.</param>
/// <param name="Read">What a worker has read of it; null while none has.</param>
public sealed record Upload(Guid Id, string Name, byte[]? Read);

/// <summary>Files between their preview and their import; kept for a day at most, in pieces.</summary>
public sealed class UploadStore(NpgsqlDataSource source)
{
    /// <summary>Longest name of a file, in characters.</summary>
    public const int LongestName = 120;
    const int PieceSize = 1 << 20;

    /// <summary>Keeps a file, and forgets those of yesterday.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who uploads it; nobody else sees it.</param>
    /// <param name="name">Its name as the browser says it.</param>
    /// <param name="content">Its bytes, read once.</param>
    /// <param name="stop">Cancels; nothing is kept.</param>
    public async Task<Guid> Keep(int company, int user, string name, Stream content, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        await connection.Command("delete from upload where company_id = $1 and at < now() - interval '1 day'", company).Run(stop);
        var id = await connection.Command("insert into upload (company_id, user_id, name) values ($1, $2, $3) returning id", company, user,
            Cleaned(name)).Value<Guid>(stop);
        var piece = new byte[PieceSize];
        for (var place = 0; await content.ReadAtLeastAsync(piece, PieceSize, throwOnEndOfStream: false, stop) is > 0 and var read; place++)
            await connection.Command("insert into upload_part (company_id, upload_id, place, content) values ($1, $2, $3, $4)", company, id, place,
                piece[..read]).Run(stop);
        await transaction.CommitAsync(stop);
        return id;
    }

    /// <summary>A file that the same person has uploaded, or null.</summary>
    public Task<Upload?> Find(int company, int user, Guid id, CancellationToken stop) =>
        source.Command("select id, name, read from upload where company_id = $1 and user_id = $2 and id = $3", company, user, id)
            .FirstOrDefault(row => new Upload(row.GetGuid(0), row.GetString(1), row.IsDBNull(2) ? null : row.GetFieldValue<byte[]>(2)), stop);

    /// <summary>The bytes of a file, for the worker that reads it.</summary>
    public async Task<byte[]> Content(int company, Guid id, CancellationToken stop)
    {
        var content = new MemoryStream(await source.Command("select coalesce(sum(length(content)), 0)::integer from upload_part where company_id = $1 and " +
            "upload_id = $2", company, id).Value<int>(stop));
        await foreach (var piece in source.Command("select content from upload_part where company_id = $1 and upload_id = $2 order by place", company,
            id).Stream(row => row.GetFieldValue<byte[]>(0), stop))
            content.Write(piece);
        return content.Length == content.Capacity ? content.GetBuffer() : content.ToArray();
    }

    /// <summary>Keeps what was read of a file.</summary>
    public Task KeepRead(int company, Guid id, ReadOnlyMemory<byte> read, CancellationToken stop) =>
        source.Command("update upload set read = $3 where company_id = $1 and id = $2", company, id, read).Run(stop);

    /// <summary>Forgets a file.</summary>
    public Task Forget(int company, Guid id, CancellationToken stop) =>
        source.Command("delete from upload where company_id = $1 and id = $2", company, id).Run(stop);

    // A browser may send a path, or anything at all.
    static string Cleaned(string name)
    {
        var last = name.Split('/', '\\')[^1];
        var seen = new string([.. last.Where(c => !char.IsControl(c) && !char.IsSurrogate(c)).Take(LongestName)]).Trim();
        return seen.Length == 0 ? "file" : seen;
    }
}
