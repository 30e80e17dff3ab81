using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Events;
using Assignum.Formats.Rulebooks;
using Assignum.Storage.Companies;
using Assignum.Storage.People;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Identity;

namespace Assignum.Web.Demo;

/// <summary>Makes the demo: the companies of the group, and of them Quillmoss Nurseries with its people, its rulebook, an autumn of sales or thirteen months of
/// everything, and a draft with two changes.</summary>
sealed class DemoCompany(CompanyStore companies, PersonStore people, RulebookImport import, EditionStore editions, RulebookStore rulebooks, RuleStore rules,
    DemoCharts charts, PostingStore posting, IPasswordHasher<Person> hasher, TimeProvider clock)
{
    /// <summary>Password of all demo people.</summary>
    internal const string Password = "seedling-2026";

    // The year of the autumn.
    const int AutumnOf = 2026;

    // Rulebook, release, and the two rules of the draft, which come last.
    const int DraftChanges = 4;

    static readonly (string Name, string ShownAs, Role Role)[] Staff =
        [("ines", "Ines", Role.Preparer), ("tomas", "Tomas", Role.Approver), ("vera", "Vera", Role.Viewer), ("adam", "Adam", Role.Administrator)];

    /// <summary>Makes it from the files of a folder, unless it is there.</summary>
    /// <param name="folder">The companies' charts, and what the nurseries sold in autumn.</param>
    /// <param name="year">A folder with thirteen months in place of the autumn, or null. They come in afterwards, by <see cref="DemoYear"/>.</param>
    /// <param name="stop">Cancels.</param>
    internal async Task Make(string folder, string? year, CancellationToken stop)
    {
        if (await companies.Find("QN", stop) is { } known)
        {
            if (year is not null)
                return;
            if ((await rulebooks.StateOf(known.Id, stop)).InDraft < DraftChanges)
                throw new InvalidOperationException("The demo was not made whole the last time. Start over with ./run --fresh.");
            return;
        }
        var book = RulebookReader.Read(await File.ReadAllBytesAsync(year is null ? Path.Combine(folder, "qn", "rulebook.json")
            : Path.Combine(year, "1", "rulebook.json"), stop)).Book
            ?? throw new InvalidOperationException("The demo's rulebook can't be read.");
        var company = await companies.Open(book.Company.Code, book.Company.Name, book.Company.Currency, stop);
        var staff = await Hire(company.Id, stop);
        var middle = year is null ? AutumnOf : clock.Today().Year;
        for (var fiscal = middle - 1; fiscal <= middle + 1; fiscal++)
            await companies.OpenFiscalYear(company.Id, new DateOnly(fiscal, 1, 1), new DateOnly(fiscal, 12, 31), stop);

        Insist(await import.IntoEmpty(company.Id, staff["ines"], book, stop));
        Insist(await editions.Release(company.Id, staff["tomas"], await rulebooks.StateOf(company.Id, stop), "First settings of the nurseries.", stop));
        await charts.OpenOthers(folder, [.. Staff.Select(s => (staff[s.Name], s.Role))], stop);
        await charts.Describe(company.Id, staff["ines"], folder, stop);
        if (year is not null)
            return;
        await Post(company.Id, staff["ines"], Path.Combine(folder, "qn", "events.ndjson"), stop);
        await MakeDraft(company.Id, staff["ines"], stop);
    }

    /// <summary>The draft with its two changes.</summary>
    internal async Task MakeDraft(int company, int user, CancellationToken stop)
    {
        Insist(await rules.Add(company, user,
            New(Purpose.Revenue, "4210", new FactValue(Fact.ItemGroup, "PACKING"), "Plant boxes go with the delivery."), stop));
        Insist(await rules.Add(company, user,
            New(Purpose.CostOfSales, "5060", [new(Fact.ItemGroup, "SAPLINGS"), new(Fact.PartyGroup, "COUNCIL")], null), stop));
    }

    async Task<Dictionary<string, int>> Hire(int company, CancellationToken stop)
    {
        var ids = new Dictionary<string, int>();
        foreach (var (name, shownAs, role) in Staff)
        {
            ids[name] = await people.Add(name, shownAs, hasher.HashPassword(null!, Password), stop);
            await people.Grant(company, ids[name], role, null, stop);
        }
        return ids;
    }

    /// <summary>Posts the events of a file; those that are there already are known again.</summary>
    internal async Task Post(int company, int user, string file, CancellationToken stop)
    {
        var reader = new EventReader();
        var lines = await File.ReadAllLinesAsync(file, stop);
        var events = lines.Select((line, i) =>
            AsSent(reader.Read(System.Text.Encoding.UTF8.GetBytes(line), i + 1).Event
            ?? throw new InvalidOperationException($"Line {i + 1} of {file} is no event."), line));
        await posting.Post(company, user, [.. events], stop);
    }

    // The connection that sent it, as its stand-in would.
    static PostableEvent AsSent(BusinessEvent happened, string received) =>
        Sending.Postable.Of(happened, happened.Connection ?? PostableEvent.Own, received);

    static Rule New(Purpose purpose, string account, FactValue when, string? note) => New(purpose, account, [when], note);

    static Rule New(Purpose purpose, string account, IReadOnlyList<FactValue> when, string? note) =>
        new() { Id = "", Purpose = purpose, Account = account, When = when, Note = note };

    internal static void Insist(Refusal? refusal)
    {
        if (refusal is not null)
            throw new InvalidOperationException("The demo can't be made: " + refusal.Message);
    }
}
