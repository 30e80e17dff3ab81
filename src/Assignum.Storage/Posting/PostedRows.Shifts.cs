using Assignum.Core.Posting;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <content>What a standing transfer moves stands on its new account.</content>
sealed partial class PostedRows
{
    // A standing transfer is alone in its batch.
    async Task CarryShifts(NpgsqlConnection connection, CancellationToken stop)
    {
        if (events is not [var transfer, ..] || transfer.Landed.Happened.TypeName != StandingTransfer.Name)
            return;
        var mover = numbers[transfer.Landed].EventId;
        foreach (var reversal in entries.Select(e => e.Reversal).OfType<Reversal>())
            await connection.Command("select shift_back($1, $2, $3)", company, reversal.Event, mover).Run(stop);
        if (transfer is { Fate: PostingFate.Landed, Landed: { Happened: StandingTransfer { Withdrawn: false } moved, Landed: { } landed } }
            && StandingStore.KeptItemByItem.Contains(moved.Purpose)
            && Labels.Account(moved.From) is { } from)
            await StandingShifts.Carry(connection, company, mover, moved.Purpose, (await StandingMoves.Read(connection, company, stop)).MergedInto(from),
                Shifted(moved, landed, from), stop);
    }

    List<ShiftedLine> Shifted(StandingTransfer moved, Landed landed, int from) =>
        [.. landed.Rows.Where(row => row.Context.Line is not null && Labels.Account(row.Account.Number) != from)
            .Select(row => ShiftedOf(moved, row.Context.Line!.Value, Labels.Account(row.Account.Number)!.Value)).DistinctBy(line => line with { Line = 0 })];

    ShiftedLine ShiftedOf(StandingTransfer moved, int place, int to)
    {
        var line = moved.Lines[place];
        return new(place, to, Labels.IdOf("party", line.Party), Labels.IdOf("item", line.Item), Labels.IdOf("location", line.Place.Location ?? moved.Location),
            Core.Fold.Of(line.Currency ?? book.Stored.Book.Company.Currency));
    }
}
