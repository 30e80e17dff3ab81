using Assignum.Storage.Companies;
using Assignum.Storage.Proving;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.MonthEnd;

/// <summary>The books prove themselves: the chain of digests, the numbers, the sums.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class ProofModel(BooksVerifying verifying, PeriodStore periods) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Month’s end";
    /// <summary>What checking came to; null while it was not asked for.</summary>
    public VerifiedBooks? Found { get; private set; }
    /// <summary>Heads of the chains as they are.</summary>
    public IReadOnlyList<ChainHead> Heads { get; private set; } = [];
    /// <summary>Heads that were kept at closes, newest first.</summary>
    public IReadOnlyList<PeriodClose> Kept { get; private set; } = [];

    /// <summary>Shows the heads.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>Checks everything.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnPostAsync()
    {
        await Lay();
        Found = await verifying.Verify(Company.Id, Company.Code, [.. Kept.Select(c => new ChainHead(c.Year, c.Place, c.Digest)).Distinct()],
            HttpContext.RequestAborted);
        return Page();
    }

    async Task Lay()
    {
        Heads = await verifying.Heads(Company.Id, Stop);
        Kept = [.. (await periods.Closes(Company.Id, 1000, Stop)).Where(c => c is { Closed: true, Place: > 0 })];
    }
}
