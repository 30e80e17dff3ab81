using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Charts;

/// <summary>What an import did.</summary>
/// <param name="Plan">Every row with what became of it.</param>
/// <param name="Refusal">Why nothing was taken in; null when it was.</param>
public sealed record ChartImported(ChartPlan Plan, Refusal? Refusal);

/// <summary>Carries out imports of charts: all rows that are not refused, in one act.</summary>
public sealed class ChartImportStore(Draft draft)
{
    const int Batch = 1000;

    /// <summary>Imports.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who imports.</param>
    /// <param name="plan">Plans the rows against the chart as it is at that moment.</param>
    /// <param name="wholeOrNothing">With a refused row nothing is taken in.</param>
    /// <param name="progress">Is told how many rows are written, of how many; may cancel by throwing <see cref="OperationCanceledException"/>.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<ChartImported> Import(int company, int? user, Func<ChartBook, ChartPlan> plan, bool wholeOrNothing, Func<int, int, Task> progress,
        CancellationToken stop)
    {
        ChartPlan? planned = null;
        var refusal = await draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            var chart = await ChartReading.Read(change.Connection, company, stored, stop);
            planned = plan(chart);
            var refused = planned.Count(ChartRowFate.Refused);
            if (wholeOrNothing && refused > 0)
                return new Refusal("file", $"{refused} {(refused == 1 ? "row is" : "rows are")} refused, so nothing was imported. Fix " +
                    $"{(refused == 1 ? "it" : "them")} in the file, or import all but the refused.");
            var rows = planned.ParentsFirst();
            if (rows.Count == 0)
                return new Refusal("file", refused > 0 ? "Every row that would change something is refused, so nothing was imported."
                    : "The chart has all of it already; nothing would change.");
            var used = rows.Select(r => r.Account!).ToList();
            await Make(change, stored.Labels, [.. planned.TaxCodes.Where(c => used.Exists(a => Fold.Same(a.TaxCode, c)))],
                [.. planned.ItemTaxGroups.Where(g => used.Exists(a => Fold.Same(a.ItemTaxGroup, g)))]);
            await Write(change, (await change.Book()).Labels, chart, rows, progress);
            await change.Log("chart", 0, $"Chart imported: {planned.Count(ChartRowFate.New)} accounts new, {planned.Count(ChartRowFate.Changed)} changed, " +
                $"{refused} refused.", null, null);
            return null;
        }, stop);
        return new(planned!, refusal);
    }

    // Codes without rates and groups without meetings: the accounts keep what the file says, and the checks say what is missing.
    static async Task Make(DraftChange change, Labels labels, IReadOnlyList<string> taxCodes, IReadOnlyList<string> itemTaxGroups)
    {
        await TaxStore.AddWithoutRates(change, labels, taxCodes);
        foreach (var code in itemTaxGroups)
            await GroupStore.SetGroup(change, labels, "item-tax", await GroupStore.InsertGroup(change, "item-tax", new(code, code, null)),
                new(code, code, null));
        if (taxCodes.Count + itemTaxGroups.Count > 0)
            await change.Log("chart", 0, "Made with the chart: " +
                $"{string.Join(", ", taxCodes.Select(c => "tax code " + c).Concat(itemTaxGroups.Select(g => "item tax group " + g)))}.", null, null);
    }

    static async Task Write(DraftChange change, Labels labels, ChartBook chart, IReadOnlyList<PlannedRow> rows, Func<int, int, Task> progress)
    {
        var written = 0;
        foreach (var batch in rows.Where(r => r.Fate == ChartRowFate.New).Chunk(Batch))
        {
            var ids = await AccountRows.Insert(change, labels, [.. batch.Select(r => r.Account!)]);
            await Describe(change, chart, [.. ids.Zip(batch)]);
            await progress(written += batch.Length, rows.Count);
        }
        foreach (var batch in rows.Where(r => r.Fate == ChartRowFate.Changed).Chunk(Batch))
        {
            var changed = batch.Select(r => (Id: labels.Account(r.Account!.Number)!.Value, Was: chart.Tree.Find(r.Account.Number)!, Now: r.Account)).ToList();
            await AccountRows.Relabel(change, labels, [.. changed.Where(c => c.Was.Name != c.Now.Name || !Fold.Same(c.Was.Parent, c.Now.Parent))]);
            await SettingTables.Accounts.Reset(change, labels, [.. changed.Where(c => !c.Was.SameSetting(c.Now)).Select(c => (c.Id, c.Now))]);
            await Describe(change, chart, [.. changed.Select(c => c.Id).Zip(batch)]);
            await progress(written += batch.Length, rows.Count);
        }
    }

    static Task Describe(DraftChange change, ChartBook chart, List<(int Id, PlannedRow Row)> rows) =>
        AccountRows.Describe(change, [.. rows.Where(r => r.Row.Described is not (null, null)).Select(r =>
            (r.Id, chart.DescriptionOf(r.Row.Row.Number) is var was
            ? was with { ShortName = r.Row.Described.ShortName ?? was.ShortName, Text = r.Row.Described.Text ?? was.Text } : was))]);
}
