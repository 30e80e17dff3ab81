using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;

namespace Assignum.Web.Pages.Begin;

/// <summary>What is still missing in a new company, step by step.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Begin";
    /// <summary>The steps.</summary>
    public IReadOnlyList<BeginStep> Steps { get; private set; } = [];

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public void OnGet() => Steps = Missing.Of(Books);
}
