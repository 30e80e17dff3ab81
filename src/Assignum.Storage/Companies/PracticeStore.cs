using Assignum.Core;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Companies;

/// <summary>An event as it is posted again in a practice company.</summary>
/// <param name="Source">How it came.</param>
/// <param name="Received">As received, JSON.</param>
public sealed record EventToCopy(string Source, string Received);

/// <summary>Practice companies: copies of a company's set-up in which everything can be tried and posted.</summary>
public sealed class PracticeStore(NpgsqlDataSource source)
{
    /// <summary>The practice company of a company; null while there is none.</summary>
    public Task<CompanyRow?> Of(int company, CancellationToken stop) =>
        source.Command($"select {CompanyStore.Columns} from company where practice_of = $1 and put_away_at is null", company).FirstOrDefault(CompanyStore.Read,
            stop);

    /// <summary>Opens one, with the fiscal years, people and rates of the company; an earlier one is put away. Its rulebook is empty.</summary>
    /// <param name="company">The company it is a copy of.</param>
    /// <param name="user">Who opens it.</param>
    /// <param name="stop">Cancels; nothing has changed.</param>
    public async Task<CompanyRow> Open(CompanyRow company, int user, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        await connection.Command("select put_practice_away(id) from company where practice_of = $1 and put_away_at is null", company.Id).Run(stop);
        var (code, name) = (company.Code + "-PRACTICE", company.Name + ", practice");
        var id = await connection.Command("select open_practice($1, $2, $3, $4)", company.Id, code, Fold.Of(code), name).Value<int>(stop);
        await ChangeLog.Note(connection, id, user, "company", id, $"Opened as the practice company of {company.Code} {company.Name}.", stop);
        await ChangeLog.Note(connection, company.Id, user, "company", company.Id, $"A practice company was begun: {code}.", stop);
        await transaction.CommitAsync(stop);
        return company with { Id = id, Code = code, Name = name, PracticeOf = company.Id };
    }

    /// <summary>Copies what stands beside the rulebook; accounts and dimensions of the same numbers and codes are there already.</summary>
    public async Task CopyBeside(int company, int practice, CancellationToken stop)
    {
        await source.Command("select copy_beside_the_rulebook($1, $2)", company, practice).Run(stop);
        await source.Command("select copy_dimension_values($1, $2)", company, practice).Run(stop);
    }

    /// <summary>Puts a practice company away: nobody sees it any more, and what was posted in it stays in the database.</summary>
    /// <returns>Whether there was one.</returns>
    public async Task<bool> PutAway(CompanyRow practice, int user, CancellationToken stop)
    {
        if (practice.PracticeOf is not { } original || !await source.Command("select put_practice_away($1)", practice.Id).Value<bool>(stop))
            return false;
        await using var connection = await source.OpenConnectionAsync(stop);
        await ChangeLog.Note(connection, original, user, "company", original, $"The practice company {practice.Code} was put away.", stop);
        return true;
    }

    /// <summary>How many events a company has.</summary>
    public Task<long> CountEvents(int company, CancellationToken stop) =>
        source.Command("select count(*) from event where company_id = $1", company).Value<long>(stop);

    /// <summary>A company's events in the order in which they came, some at a time.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="after">Id of the last one before.</param>
    /// <param name="most">Most to return.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<(long Id, EventToCopy Event)>> Events(int company, long after, int most, CancellationToken stop) =>
        source.Command("select id, source, received::text from event where company_id = $1 and id > $2 order by id limit $3", company, after, most)
            .List(row => (row.GetInt64(0), new EventToCopy(row.GetString(1), row.GetString(2))), stop);
}
