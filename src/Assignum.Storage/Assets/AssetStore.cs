using Assignum.Core;
using Assignum.Core.Assets;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Assets;

/// <summary>A fixed asset in the books at the end of a day.</summary>
/// <param name="Asset">The asset.</param>
/// <param name="Moves">What has moved it, in the order of dates; later ones too.</param>
/// <param name="On">The day.</param>
public sealed record AssetBooks(Asset Asset, IReadOnlyList<AssetMove> Moves, DateOnly On)
{
    /// <summary>Its cost, company currency.</summary>
    public decimal Cost => Moves.Where(m => m.Date <= On).Sum(m => m.Cost);
    /// <summary>What has accumulated of depreciation.</summary>
    public decimal Accumulated => Moves.Where(m => m.Date <= On).Sum(m => m.Accumulated);
    /// <summary>What it is worth in the books.</summary>
    public decimal BookValue => Cost - Accumulated;
    /// <summary>The day it came; null: it has not come yet.</summary>
    public DateOnly? Came => Moves.Where(m => m.Cost > 0).Select(m => (DateOnly?)m.Date).Min();
    /// <summary>The last day that is depreciated; null: none is.</summary>
    public DateOnly? DepreciatedTo => Moves.Where(m => m.IsDepreciation && m.Date <= On).Select(m => (DateOnly?)m.Date).Max();
    /// <summary>It came and went.</summary>
    public bool IsGone => Came <= On && Cost == 0 && Accumulated == 0;
}

/// <summary>What moved a fixed asset.</summary>
/// <param name="Date">Posting date.</param>
/// <param name="Type">Type of the event.</param>
/// <param name="Document">What the document shows, else its id.</param>
/// <param name="Entry">Id of its entry; null: none.</param>
/// <param name="Number">Number of the entry.</param>
/// <param name="Cost">Change of its cost, company currency.</param>
/// <param name="Accumulated">Change of its accumulated depreciation; positive: more.</param>
/// <param name="Text">What is said of it.</param>
public sealed record AssetLine(DateOnly Date, string Type, string Document, long? Entry, long? Number, decimal Cost, decimal Accumulated, string Text);

/// <summary>The register of fixed assets, and their depreciation.</summary>
public sealed class AssetStore(NpgsqlDataSource source, PostingStore posting, EventText text)
{
    /// <summary>Every asset of a rulebook at the end of a day, those that have never come included.</summary>
    public async Task<IReadOnlyList<AssetBooks>> All(int company, StoredRulebook book, DateOnly on, CancellationToken stop)
    {
        var moves = (await source.Command("""
            with moved as (
                select m.asset_id, m.date, e.type, e.source, e.source_id, min(m.event_id) as first,
                    coalesce(sum(m.amount) filter (where m.part = 'cost'), 0) as cost,
                    coalesce(-sum(m.amount) filter (where m.part = 'depreciation'), 0) as accumulated
                from asset_movement m join event e on e.company_id = m.company_id and e.id = m.event_id
                where m.company_id = $1 group by m.asset_id, m.date, e.type, e.source, e.source_id)
            -- A depreciation that was taken back has depreciated no days.
            select asset_id, date, cost, accumulated,
                type = 'asset-depreciation' and sum(accumulated) over (partition by asset_id, source, source_id) <> 0
            from moved where cost <> 0 or accumulated <> 0 order by date, first
            """, company).List(row => (Asset: row.GetInt32(0), Move: new AssetMove(row.GetFieldValue<DateOnly>(1), Money.Plain(row.GetDecimal(2)),
                Money.Plain(row.GetDecimal(3)), row.GetBoolean(4))), stop)).ToLookup(m => m.Asset, m => m.Move);
        return [.. book.Book.Assets.Select(asset => new AssetBooks(asset, [.. moves[book.Labels.IdOf("asset", asset.Code) ?? 0]], on))];
    }

    /// <summary>What moved an asset, the latest first.</summary>
    public Task<List<AssetLine>> Lines(int company, int asset, CancellationToken stop) => source.Command("""
        select m.date, e.type, coalesce(e.number, e.source_id), m.entry_id, n.number, coalesce(sum(m.amount) filter (where m.part = 'cost'), 0),
            coalesce(-sum(m.amount) filter (where m.part = 'depreciation'), 0), coalesce(e.prepared ->> 'text', '')
        from asset_movement m join event e on e.company_id = m.company_id and e.id = m.event_id
        left join entry n on n.company_id = m.company_id and n.id = m.entry_id
        where m.company_id = $1 and m.asset_id = $2 group by m.date, e.id, e.type, e.number, e.source_id, m.entry_id, n.number, e.prepared
        order by m.date desc, e.id desc, m.entry_id desc
        """, company, asset).List(row => new AssetLine(row.GetFieldValue<DateOnly>(0), row.GetString(1), row.GetString(2), row.LongOrNull(3), row.LongOrNull(4),
            Money.Plain(row.GetDecimal(5)), Money.Plain(row.GetDecimal(6)), row.GetString(7)), stop);

    /// <summary>First days of the fiscal years, in their order.</summary>
    Task<List<DateOnly>> Years(int company, CancellationToken stop) =>
        source.Command("select starts from fiscal_year where company_id = $1 order by starts", company).List(row => row.GetFieldValue<DateOnly>(0), stop);

    /// <summary>What every asset is to be depreciated by up to a day; assets that are not are left out.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="assets">The assets.</param>
    /// <param name="to">The day.</param>
    /// <param name="minorUnits">Minor units of the company's currency.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<IReadOnlyList<Depreciation>> Propose(int company, IReadOnlyList<AssetBooks> assets, DateOnly to, int minorUnits, CancellationToken stop)
    {
        var years = await Years(company, stop);
        return [.. assets.Select(a => Depreciation.Of(a.Asset, a.Moves, to, YearOf, minorUnits)).Where(d => d.WhyNot is not null || d.Amount != 0)];

        // Before the first fiscal year that is open, years are those of the calendar.
        DateOnly YearOf(DateOnly day) => years.FindLast(start => start <= day) is var found && found != default ? found : new(day.Year, 1, 1);
    }

    /// <summary>The event that depreciates assets up to a day; null where there is nothing to depreciate.</summary>
    public async Task<AssetDepreciation?> Made(int company, IReadOnlyList<Depreciation> proposed, DateOnly to, CancellationToken stop)
    {
        List<DepreciatedAsset> lines = [.. proposed.Where(d => d.Amount != 0).Select(d => new DepreciatedAsset(d.Asset.Code, d.Amount, LinePlace.None))];
        if (lines.Count == 0)
            return null;
        var id = FormattableString.Invariant($"DEPRECIATION-{to:yyyyMMdd}");
        return new()
        {
            Id = OwnIds.Free(await OwnIds.Earlier(source, company, id, stop), id), Date = to, Text = "Depreciation", Lines = lines,
        };
    }

    /// <summary>Posts a depreciation.</summary>
    /// <returns>Why it was not posted; null when it was, with its entry.</returns>
    public async Task<(string? WhyNot, long? Entry)> Post(int company, int user, AssetDepreciation made, CancellationToken stop)
    {
        var posted = (await posting.PostTogether(company, user, [PostableEvent.OfOwn(made, text)], stop))[0];
        return (posted.WhyNot, posted.EntryId);
    }
}
