using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Events;
using Assignum.Formats.Rulebooks;
using Assignum.Storage.Charts;
using Assignum.Storage.Companies;
using Assignum.Storage.HeldEvents;
using Assignum.Storage.Jobs;
using Assignum.Storage.Journal;
using Assignum.Storage.People;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Testing;
using Npgsql;

namespace Assignum.Storage.Tests;

/// <summary>A database with the demo's company, its rulebook released as edition 2, and the year 2026 open.</summary>
public sealed class Nursery : IAsyncLifetime
{
    FreshDatabase database = null!;

    internal NpgsqlDataSource Source { get; private set; } = null!;
    internal string Owner => database.Owner;
    internal int Company { get; private set; }
    internal int User { get; private set; }
    internal static Rulebook Book { get; } = RulebookReader.Read(File.ReadAllBytes("files/rulebook.json")).Book!;

    internal CompanyStore Companies => new(Source);
    internal PeriodStore Periods => new(Source);
    internal HeldStore Held => new(Source);
    internal YearEndStore YearEnds => new(Source, Balances, Rulebooks, Posting, Text);
    internal Retrying Retrying => new(Source, Posting, Text);
    static EventText Text { get; } = new(EventWriter.Write, EventReader.Kept);
    internal PersonStore People => new(Source);
    internal SessionStore Sessions => new(Source);
    internal RulebookStore Rulebooks { get; private set; } = null!;
    internal Draft Draft => new(Source, Rulebooks);
    internal EditionStore Editions => new(Source, Rulebooks);
    internal DraftStore Drafts => new(Draft);
    internal RuleCells Cells => new(Draft);
    internal LadderStore Ladders => new(Draft);
    internal GroupShapes Shapes => new(Draft);
    internal RulebookIntoDraft IntoDraft => new(Draft);
    internal ChartStore Chart { get; private set; } = null!;
    internal AccountStore Accounts => new(Draft, TimeProvider.System);
    internal ChartImportStore Imports => new(Draft);
    internal NumberingStore Numbering => new(Draft);
    internal DimensionStore Dimensions => new(Source, Draft);
    internal MergeStore Merges => new(Source, Draft);
    internal BalanceStore Balances { get; private set; } = null!;
    internal JobStore Jobs => new(Source);
    internal GroupStore Groups => new(Draft, Source);
    internal RuleStore Rules => new(Source, Draft);
    internal TaxStore Taxes => new(Draft);
    internal JournalStore Journal => new(Source);
    internal PostingStore Posting => new(Source, new RulebookCache(Rulebooks), Text);

    public async Task InitializeAsync()
    {
        database = await FreshDatabase.Make();
        Database.Migrate(database.Owner);
        Source = Database.Open(database.Owner);
        (Chart, Balances, Rulebooks) = (new ChartStore(Source), new BalanceStore(Source), new RulebookStore(Source));
        User = await People.Add("ines", "Ines", "hash", default);
        Company = await OpenCompany("QN");
    }

    /// <summary>Another company with the same rulebook.</summary>
    internal async Task<int> OpenCompany(string code)
    {
        var company = (await Companies.Open(code, "Quillmoss " + code, "EUR", default)).Id;
        await Companies.OpenFiscalYear(company, new DateOnly(2026, 1, 1), new DateOnly(2026, 12, 31), default);
        Assert.Null(await new RulebookImport(Draft).IntoEmpty(company, User, Book, default));
        Assert.Null(await Release(company));
        return company;
    }

    /// <summary>Id of a period of 2026, by its number; 13 takes adjustments.</summary>
    internal Task<int> PeriodOf(int company, int number) => Ask<int>($"select id from period where company_id = {company} and number = {number}");

    internal async Task<Refusal?> Release(int? company = null) => await Editions.Release(company ?? Company, User, await Rulebooks.StateOf(company
        ?? Company, default), "", default);

    internal async Task<Rulebook> Edition(int? edition = null) => (await Rulebooks.Load(Company, edition, default)).Book;

    internal async Task<Rulebook> DraftBook() => await Edition((await Rulebooks.StateOf(Company, default)).Draft);

    /// <summary>Says in the draft which tax code holds where two groups meet, whatever it says now.</summary>
    internal async Task SetTax(string party, string item, string code)
    {
        var own = (await DraftBook()).TaxRules.FirstOrDefault(r => r.TaxArea is null && r.PartyTaxGroup == party && r.ItemTaxGroup == item);
        Assert.Empty(await Taxes.Set(Company, User, [(new Core.Taxes.TaxRule { PartyTaxGroup = party, ItemTaxGroup = item, TaxCode = code }, own?.TaxCode)],
            new DateOnly(2026, 3, 14), default));
    }

    internal static PostableEvent Event(string json, string? source = null)
    {
        var read = new EventReader().Read(System.Text.Encoding.UTF8.GetBytes(json), 1);
        var happened = read.Event ?? throw new Xunit.Sdk.XunitException(read.Fault!.Message);
        return new PostableEvent(happened, source ?? PostableEvent.Own, json, EventWriter.Write(happened), CanonicalJson.Digest(json));
    }

    internal static PostableEvent Invoice(string id, decimal price = 2.5m, string more = "") =>
        Event(FormattableString
            .Invariant($$"""{"id":"{{id}}","type":"sales-invoice","date":"2026-03-14","party":"C-10",{{more}}"lines":[{"item":"SEED-01","quantity":10,"price":{{price}},"shipped":true}]}"""));

    internal async Task<Posted> Post(PostableEvent posted) => Assert.Single(await Posting.Post(Company, User, [posted], default));

    internal async Task<IReadOnlyList<string>> AskAll(string sql)
    {
        await using var command = Source.CreateCommand(sql);
        await using var rows = await command.ExecuteReaderAsync();
        var all = new List<string>();
        while (await rows.ReadAsync())
            all.Add(rows.GetString(0));
        return all;
    }

    internal async Task<T> Ask<T>(string sql)
    {
        await using var command = Source.CreateCommand(sql);
        return (T)(await command.ExecuteScalarAsync())!;
    }

    public async Task DisposeAsync()
    {
        await Source.DisposeAsync();
        await database.DisposeAsync();
    }
}
