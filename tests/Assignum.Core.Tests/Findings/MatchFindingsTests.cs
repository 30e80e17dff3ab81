using Assignum.Core.Findings;
using Assignum.Core.Groups;
using Assignum.Core.Matching;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Tests.Findings;

public class MatchFindingsTests
{
    static Rulebook With(params Match[] matches) => new()
    {
        Company = new("QN", "Quillmoss Nurseries", "EUR", new CompanyOptions()), Items = [new Item { Code = "SEED-01", Kind = ItemKind.Stock }],
        ItemGroups = [new Group("SEEDS", "Seeds")], Matches = matches,
    };

    static Match Of(string theirs, string ours, SettingList list = SettingList.Items) => new() { Connection = "web-shop", List = list, Theirs = theirs, Ours = ours };

    [Fact]
    public void A_match_that_leads_nowhere_bars_the_release_and_names_both_sides()
    {
        var finding = Assert.Single(RulebookChecks.Errors(With(Of("S-1", "SEED-99"))));

        Assert.Equal("unknown-match", finding.Check);
        Assert.Contains("S-1 of web-shop is matched with item SEED-99", finding.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void An_entry_is_matched_once() => Assert.Equal("duplicate-code", Assert.Single(RulebookChecks.Errors(With(Of("S-1", "SEED-01"), Of("s-1", "SEED-01")))).Check);

    [Fact]
    public void Two_entries_may_be_the_same_of_ours_and_a_code_means_what_its_list_says() =>
        Assert.Empty(RulebookChecks.Errors(With(Of("S-1", "SEED-01"), Of("S-2", "seed-01"), Of("S-1", "SEEDS", SettingList.Categories))));
}
