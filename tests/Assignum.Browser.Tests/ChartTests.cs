using Assignum.Testing;

namespace Assignum.Browser.Tests;

/// <summary>A chart as somebody hands it over, brought into a new company by somebody who has read nothing.</summary>
public sealed class ChartTests(Browser browser) : IClassFixture<Browser>
{
    static string Kept(string name, byte[] content)
    {
        var file = Path.Combine(Directory.CreateTempSubdirectory("chart").FullName, name);
        File.WriteAllBytes(file, content);
        return file;
    }

    void OpenCompany(string code)
    {
        browser.SignIn("adam");
        browser.Open("/qn/companies");
        browser.Type("#code", code);
        browser.Type("#name", "Quillmoss Trials");
        browser.Click("form[action*=Open] button");
        browser.Sees("is open. Say now who works there.", ".done");
        browser.Type("#person", "ines");
        browser.Choose("#role", "preparer");
        browser.Click("form[action*=Grant] button");
        browser.Sees("Ines is preparer now.", ".done");
        browser.SignIn("ines");
        browser.Open($"/{code.ToLowerInvariant()}/chart");
    }

    [Theory]
    [InlineData("QA", false)]
    [InlineData("QB", true)]
    public void A_messy_chart_of_1700_rows_is_in_place_and_understood_after_a_few_clicks(string code, bool xlsx)
    {
        OpenCompany(code);
        browser.Click("a[href$='chart/import']");
        browser.Find("#file").SendKeys(Kept(xlsx ? "alt.xlsx" : "alt.csv", xlsx ? MessyChart.Xlsx() : MessyChart.Csv()));
        browser.Click("main form button");

        // Headings, columns and codes are found; the three rows nobody can use come first, each with its reason.
        browser.Has("[name='f.0']", "number");
        browser.Has("[name='f.4']", "parent");
        browser.Sees("6 codes understood");
        browser.Sees("stands already in line", "#mapped > table");
        browser.Click("main .head button.main");
        browser.Sees("is in the draft", ".said");
        browser.Sees("1,697", ".counts");
        browser.Click(".head a.main");

        // The tree is closed below its first level; a heading opens, and a part of a name finds.
        browser.Sees("1,697 accounts");
        browser.Click("#a110000 .turn");
        browser.Sees("110010", "#accounts");
        browser.Type("#filter", "versicherungen 61");
        browser.Until(() => browser.All("#accounts tbody tr:not(.context)").Count is > 0 and < 40);
        browser.Click("#accounts tbody tr:not(.context) td a:not(.turn)");
        browser.Sees("lowers net profit, not gross profit", "#drawer");
        Assert.Empty(browser.Complaints());
    }

    [Fact]
    public void A_code_that_is_not_understood_is_chosen_and_a_column_is_dragged()
    {
        OpenCompany("QC");
        browser.Click("a[href$='chart/import']");
        browser.Find("#file").SendKeys(Kept("odd.csv", "Schl;Wert;Kontoart\n8000;Was auch immer;08\n8010;Noch etwas;08\n1000;Kasse;Aktiv\n"u8.ToArray()));
        browser.Click("main form button");
        browser.Sees("No column gives the number");
        Drag("number", 0);
        browser.Sees("No column gives the name yet");
        Drag("name", 1);
        browser.Sees("1 of 2 codes are not understood yet");
        browser.Sees("Import 1 account");
        browser.Choose("[name='class.08']", "other-expense");
        browser.Sees("Import 3 accounts");

        void Drag(string field, int column) => browser.Run("""
            const data = new DataTransfer(), from = document.querySelector(`[data-field="${arguments[0]}"]`), to = document.querySelector(`[data-column="${arguments[1]}"]`);
            for (const [type, at] of [["dragstart", from], ["dragover", to], ["drop", to]]) at.dispatchEvent(new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer: data }));
            """, field, column);
    }

    [Fact]
    public void A_number_is_answered_while_it_is_typed_and_the_next_account_follows_at_once()
    {
        browser.SignIn("ines");
        browser.Open("/qn/chart?handler=new&beside=6310");
        browser.Has("#acc-number", "6315");
        browser.Type("#acc-number", "6320");
        browser.Sees("6320 is taken by Repairs of vehicles.", "#acc-answer");
        browser.Click("#acc-answer [data-number]");
        browser.Sees("6315 is free. It stands under 63 Running. Expenses: lowers net profit, not gross profit.", "#acc-answer");
        Assert.NotNull(browser.Find("#acc-answer svg"));
        browser.Type("#acc-name", "Oil and filters");
        browser.Click("button[name=then]");
        browser.Sees("Account 6315 Oil and filters is in draft", ".done");
        browser.Sees("New account beside 6315", "#drawer h2");
        Assert.Equal("", browser.Find("#acc-name").GetAttribute("value"));
    }

    [Fact]
    public void Columns_are_chosen_and_stay_chosen()
    {
        browser.SignIn("vera");
        browser.Open("/qn/chart");
        browser.Click("#accounts details.more summary");
        browser.Click("#accounts details.more input[value=group]");
        browser.Click("#accounts details.more button");
        browser.Sees("G-110", "#a1100");
        browser.Open("/qn/chart?view=control");
        browser.Sees("G-110", "#a1100");
    }
}
