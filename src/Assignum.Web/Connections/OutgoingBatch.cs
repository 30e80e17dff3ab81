using Assignum.Core;
using Assignum.Storage.Connections;

namespace Assignum.Web.Connections;

/// <summary>A batch as it goes out: to a file, over the API, or to the other system.</summary>
sealed record OutgoingBatch(string Format, string From, int Number, string Form, int Entries, decimal Debit, IReadOnlyList<OutgoingLine> Lines)
{
    internal const string FormatName = "assignum-batch/1";

    internal static OutgoingBatch Of(string company, BatchRow batch, IEnumerable<BatchLine> lines) => new(FormatName, company, batch.Number,
        Words<BatchForm>.Of(batch.Form), batch.Entries,
        batch.Debit, [.. lines.Select(l => new OutgoingLine(l.Line, l.Entry, l.Date, l.Account, l.Name, l.Amount, l.Text))]);
}

/// <summary>A line of a batch as it goes out.</summary>
sealed record OutgoingLine(int Line, long? Entry, DateOnly Date, string Account, string Name, decimal Amount, string? Text);
