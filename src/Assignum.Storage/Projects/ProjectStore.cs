using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Projects;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Projects;

/// <summary>What is known of a project at the end of a day: what belongs to no task, then its tasks in their order.</summary>
/// <param name="Project">The project.</param>
/// <param name="Parts">What stands of each.</param>
/// <param name="FinishedOn">The day it was finished, on or before that day; null: it goes on.</param>
public sealed record ProjectBooks(Project Project, IReadOnlyList<ProjectStanding> Parts, DateOnly? FinishedOn)
{
    /// <summary>All of it.</summary>
    public ProjectStanding Whole => ProjectStanding.Sum(Parts);
    /// <summary>Cost that counted as it arose, of a project recognised at invoice; company currency.</summary>
    public decimal CostAtOnce { get; init; }
    /// <summary>Revenue that counted as it was invoiced, of a project recognised at invoice.</summary>
    public decimal RevenueAtOnce { get; init; }

    /// <summary>What is to be recognised of it, as a whole or part by part; nothing of a project at invoice, or without a method.</summary>
    /// <param name="byTask">Each task for itself, and what belongs to none.</param>
    /// <param name="minorUnits">Minor units of the company's currency.</param>
    public IReadOnlyList<Recognition> Recognise(bool byTask, int minorUnits) => Project.Method is not { } method || method == ProjectMethod.AtInvoice ? []
        : [.. (byTask ? Parts : [Whole]).Select(part => Recognition.Of(part, method, FinishedOn is not null, minorUnits))];
}

/// <summary>An amount behind a project's figures.</summary>
/// <param name="Date">Posting date.</param>
/// <param name="Type">Type of the event.</param>
/// <param name="Document">What the document shows, else its id.</param>
/// <param name="Entry">Id of its entry.</param>
/// <param name="Number">Number of the entry.</param>
/// <param name="Purpose">What it is for.</param>
/// <param name="Account">Id of the account.</param>
/// <param name="Place">"P-1" or "P-1/20".</param>
/// <param name="Amount">Company currency, debit positive.</param>
/// <param name="Text">What is said of it.</param>
public sealed record ProjectLine(DateOnly Date, string Type, string Document, long Entry, long Number, string Purpose, int Account, string Place,
    decimal Amount,
    string Text);

/// <summary>An estimate as it was said.</summary>
/// <param name="Task">Code of the task; null: what belongs to none.</param>
/// <param name="Estimate">The estimate.</param>
/// <param name="Note">Why.</param>
/// <param name="By">Who said it.</param>
/// <param name="At">When.</param>
public sealed record SaidEstimate(string? Task, Estimate Estimate, string Note, string By, DateTime At);

/// <summary>Projects in the books: what stands of them, what is expected of them, and their recognition.</summary>
public sealed class ProjectStore(NpgsqlDataSource source, PostingStore posting, EventText text)
{
    const decimal LargestEstimate = 100_000_000_000_000m;

