using Assignum.Storage.Companies;
using Assignum.Storage.Jobs;
using Assignum.Storage.People;
using Assignum.Web.Jobs;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.DependencyInjection;

namespace Assignum.Web.Tests;

/// <summary>Long work in the application: done, cancelled, failed.</summary>
public sealed class JobTests(App app) : IClassFixture<App>
{
    /// <summary>Goes on until somebody cancels it.</summary>
    sealed class Patient : IJobWork
    {
        public string Kind => "patient";

        public async Task<JobOutcome> Run(ClaimedJob job, Func<int, int, string, Task> tell, CancellationToken stop)
        {
            for (var done = 0; ; done++)
            {
                await tell(done, 1000, "Going on");
                await Task.Delay(20, stop);
            }
        }
    }

    sealed class Faulty : IJobWork
    {
        public string Kind => "faulty";

        public Task<JobOutcome> Run(ClaimedJob job, Func<int, int, string, Task> tell, CancellationToken stop) => throw new InvalidOperationException("A fault of ours.");
    }

    sealed class Quick : IJobWork
    {
        public string Kind => "quick";

        public Task<JobOutcome> Run(ClaimedJob job, Func<int, int, string, Task> tell, CancellationToken stop) => Task.FromResult(new JobOutcome(JobState.Done, "Done.", job.Payload));
    }

    [Fact(Timeout = 60_000)]
    public async Task Jobs_end_done_cancelled_or_failed_and_say_so()
    {
        await using var working = app.WithWebHostBuilder(host => host.ConfigureTestServices(services => services.AddSingleton<IJobWork, Patient>().AddSingleton<IJobWork, Faulty>().AddSingleton<IJobWork, Quick>()));
        var services = working.Services;
        var jobs = services.GetRequiredService<JobStore>();
        var company = (await services.GetRequiredService<CompanyStore>().Find("QN", default))!.Id;
        var ines = (await services.GetRequiredService<PersonStore>().Find("ines", default))!.Id;

        var quick = await Ended("quick");
        Assert.Equal((JobState.Done, "Done.", """{"a": 1}"""), (quick.State, quick.Said, quick.Result));
        var faulty = await Ended("faulty");
        Assert.Equal(JobState.Failed, faulty.State);
        Assert.DoesNotContain("A fault of ours.", faulty.Said, StringComparison.Ordinal);

        var patient = await jobs.Ask(company, ines, "patient", "{}", default);
        while ((await jobs.Find(company, patient, default))! is not { State: JobState.Running, Done: > 2, Total: 1000 })
            await Task.Delay(20);
        await jobs.Cancel(company, patient, default);
        Assert.Equal((JobState.Cancelled, "Cancelled. Nothing of it was kept."), await Await(patient) is var ended ? (ended.State, ended.Said) : default);

        async Task<JobRow> Ended(string kind) => await Await(await jobs.Ask(company, ines, kind, """{"a":1}""", default));

        async Task<JobRow> Await(long id)
        {
            while (true)
            {
                if (await jobs.Find(company, id, default) is { Ended: true } row)
                    return row;
                await Task.Delay(20);
            }
        }
    }
}
