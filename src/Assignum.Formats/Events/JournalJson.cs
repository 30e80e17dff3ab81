using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Formats.Events;

/// <summary>Journals by hand, openings, the year's end and corrections, in files.</summary>
static class JournalJson
{
    internal static IEnumerable<EventFormat> All =>
    [
        TableJson.Of<ManualJournal>(ManualJournal.Name, (header, values) => new(header) { Lines = values.List<JournalLine>("lines") }, (json, journal) =>
        {
            json.Adjustment(journal);
            Lines(json, journal.Lines);
        }, Line),
        TableJson.Of<OpeningBalance>(OpeningBalance.Name, (header, values) => new(header) { Lines = values.List<JournalLine>("lines") },
            (json, opening) => Lines(json, opening.Lines), Line),
        TableJson.Of<OpeningItem>(OpeningItem.Name, (header, values) => new(header, values.Word<OpeningKind>("kind")!.Value)
        {
            Amount = values.Amount("amount"), Item = values.Text("item"), Quantity = values.Amount("quantity"), UnitCost = values.Amount("unitCost"),
            Asset = values.Text("asset"), Cost = values.Amount("cost"), Billed = values.Amount("billed"), Accrued = values.Amount("accrued"),
            Accumulated = values.Amount("accumulated"),
        }, Write),
        TableJson.Of<YearEnd>(YearEnd.Name, (header, values) => new(header, values.Text("fiscalYear")!) { Lines = values.List<ClosedBalance>("lines") }, Write,
            (_, values) => new ClosedBalance(values.Text("account")!, values.Amount("amount")!.Value, values.Dimensions("dimensions") ?? Dimensions.None)),
        TableJson.Of<Revaluation>(Revaluation.Name, (header, values) => new(header) { Lines = values.List<RevaluedLine>("lines") }, Write, (_, values) =>
            new RevaluedLine(values.Text("account")!, values.Amount("amount")!.Value)
            {
                Party = values.Text("party"), MoneyAccount = values.Text("moneyAccount"), Currency = values.Text("currency"),
            }),
        TableJson.Of<StandingTransfer>(StandingTransfer.Name, (header, values) => new(header, Purpose.Find(values.Text("purpose")!)!, values.Text("from")!)
        {
            Lines = values.List<StandingLine>("lines"),
        }, Write, Standing),
        TableJson.Of<BalanceStatement>(BalanceStatement.Name, (header, values) => new(header)
        {
            Lines = values.List<StatedBalance>("lines"), Numbers = values.List<StatedNumbers>("numbers"),
        }, Write, Stated),
    ];

    static JournalLine Line(string list, FieldValues values) => new()
    {
        Account = values.Text("account"), Party = values.Text("party"), Of = values.Word<PartySide>("of"), MoneyAccount = values.Text("moneyAccount"),
        Debit = values.Amount("debit"), Credit = values.Amount("credit"), Place = values.Place(),
    };

    static StandingLine Standing(string list, FieldValues values) => new()
    {
        Amount = values.Amount("amount")!.Value, Party = values.Text("party"), Item = values.Text("item"), Connection = values.Text("connection"),
        Method = values.Text("method"), Currency = values.Text("currency"), DocumentAmount = values.Amount("documentAmount"), Place = values.Place(),
    };

    static object Stated(string list, FieldValues values) => list == "numbers"
        ? new StatedNumbers(values.Text("series")!, values.Text("from")!, values.Text("to")!, values.Whole("count")!.Value)
        : new StatedBalance(values.Word<Subledger>("subledger")!.Value, values.Text("member")!, values.Text("currency"), values.Amount("amount"),
            values.Amount("quantity"));

    static void Lines(Utf8JsonWriter json, IReadOnlyList<JournalLine> lines) => json.List("lines", lines, line =>
    {
        json.Text("account", line.Account);
        json.Text("party", line.Party);
        json.Text("of", line.Of is { } side ? Words<PartySide>.Of(side) : null);
        json.Text("moneyAccount", line.MoneyAccount);
        json.Amount("debit", line.Debit);
        json.Amount("credit", line.Credit);
        json.Place(line.Place);
    });

    static void Write(Utf8JsonWriter json, OpeningItem opening)
    {
        json.Text("kind", Words<OpeningKind>.Of(opening.Kind));
        json.Amount("amount", opening.Amount);
        json.Text("item", opening.Item);
        json.Amount("quantity", opening.Quantity);
        json.Amount("unitCost", opening.UnitCost);
        json.Text("asset", opening.Asset);
        json.Amount("cost", opening.Cost);
        json.Amount("billed", opening.Billed);
        json.Amount("accrued", opening.Accrued);
        json.Amount("accumulated", opening.Accumulated);
    }

    static void Write(Utf8JsonWriter json, YearEnd end)
    {
        json.Adjustment(end);
        json.Text("fiscalYear", end.FiscalYear);
        json.List("lines", end.Lines, line =>
        {
            json.Text("account", line.Account);
            json.Amount("amount", line.Amount);
            json.Texts("dimensions", line.Dimensions.All);
        });
    }

    static void Write(Utf8JsonWriter json, Revaluation revaluation)
    {
        json.Adjustment(revaluation);
        json.List("lines", revaluation.Lines, line =>
        {
            json.Text("account", line.Account);
            json.Text("party", line.Party);
            json.Text("moneyAccount", line.MoneyAccount);
            json.Text("currency", line.Currency);
            json.Amount("amount", line.Amount);
        });
    }

    static void Write(Utf8JsonWriter json, StandingTransfer transfer)
    {
        json.Text("purpose", transfer.Purpose.Name);
        json.Text("from", transfer.From);
        json.List("lines", transfer.Lines, line =>
        {
            json.Amount("amount", line.Amount);
            json.Text("party", line.Party);
            json.Text("item", line.Item);
            json.Text("connection", line.Connection);
            json.Text("method", line.Method);
            json.Text("currency", line.Currency);
            json.Amount("documentAmount", line.DocumentAmount);
            json.Place(line.Place);
        });
    }

    static void Write(Utf8JsonWriter json, BalanceStatement statement)
    {
        if (statement.Lines.Count > 0)
            json.List("lines", statement.Lines, line =>
            {
                json.Text("subledger", Words<Subledger>.Of(line.Subledger));
                json.Text("member", line.Member);
                json.Text("currency", line.Currency);
                json.Amount("amount", line.Amount);
                json.Amount("quantity", line.Quantity);
            });
        if (statement.Numbers.Count > 0)
            json.List("numbers", statement.Numbers, range =>
            {
                json.Text("series", range.Series);
                json.Text("from", range.From);
                json.Text("to", range.To);
                json.WriteNumber("count", range.Count);
            });
    }
}
