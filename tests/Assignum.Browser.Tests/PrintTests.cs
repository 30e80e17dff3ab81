using System.Globalization;
using Assignum.Storage.Companies;
using Assignum.Storage.Posting;
using Assignum.Web.Tests;
using Microsoft.Extensions.DependencyInjection;
using UglyToad.PdfPig;

namespace Assignum.Browser.Tests;

/// <summary>What goes on paper, as the browser makes it.</summary>
public sealed class PrintTests(Browser browser) : IClassFixture<Browser>
{
    const int Rows = 2_500;

    [Fact]
    public async Task A_journal_of_2500_rows_prints_whole_with_its_total_headings_and_page_numbers()
    {
        var company = (await browser.Services.GetRequiredService<CompanyStore>().Find("QN", default))!.Id;
        var invoices = Enumerable.Range(0, Rows).Select(i => Invoices.Of($"PAPER-{i:0000}", new(2026, 9, 1), "C-12", "SEED-01", 1 + i % 9)).ToList();
        var posted = await browser.Services.GetRequiredService<PostingStore>().Post(company, null, invoices, default);
        Assert.All(posted, p => Assert.Equal(PostingFate.Landed, p.Fate));

        browser.SignIn("vera");
        browser.Open("/qn/journal?document=PAPER-");
        browser.Click("[data-print]");
        browser.Sees("Quillmoss Nurseries", ".letterhead");
        using var pdf = PdfDocument.Open(browser.Printed());
        var pages = pdf.GetPages().Select(p => string.Join(' ', p.GetWords().Select(w => w.Text))).ToList();
        var text = string.Join(' ', pages);

        // 8 % on seeds at home: the figure stands here, and not in the code that prints.
        var total = Enumerable.Range(0, Rows).Sum(i => Math.Round((1 + i % 9) * 1.08m, 2, MidpointRounding.AwayFromZero));
        Assert.DoesNotContain(Enumerable.Range(0, Rows), i => !text.Contains($"PAPER-{i:0000}", StringComparison.Ordinal));
        Assert.Matches($@"{total.ToString("N2", CultureInfo.InvariantCulture)} Sum|Sum {total.ToString("N2", CultureInfo.InvariantCulture)}", pages[^1]);
        Assert.All(pages.SkipLast(1), page => Assert.Contains("Document total", page, StringComparison.Ordinal));
        for (var i = 0; i < pages.Count; i++)
            Assert.Contains($"Page {i + 1} of {pages.Count}", pages[i], StringComparison.Ordinal);
        Assert.All(pages, page => Assert.Contains("Quillmoss Nurseries ·", page, StringComparison.Ordinal));
        Assert.DoesNotContain("Sign out", text, StringComparison.Ordinal);
    }

    [Fact]
    public void An_entry_prints_with_both_sums()
    {
        browser.SignIn("vera");
        browser.Open("/qn/journal/3");
        var (sum, lines) = (browser.Find("tr.sum td:last-child").Text, browser.All("main tbody tr a.num").Count);
        browser.Press(OpenQA.Selenium.Keys.Control + "p" + OpenQA.Selenium.Keys.Control);
        browser.Sees("Quillmoss Nurseries", ".letterhead");
        using var pdf = PdfDocument.Open(browser.Printed());
        var text = string.Join(' ', pdf.GetPages().SelectMany(p => p.GetWords()).Select(w => w.Text));

        Assert.Matches($@"Sum {sum} {sum}|{sum} {sum} Sum", text);
        Assert.True(lines > 2);
        Assert.Contains("Subledger", text, StringComparison.Ordinal);
    }
}
