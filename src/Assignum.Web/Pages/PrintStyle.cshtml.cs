using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages;

/// <summary>What stands at the edge of every printed sheet: company, day and number of the page.</summary>
[Authorize(Policy = Policies.SignedIn)]
public sealed class PrintStyleModel(TimeProvider clock) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "";

    /// <summary>The style.</summary>
    [Needs(Need.SignedIn)]
    public IActionResult OnGet()
    {
        if (User.RoleIn(Company.Code).Length == 0)
            return NotFound();
        var edge = Quoted($"{Company.Name} · {Showing.Show.Day(clock.GetUtcNow().UtcDateTime)}");
        return Content($$"""
            @page { size: A4 landscape; margin: 14mm 12mm 16mm; @bottom-left { content: {{edge}}; font: 8pt sans-serif; }
              @bottom-right { content: "Page " counter(page) " of " counter(pages); font: 8pt sans-serif; } }
            """, "text/css; charset=utf-8");
    }

    // A name may hold whatever its people write; in a style only what is spelled out is safe.
    static string Quoted(string text) =>
        '"' + string.Concat(text.Select(c => char.IsAsciiLetterOrDigit(c) || c is ' ' or '.' or ',' or '-' ? c.ToString() : $"\\{(int)c:x} ")) + '"';
}
