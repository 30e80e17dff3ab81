using System.Globalization;
using System.Text;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Charts;
using Assignum.Formats.Sheets;
using Assignum.Storage.Charts;
using Assignum.Storage.Companies;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Bench;

/// <summary>A chart of 20,000 accounts from a CSV file into the draft, reading, mapping and planning included, against a bare COPY of the same rows.</summary>
static class ChartImports
{
    internal static async Task Run()
    {
        await using var database = await BenchDatabase.Make(new Rulebook { Company = new Company("B", "Bench", "EUR", new CompanyOptions()), Accounts = [.. BenchChart.Accounts()] });
        await using var connection = new NpgsqlConnection(database.Owner);
        await connection.OpenAsync();
        var bare = await BareCopy.Of(connection, "account", "account_setting");
        var file = Encoding.UTF8.GetBytes("Konto;Bezeichnung;Kontoart;Zeilenart;Summenkonto\n" + string.Concat(BenchChart.Accounts().Select(a => $"{a.Number};{a.Name};{a.Class};{(a.Kind == AccountKind.Posting ? "K" : "Ü")};{a.Parent}\n")));
        var (companies, imports) = (new CompanyStore(database.Source), new ChartImportStore(new Draft(database.Source, new RulebookStore(database.Source))));
        var run = 0;
        var seconds = await Ratio.PrintAsync($"chart: import of {BenchChart.Count} accounts", "seconds", Import, bare.Copy);
        Ratio.Say($"chart: import of {BenchChart.Count} accounts takes {seconds:0.0} s");

        async Task Import()
        {
            var company = await companies.Open("I" + (run++).ToString(CultureInfo.InvariantCulture), "Import", "EUR", default);
            var sheets = SheetFile.Read(file).Sheets;
            var mapping = MappingProposal.For(sheets);
            var rows = ChartSheet.Rows(sheets[0], mapping);
            var done = await imports.Import(company.Id, null, chart => ChartImport.Plan(rows, chart, mapping.Placing, mapping.KindsGiven), wholeOrNothing: true, (_, _) => Task.CompletedTask, default);
            if (done.Refusal is { } refusal)
                throw new InvalidOperationException(refusal.Message);
        }
    }
}

/// <summary>A chart of 20,000 accounts in three levels.</summary>
static class BenchChart
{
    const int Tops = 8, Groups = 50, Leaves = 49;

    internal const int Count = Tops * (1 + (Groups * (1 + Leaves)));

    internal static IEnumerable<Account> Accounts()
    {
        for (var top = 1; top <= Tops; top++)
        {
            var accountClass = (AccountClass)(top - 1);
            yield return new Account { Number = $"{top}00000", Name = $"Class {top}", Class = accountClass, Kind = AccountKind.Heading };
            for (var group = 1; group <= Groups; group++)
            {
                yield return new Account { Number = $"{top}{group:00}000", Name = $"Group {top}-{group}", Class = accountClass, Kind = AccountKind.Heading, Parent = $"{top}00000" };
                for (var leaf = 1; leaf <= Leaves; leaf++)
                    yield return new Account { Number = $"{top}{group:00}{leaf:000}", Name = $"Account {top}-{group}-{leaf}", Class = accountClass, Parent = $"{top}{group:00}000" };
            }
        }
    }
}
