using Npgsql;

namespace Assignum.Storage.Journal;

/// <summary>A document kept with an entry.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Name">Name of its file.</param>
/// <param name="Kind">"pdf", "png", "jpeg", "xlsx" or "csv".</param>
/// <param name="Length">Bytes.</param>
/// <param name="By">Who added it.</param>
/// <param name="At">When, universal time.</param>
public sealed record Attachment(int Id, string Name, string Kind, long Length, string By, DateTime At);

/// <summary>Documents kept with entries; never changed and never taken away.</summary>
public sealed class AttachmentStore(NpgsqlDataSource source)
{
    /// <summary>Largest document, in bytes.</summary>
    public const int Largest = 10 << 20;

    /// <summary>The documents of an entry, in the order in which they were added.</summary>
    public Task<List<Attachment>> Of(int company, long entry, CancellationToken stop) => source.Command("""
        select a.id, a.name, a.kind, length(a.content), u.shown_as, a.at from attachment a join app_user u on u.id = a.user_id
        where a.company_id = $1 and a.entry_id = $2 order by a.id
        """, company, entry).List(row => new Attachment(row.GetInt32(0), row.GetString(1), row.GetString(2), row.GetInt32(3), row.GetString(4),
            row.GetDateTime(5)), stop);

    /// <summary>Keeps a document with an entry.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who adds it.</param>
    /// <param name="entry">Id of the entry.</param>
    /// <param name="name">Name of the file.</param>
    /// <param name="kind">What it is.</param>
    /// <param name="content">Its bytes.</param>
    /// <param name="stop">Cancels; nothing is kept.</param>
    public Task Add(int company, int user, long entry, string name, string kind, byte[] content, CancellationToken stop) =>
        source.Command("insert into attachment (company_id, entry_id, name, kind, content, user_id) values ($1, $2, $3, $4, $5, $6)", company, entry, name,
            kind,
            content, user).Run(stop);

    /// <summary>A document of an entry; null when there is none of that id.</summary>
    public Task<(string Name, string Kind, byte[] Content)?> Find(int company, long entry, int id, CancellationToken stop) =>
        source.Command("select name, kind, content from attachment where company_id = $1 and entry_id = $2 and id = $3", company, entry, id)
            .FirstOrDefault(row => ((string, string, byte[])?)(row.GetString(0), row.GetString(1), row.GetFieldValue<byte[]>(2)), stop);
}