    /// <summary>Every project of a rulebook at the end of a day.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="book">The rulebook in force.</param>
    /// <param name="on">The day.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<IReadOnlyList<ProjectBooks>> All(int company, StoredRulebook book, DateOnly on, CancellationToken stop)
    {
        var moved = (await Moved(company, on, stop)).ToDictionary(m => (m.Project, m.Task ?? 0));
        var said = (await Estimates(company, on, stop)).ToLookup(e => (e.Project, e.Task ?? 0), e => e.Estimate);
        var finished = await Finished(company, on, stop);
        var atOnce = (await AtOnce(company, on, stop)).ToLookup(a => Fold.Of(a.Place.Split('/')[0]));
        return [.. book.Book.Projects.Select(project =>
        {
            var id = book.Labels.IdOf("project", project.Code) ?? 0;
            var own = atOnce[Fold.Of(project.Code)].ToList();
            return new ProjectBooks(project, [Part(project.Code, null, id, 0), .. project.Tasks.Select(task =>
                Part(project.Code, task.Code, id, book.Labels.IdOf("task", $"{project.Code}/{task.Code}") ?? -1))], finished.GetValueOrDefault(id))
            {
                CostAtOnce = project.IsAtInvoice ? own.Sum(a => a.Cost) : 0, RevenueAtOnce = project.IsAtInvoice ? own.Sum(a => a.Revenue) : 0,
            };
        })];

        ProjectStanding Part(string project, string? task, int projectId, int taskId)
        {
            var sums = moved.GetValueOrDefault((projectId, taskId));
            return new ProjectStanding
            {
                Project = project, Task = task, Incurred = sums?.Incurred ?? 0, Billed = sums?.Billed ?? 0, CostRecognised = sums?.CostRecognised ?? 0,
                RevenueRecognised = sums?.RevenueRecognised ?? 0, FromBilled = sums?.FromBilled ?? 0, Estimate = Estimate.On(said[(projectId, taskId)], on),
            };
        }
    }

    sealed record Sums(int Project, int? Task, decimal Incurred, decimal Billed, decimal CostRecognised, decimal RevenueRecognised, decimal FromBilled);

    // Accrued revenue that no recognition has brought was there when the books began.
    Task<List<Sums>> Moved(int company, DateOnly on, CancellationToken stop) => source.Command("""
        select m.project_id, m.task_id,
            coalesce(sum(m.amount) filter (where m.part = 'work-in-progress' and e.type <> 'project-recognition'), 0),
            coalesce(-sum(m.amount) filter (where m.part = 'billed' and e.type <> 'project-recognition'), 0),
            coalesce(-sum(m.amount) filter (where m.part = 'work-in-progress' and e.type = 'project-recognition'), 0),
            coalesce(sum(m.amount) filter (where m.part = 'accrued' or m.part = 'billed' and e.type = 'project-recognition'), 0),
            coalesce(sum(m.amount) filter (where m.part = 'billed' and e.type = 'project-recognition'), 0)
        from project_movement m join event e on e.company_id = m.company_id and e.id = m.event_id
        where m.company_id = $1 and m.date <= $2 group by m.project_id, m.task_id
        """, company, on).List(row => new Sums(row.GetInt32(0), row.IntOrNull(1), Money.Plain(row.GetDecimal(2)), Money.Plain(row.GetDecimal(3)),
            Money.Plain(row.GetDecimal(4)), Money.Plain(row.GetDecimal(5)), Money.Plain(row.GetDecimal(6))), stop);

    Task<List<(string Place, decimal Cost, decimal Revenue)>> AtOnce(int company, DateOnly on, CancellationToken stop) => source.Command("""
        select project, coalesce(sum(amount) filter (where purpose <> 'project-revenue'), 0),
            coalesce(-sum(amount) filter (where purpose = 'project-revenue'), 0)
        from line where company_id = $1 and purpose in ('project-cost', 'project-revenue', 'cost-of-sales') and project is not null and date <= $2
        group by project
        """, company, on).List(row => (row.GetString(0), Money.Plain(row.GetDecimal(1)), Money.Plain(row.GetDecimal(2))), stop);

    const string Behind = """
        l.company_id = $1 and l.date <= $3 and (l.purpose like 'project-%' and l.purpose <> 'project-absorbed' or l.purpose = 'cost-of-sales')
            and (l.project = $2 or starts_with(l.project, $2 || '/')) and ($4::text is null or l.purpose = $4)
        """;

    /// <summary>How many amounts are behind a project's figures, or one of them, and what they come to.</summary>
    /// <returns>The sum in company currency, debit positive.</returns>
    public Task<(long Count, decimal Sum)> Amounts(int company, string project, DateOnly on, string? figure, CancellationToken stop) =>
        source.Command($"select count(*), coalesce(sum(l.amount), 0) from line l where {Behind}", company, project, on, figure)
            .FirstOrDefault(row => (row.GetInt64(0), Money.Plain(row.GetDecimal(1))), stop);

