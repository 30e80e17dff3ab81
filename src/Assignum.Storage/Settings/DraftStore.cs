using Assignum.Core.Changes;
using Assignum.Core.Findings;
using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>Takes changes of the draft back, and brings earlier editions back as a draft.</summary>
public sealed class DraftStore(Draft draft)
{
    /// <summary>Takes chosen changes back.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who takes them back.</param>
    /// <param name="places">Places of the changes, as <see cref="SettingChange.Where"/> has them.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> Undo(int company, int user, IReadOnlyCollection<string> places, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var (released, stored) = (await change.InForce(), await change.Book());
            var all = RulebookDifference.Between(released.Book, stored.Book);
            var known = all.Where(c => places.Contains(c.Where)).ToList();
            if (known.Count == 0)
                return new Refusal("", "The draft no longer has this change: somebody else has taken it back, or it has been released. Look at the draft " +
                    "again.");
            if (new ChangeNeeds(released.Book, stored.Book, all).LeftBehindBy(known.Select(c => c.Where)).FirstOrDefault() is { } left)
                return new Refusal("", $"{left.Change.Sentence} It can't be taken back alone, because the draft uses it: {left.For.Sentence} " +
                    "Take that back too.");
            return await TakeBack(change, released, stored, known);
        }, stop);

    /// <summary>Takes every change of the draft back.</summary>
    public Task<Refusal?> Discard(int company, int user, long seen, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var (released, stored) = (await change.InForce(), await change.Book());
            if (stored.State.InDraft != seen)
                return new Refusal("", $"Draft {change.Edition} has changed since you looked at it. Look at its changes once more, then discard them.");
            var all = RulebookDifference.Between(released.Book, stored.Book);
            return all.Count == 0 ? new Refusal("", "The draft has no changes, so there is nothing to discard.")
                : await TakeBack(change, released, stored, all);
        }, stop);

    static async Task<Refusal?> TakeBack(DraftChange change, StoredRulebook released, StoredRulebook stored, IReadOnlyList<SettingChange> changes)
    {
        var rows = await SettingRows.Of(change.Connection, change.Company, released, stored, changes.Select(c => c.Where), change.Stop);
        try
        {
            await rows.Undo(change.Stop);
        }
        catch (PostgresException inTheWay) when (inTheWay.SqlState is PostgresErrorCodes.ExclusionViolation or PostgresErrorCodes.ForeignKeyViolation)
        {
            return new Refusal("", $"{changes[0].Sentence} It can't be taken back alone: " +
                $"{(inTheWay.SqlState == PostgresErrorCodes.ExclusionViolation ? "another change has its place" : "something else in the draft uses it")}. " +
                    "Take that back too.");
        }
        var before = RulebookChecks.Errors(stored.Book).Select(e => e.Message).ToHashSet();
        if (RulebookChecks.Errors((await change.Book()).Book).FirstOrDefault(e => !before.Contains(e.Message)) is { } error)
            return new Refusal("", $"{changes[0].Sentence} It can't be taken back alone: {error.Message} Take that back too.");
        await rows.ForgetLabels(change);
        await change.Log("draft", 0, changes.Count == 1 ? $"Taken back: {changes[0].Sentence}"
            : $"{changes.Count} changes taken back, first: {changes[0].Sentence}", null, changes.Select(c => c.Sentence).Take(500));
        return null;
    }

    /// <summary>Makes the draft say what an earlier edition said. Accounts, groups and members that came later stay.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who brings it back.</param>
    /// <param name="edition">A released edition.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> BringBack(int company, int user, int edition, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var (released, stored) = (await change.InForce(), await change.Book());
            if (edition < 1 || edition >= change.Edition)
                return new Refusal("", $"There is no released edition {edition}. Choose one of the list.");
            if (RulebookDifference.Between(released.Book, stored.Book).Count > 0)
                return new Refusal("", $"Draft {change.Edition} has changes of its own. Release or discard them, then bring edition {edition} back.");
            foreach (var table in SettingTables.All)
                await BringBack(change, table, edition);
            var back = await change.Book();
            if (RulebookChecks.Errors(back.Book) is [var error, ..])
                return new Refusal("", $"Edition {edition} can't be brought back as it was: {error.Message}");
            if (RulebookDifference.Between(released.Book, back.Book).Count == 0)
                return new Refusal("", $"Edition {edition} is the same as the edition in force, so there is nothing to bring back.");
            await change.Log("draft", 0, $"Edition {edition} brought back as draft {change.Edition}.", null, null);
            return null;
        }, stop);

    static async Task BringBack(DraftChange change, SettingTable table, int edition)
    {
        // A thing that came later has no state to go back to; rules, tax rules and ladders simply were not there.
        var stays = table.HasLabel ? $"and exists (select 1 from {table.Name} e where e.company_id = t.company_id and e.{table.Subject} = t.{table.Subject} " +
            "and e.editions @> $3)" : "";
        await change.Command($"update {table.Name} t set retired_in = $2 where company_id = $1 and editions @> $2 and not editions @> $3 {stays}",
            change.Company, change.Edition, edition).Run(change.Stop);
        string[] all = ["company_id", .. table.HasLabel ? [table.Subject] : Array.Empty<string>(), .. table.Columns];
        var columns = string.Join(", ", all);
        await change.Command($"insert into {table.Name} ({columns}, introduced_in) select {columns}, $2 from {table.Name} where company_id = $1 and editions " +
            "@> $3 and not editions @> $2 order by id", change.Company, change.Edition, edition).Run(change.Stop);
    }
}
