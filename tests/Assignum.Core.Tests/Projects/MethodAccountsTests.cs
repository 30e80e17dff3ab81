using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Projects;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Tests.Projects;

public class MethodAccountsTests
{
    static readonly Rulebook Builds = Book.Nursery with
    {
        Accounts = [.. Book.Nursery.Accounts, Book.Account("1400", "Gardens under way", AccountClass.Asset), Book.Account("4100", "Gardens", AccountClass.Income)],
        ProjectGroups = [new Group("BUILD", "Building"), new Group("DESIGN", "Design")],
        Rules = [.. Book.Nursery.Rules, Book.Rule("project-cost", "5000"), Book.Rule("project-revenue", "4100"), Book.Rule("project-wip", "1400", (Fact.ProjectGroup, "BUILD")), Book.Rule("project-billed", "2120"), Book.Rule("project-accrued-revenue", "1400")],
    };

    static string? WhyNot(ProjectMethod method, string group, params ProjectTask[] tasks) =>
        MethodAccounts.WhyNot(new CompiledRulebook(Builds), new Project { Code = "NEW", Group = group, Method = method, Tasks = tasks }, Book.Day);

    [Fact]
    public void A_method_whose_purposes_all_find_an_account_does() => Assert.Null(WhyNot(ProjectMethod.PercentageOfCompletion, "BUILD"));

    [Fact]
    public void A_method_that_lacks_an_account_is_refused_with_method_purpose_and_group() => Assert.Equal("The method percentage of completion needs an account for project work in progress, and group DESIGN has none on 2026-03-14. Add a rule, or choose another method.", WhyNot(ProjectMethod.PercentageOfCompletion, "DESIGN"));

    [Fact]
    public void A_task_in_a_group_without_the_account_is_enough() => Assert.NotNull(WhyNot(ProjectMethod.CompletedContract, "BUILD", new ProjectTask("10", "Plan", "DESIGN")));

    [Fact]
    public void At_invoice_needs_no_work_in_progress() => Assert.Null(WhyNot(ProjectMethod.AtInvoice, "DESIGN"));
}