    /// <summary>The amounts behind a project's figures, the latest first: what its purposes have posted.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="project">Code of the project.</param>
    /// <param name="on">Up to the end of this day.</param>
    /// <param name="figure">Name of the only purpose; null: all of them.</param>
    /// <param name="most">As many at most.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<ProjectLine>> Lines(int company, string project, DateOnly on, string? figure, int most, CancellationToken stop) =>
        source.Command($"""
            select l.date, e.type, coalesce(e.number, e.source_id), n.id, n.number, l.purpose, l.account_id, l.project, l.amount, coalesce(l.text, '')
            from line l join entry n on n.company_id = l.company_id and n.id = l.entry_id
            join event e on e.company_id = l.company_id and e.id = n.event_id
            where {Behind}
            order by l.date desc, n.id desc, l.line_no limit $5
            """, company, project, on, figure, most).List(row => new ProjectLine(row.GetFieldValue<DateOnly>(0), row.GetString(1), row.GetString(2),
                row.GetInt64(3), row.GetInt64(4), row.GetString(5), row.GetInt32(6), row.GetString(7), Money.Plain(row.GetDecimal(8)),
                row.GetString(9)), stop);

    Task<List<(int Project, int? Task, Estimate Estimate)>> Estimates(int company, DateOnly on, CancellationToken stop) => source.Command("""
        select project_id, task_id, holds_from, cost, revenue from project_estimate where company_id = $1 and holds_from <= $2 order by id
        """, company, on).List(row => (row.GetInt32(0), row.IntOrNull(1), new Estimate(row.GetFieldValue<DateOnly>(2), Money.Plain(row.GetDecimal(3)),
            Money.Plain(row.GetDecimal(4)))), stop);

