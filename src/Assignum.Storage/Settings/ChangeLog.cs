using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>Writes what is changed outside the draft into the change log: companies, periods, people and their roles.</summary>
static class ChangeLog
{
    /// <param name="connection">The connection, in the transaction of the change.</param>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who did it; null for the system.</param>
    /// <param name="subject">What kind of thing: "company", "period", "person" …</param>
    /// <param name="id">Its id.</param>
    /// <param name="sentence">What changed, as a sentence.</param>
    /// <param name="stop">Cancels.</param>
    internal static Task<int> Note(NpgsqlConnection connection, int company, int? user, string subject, long id, string sentence, CancellationToken stop) =>
        connection.Command("insert into change_log (company_id, user_id, subject, subject_id, sentence) values ($1, $2, $3, $4, $5)", company, user, subject,
            id, sentence).Run(stop);
}
