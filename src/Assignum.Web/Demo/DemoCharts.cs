using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Formats.Charts;
using Assignum.Formats.Consolidating;
using Assignum.Formats.Rulebooks;
using Assignum.Formats.Sheets;
using Assignum.Storage.Charts;
using Assignum.Storage.Companies;
using Assignum.Storage.Consolidating;
using Assignum.Storage.People;
using Assignum.Storage.Settings;

namespace Assignum.Web.Demo;

/// <summary>Makes what belongs to the demo's charts: the landscapers and the group with theirs, and of the nurseries' chart the plan, dimensions, descriptions
/// and matches to the group's.</summary>
sealed class DemoCharts(CompanyStore companies, PersonStore people, ChartImportStore imports, EditionStore editions, RulebookStore rulebooks, ChartStore charts,
    AccountStore accounts, NumberingStore numbering, DimensionStore dimensions, RulebookImport rulebookImport, GroupChartStore groups)
{
    static readonly (string Code, string Name, string Folder)[] Others = [("QG", "Quillmoss Group", "qg"), ("QL", "Quillmoss Landscapes", "ql")];

    /// <summary>Opens the other companies with their charts, released.</summary>
    internal async Task OpenOthers(string demo, IReadOnlyList<(int Id, Role Role)> staff, CancellationToken stop)
    {
        foreach (var (code, name, folder) in Others)
        {
            var company = await companies.Open(code, name, "EUR", stop);
            foreach (var (id, role) in staff)
                await people.Grant(company.Id, id, role, null, stop);
            foreach (var year in new[] { 2025, 2026, 2027 })
                await companies.OpenFiscalYear(company.Id, new DateOnly(year, 1, 1), new DateOnly(year, 12, 31), stop);
            var file = Path.Combine(demo, folder, "rulebook.json");
            Insist(File.Exists(file) ? await ImportRulebook(company.Id, staff[0].Id, file, stop)
                : await ImportChart(company.Id, staff[0].Id, demo, folder, stop));
            Insist(await editions.Release(company.Id, staff[1].Id, await rulebooks.StateOf(company.Id, stop), "First settings.", stop));
        }
        if (await companies.Find("QG", stop) is { } group && await companies.Find("QL", stop) is { } landscapes)
        {
            await companies.SetGroup(landscapes.Id, staff[0].Id, group.Id, stop);
            var (rows, fault) = GroupMapping.Read(await File.ReadAllBytesAsync(Path.Combine(demo, "ql", "group.csv"), stop));
            Insist(fault is null ? null : new Refusal("", fault));
            Insist(await groups.Decide(landscapes.Id, staff[0].Id, [.. rows.Select(r => new GroupDecision(r.Account, r.Match))], stop));
        }
    }

    async Task<Refusal?> ImportRulebook(int company, int user, string file, CancellationToken stop) =>
        await rulebookImport.IntoEmpty(company, user, RulebookReader.Read(await File.ReadAllBytesAsync(file, stop)).Book
            ?? throw new InvalidOperationException($"{file} can't be read."), stop);

    async Task<Refusal?> ImportChart(int company, int user, string demo, string folder, CancellationToken stop)
    {
        var sheet = SheetFile.Read(await File.ReadAllBytesAsync(Path.Combine(demo, folder, "chart.csv"), stop), stop).Sheets[0];
        var rows = ChartSheet.Rows(sheet, MappingProposal.For(sheet));
        return (await imports.Import(company, user, chart => ChartImport.Plan(rows, chart), wholeOrNothing: true, (_, _) => Task.CompletedTask, stop)).Refusal;
    }

    /// <summary>Says what there is to say of the nurseries' chart.</summary>
    internal async Task Describe(int company, int user, string demo, CancellationToken stop)
    {
        await companies.SetGroup(company, user, (await companies.Find("QG", stop))!.Id, stop);
        Insist(await dimensions.Define(company, user, "CC", "Cost centre",
            [("100", "Glasshouse"), ("200", "Landscape crew"), ("300", "Garden shop"), ("400", "Web and trade"), ("900", "Office")], stop));
        Insist(await numbering.Change(company, user, null, Plan, stop));
        var stored = await rulebooks.Load(company, (await rulebooks.StateOf(company, stop)).Draft, stop);
        foreach (var row in SheetFile.Read(await File.ReadAllBytesAsync(Path.Combine(demo, "qn", "descriptions.csv"), stop), stop).Sheets[0].Rows.Skip(1))
        {
            var account = stored.Book.Accounts.Single(a => a.Number == row[0]);
            var id = stored.Labels.Account(account.Number)!.Value;
            Insist(await accounts.Change(company, user, id, await charts.LastChangeOf(company, id, stop), account, new AccountDescription
            {
                ShortName = Empty(row[1]), Text = Empty(row[2]), Side = Words<UsualSide>.TryParse(row[3], out var side) ? side : null,
                    GroupAccount = Empty(row[4]),
                Activity = ActivityOf(row[0]), Reporting = [new("annual accounts", row[4])],
            }, null, stop));
        }
    }

    static NumberingPlan Plan => new()
    {
        Pattern = "####",
        Classes =
        [
            new("asset", "1000", "1999"), new("liability", "2000", "2999"), new("equity", "3000", "3999"), new("income", "4000", "4999"),
                new("cost-of-sales", "5000", "5999"),
            new("expense", "6000", "6999"), new("other-income", "7000", "7999"), new("other-expense", "8000", "8999"),
        ],
        Headings = [new("60", "6000", "6099"), new("61", "6100", "6199"), new("62", "6200", "6299"), new("63", "6300", "6399"), new("64", "6400", "6499")],
    };

    static string? Empty(string text) => text.Length == 0 ? null : text;

    static void Insist(Refusal? refusal)
    {
        if (refusal is not null)
            throw new InvalidOperationException("The demo's charts can't be made: " + refusal.Message);
    }

    // Landscape work, and the growing of plants.
    static string? ActivityOf(string number)
    {
        if (number is "4110" or "4120")
            return "81";
        return number.StartsWith("40", StringComparison.Ordinal) ? "01" : null;
    }
}
