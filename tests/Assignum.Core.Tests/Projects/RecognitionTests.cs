using Assignum.Core.Groups;
using Assignum.Core.Projects;
using CsCheck;

namespace Assignum.Core.Tests.Projects;

/// <summary>What of a project counts on a day; the worked tables of docs/posting.md are held against the code in the tests of the formats.</summary>
public class RecognitionTests
{
    static readonly ProjectStanding Started = new() { Project = "P-1", Incurred = 4000, Billed = 2000, Estimate = new(Book.Day, 10_000, 15_000) };

    [Fact]
    public void Forty_of_a_hundred_spent_is_forty_per_cent_of_the_revenue()
    {
        var recognition = Recognition.Of(Started, ProjectMethod.PercentageOfCompletion, finished: false, 2);

        Assert.Equal((40m, 4000m, 6000m, 2000m), (recognition.Percent, recognition.Cost, recognition.Revenue, recognition.FromBilled));
    }

    [Fact]
    public void More_spent_than_estimated_is_done_and_not_more_than_done() =>
        Assert.Equal(15_000, Recognition.Of(Started with { Incurred = 11_000 }, ProjectMethod.PercentageOfCompletion, finished: false, 2).Revenue);

    [Theory]
    [InlineData(4_000, 0.4, 0)]
    [InlineData(10_000, 1, 0)]
    [InlineData(11_500, 1, 1_500)]
    public void A_project_says_how_much_of_it_is_spent_and_by_how_much_it_is_over(int incurred, double done, int over)
    {
        var standing = Started with { Incurred = incurred };

        Assert.Equal(((decimal)done, over), (standing.Done, standing.Over));
        Assert.Equal((null, 0m), ((standing with { Estimate = null }).Done, (standing with { Estimate = null }).Over));
    }

    [Theory]
    [InlineData(null, "has no estimate")]
    [InlineData(0, "estimated to cost nothing")]
    public void Without_an_estimated_cost_the_part_that_is_done_can_t_be_worked_out(int? cost, string why)
    {
        var recognition = Recognition.Of(Started with { Task = "10", Estimate = cost is null ? null : new(Book.Day, 0, 100) }, ProjectMethod.PercentageOfCompletion, finished: false, 2);

        Assert.StartsWith("Task P-1/10", recognition.WhyNot, StringComparison.Ordinal);
        Assert.Contains(why, recognition.WhyNot, StringComparison.Ordinal);
        Assert.False(recognition.Posts);
    }

    [Fact]
    public void A_contract_that_is_not_completed_has_neither_cost_nor_revenue() =>
        Assert.False(Recognition.Of(Started, ProjectMethod.CompletedContract, finished: false, 2).Posts);

    [Fact]
    public void Of_estimates_the_latest_that_holds_is_taken_and_of_those_from_one_day_the_one_said_last()
    {
        Estimate[] said = [new(new(2026, 1, 1), 1, 10), new(new(2026, 3, 1), 2, 20), new(new(2026, 2, 1), 3, 30), new(new(2026, 3, 1), 4, 40)];

        Assert.Equal([null, 1m, 3m, 4m], new[] { new DateOnly(2025, 12, 31), new(2026, 1, 31), new(2026, 2, 28), new(2026, 3, 1) }.Select(on => Estimate.On(said, on)?.Cost));
    }

    sealed record Month(int Spent, int Billed, int Estimate, int Price, bool Finished);

    static readonly Gen<Month[]> Lives = Gen.Select(Gen.Int[-200, 9000], Gen.Int[-500, 12_000], Gen.Int[1, 60_000], Gen.Int[0, 90_000], Gen.Int[0, 4])
        .Select(m => new Month(m.Item1, m.Item2, m.Item3, m.Item4, m.Item5 == 0)).Array[1, 14];

    // What stands is kept as plain sums here; after each recognition the sums must be what the method says, however often estimates change or it is finished and opened again.
    [Fact]
    public void After_each_recognition_exactly_what_the_method_says_stands_and_at_the_end_cost_and_revenue_are_whole() =>
        Gen.Select(Lives, Gen.Bool, Gen.Bool.Array[14]).Sample((months, byPart, skipped) =>
        {
            var (spent, billed, cost, revenue, fromBilled) = (0m, 0m, 0m, 0m, 0m);
            for (var i = 0; i < months.Length; i++)
            {
                var (month, last) = (months[i], i == months.Length - 1);
                (spent, billed) = (spent + (month.Spent / 100m), billed + (month.Billed / 100m));
                if (skipped[i] && !last)
                    continue;
                var finished = last || month.Finished;
                var price = month.Price / 100m;
                var recognition = Recognition.Of(new ProjectStanding
                {
                    Project = "P-1", Incurred = spent, Billed = billed, CostRecognised = cost, RevenueRecognised = revenue, FromBilled = fromBilled,
                    Estimate = new(Book.Day, month.Estimate / 100m, price),
                }, byPart ? ProjectMethod.PercentageOfCompletion : ProjectMethod.CompletedContract, finished, 2);
                (cost, revenue, fromBilled) = (cost + recognition.Cost, revenue + recognition.Revenue, fromBilled + recognition.FromBilled);

                var part = Math.Min(1, Math.Max(0, spent / (month.Estimate / 100m)));
                var whole = price > billed ? price : billed;
                var shown = finished ? whole : byPart ? Math.Round(price * part, 2, MidpointRounding.AwayFromZero) : 0;
                Assert.Equal(finished || byPart ? spent : 0, cost);
                Assert.Equal(shown, revenue);
                // What stands on the two accounts is the difference, and never on both.
                var (ahead, accrued) = (billed - fromBilled, revenue - fromBilled);
                Assert.Equal(billed - revenue, ahead - accrued);
                Assert.True(ahead >= 0 && accrued >= 0 && (ahead == 0 || accrued == 0));
            }
            Assert.Equal(spent, cost);
            Assert.Equal(Math.Max(months[^1].Price / 100m, billed), revenue);
        }, iter: 3000);

    [Fact]
    public void A_project_as_a_whole_is_the_sum_of_what_belongs_to_no_task_and_of_its_tasks()
    {
        var whole = ProjectStanding.Sum([Started, Started with { Task = "10", Incurred = 1000, Estimate = new(Book.Day, 2000, 3000) }, Started with { Task = "20", Estimate = null }]);

        Assert.Equal((9000m, 6000m, 12_000m, 18_000m), (whole.Incurred, whole.Billed, whole.Estimate!.Cost, whole.Estimate.Revenue));
    }
}