    /// <summary>All that was ever expected of a project, the latest said first.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="project">Id of the project.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<SaidEstimate>> History(int company, int project, CancellationToken stop) => source.Command("""
        select t.code, s.holds_from, s.cost, s.revenue, s.note, coalesce(u.name, ''), s.at
        from project_estimate s left join member t on t.company_id = s.company_id and t.id = s.task_id left join app_user u on u.id = s.user_id
        where s.company_id = $1 and s.project_id = $2 order by s.id desc
        """, company, project).List(row => new SaidEstimate(row.TextOrNull(0), new(row.GetFieldValue<DateOnly>(1), Money.Plain(row.GetDecimal(2)),
            Money.Plain(row.GetDecimal(3))), row.GetString(4), row.GetString(5), row.GetDateTime(6)), stop);

    /// <summary>Says what a project, or a task of it, will cost and bring from a day on; what was said before stays known.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who says it.</param>
    /// <param name="project">Id of the project.</param>
    /// <param name="task">Id of the task; null: what belongs to none.</param>
    /// <param name="estimate">The estimate.</param>
    /// <param name="note">Why; may be empty.</param>
    /// <param name="seen">How many estimates of the project there were when it was looked at.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<Refusal?> Say(int company, int user, int project, int? task, Estimate estimate, string note, int seen, CancellationToken stop)
    {
        foreach (var (field, amount) in new[] { ("cost", estimate.Cost), ("revenue", estimate.Revenue) })
            if (amount < 0 || amount >= LargestEstimate || !Money.HasAtMost(amount, 4))
                return new Refusal(field, $"The estimated {field} is {amount}. Give 0 or more, below {LargestEstimate:N0}.");
        return await source.Act(async connection =>
        {
            await Hold(connection, company, project, stop);
            var known = await connection.Command("select count(*) from project_estimate where company_id = $1 and project_id = $2", company, project)
                .Value<long>(stop);
            if (known != seen)
                return new Refusal("", "Somebody else has estimated this project since you looked. Look at the estimates again, then say yours.");
            await connection.Command("""
                insert into project_estimate (company_id, project_id, task_id, holds_from, cost, revenue, note, user_id)
                values ($1, $2, $3, $4, $5, $6, $7, $8)
                """, company, project, task, estimate.From, estimate.Cost, estimate.Revenue, note.Trim(), user).Run(stop);
            return null;
        }, stop);
    }

    // What is said of a project is said one after the other.
    static Task<int> Hold(NpgsqlConnection connection, int company, int project, CancellationToken stop) =>
        connection.Command("select from member where company_id = $1 and id = $2 for no key update", company, project).Run(stop);

    async Task<Dictionary<int, DateOnly?>> Finished(int company, DateOnly on, CancellationToken stop) => (await source.Command("""
        select distinct on (project_id) project_id, finished_on from project_finish where company_id = $1 order by project_id, id desc
        """, company).List(row => (row.GetInt32(0), row.DateOrNull(1)), stop)).Where(f => f.Item2 <= on).ToDictionary();

    const string FinishSql = "select finished_on from project_finish where company_id = $1 and project_id = $2 order by id desc limit 1";

    /// <summary>The day a project is finished on, also one to come; null: it goes on.</summary>
    public Task<DateOnly?> FinishOf(int company, int project, CancellationToken stop) =>
        source.Command(FinishSql, company, project).FirstOrDefault(row => row.DateOrNull(0), stop);

    /// <summary>Says on which day a project was finished; null: it goes on.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who says it.</param>
    /// <param name="project">Id of the project.</param>
    /// <param name="seen">The day as it stood when it was looked at; null: it went on.</param>
    /// <param name="day">The day.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> Finish(int company, int user, int project, DateOnly? seen, DateOnly? day, CancellationToken stop) =>
        source.Act(async connection =>
        {
            await Hold(connection, company, project, stop);
            var now = await connection.Command(FinishSql, company, project).FirstOrDefault(row => row.DateOrNull(0), stop);
            if (now != seen)
                return new Refusal("day", now is { } finished
                    ? $"Since you looked, somebody has said that it was finished on {Written.DayNow(finished)}. Look at it again, then say when."
                    : "Since you looked, somebody has opened it again. Look at it again, then say when it is finished.");
            await connection.Command("insert into project_finish (company_id, project_id, finished_on, user_id) values ($1, $2, $3, $4)", company, project,
                day, user).Run(stop);
            return null;
        }, stop);

    /// <summary>The events that recognise what is to be recognised at a day.</summary>
    public async Task<IReadOnlyList<ProjectRecognition>> Made(int company, IReadOnlyList<Recognition> recognitions, DateOnly on, CancellationToken stop)
    {
        var prefix = FormattableString.Invariant($"RECOGNITION-{on:yyyyMMdd}");
        var earlier = await OwnIds.Earlier(source, company, prefix, stop);
        return [.. recognitions.Where(r => r.Posts).Select(r => new ProjectRecognition
        {
            Id = OwnIds.Free(earlier, $"{prefix}-{r.Standing.Project}{(r.Standing.Task is null ? "" : "-" + r.Standing.Task)}"), Date = on,
                Project = r.Standing.Project, Task = r.Standing.Task, Cost = r.Cost, Revenue = r.Revenue, FromBilled = r.FromBilled,
            Text = r.Percent is { } percent ? FormattableString.Invariant($"Recognition, {percent:0.##} % done") : "Recognition",
        })];
    }

    /// <summary>Posts recognitions: all of them, or none.</summary>
    /// <returns>Why they were not posted; null when they were.</returns>
    public async Task<string?> Post(int company, int user, IReadOnlyList<ProjectRecognition> made, CancellationToken stop) =>
        (await posting.PostTogether(company, user, [.. made.Select(m => PostableEvent.OfOwn(m, text))], stop)).Select(p => p.WhyNot)
            .FirstOrDefault(why => why is not null);
}
