using Assignum.Web.Access;
using Assignum.Web.Sending;
using Htmx;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages;

/// <summary>Says within the frame of a company why what was asked for can't be shown there.</summary>
[Authorize(Policy = Policies.SignedIn), IgnoreAntiforgeryToken, ResponseCache(NoStore = true)]
public sealed class NotHereModel : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "";
    /// <summary>What happened.</summary>
    public WhatWentWrong What { get; private set; } = null!;

    /// <summary>Says it.</summary>
    [Needs(Need.SignedIn)]
    public IActionResult OnGet(int? code) => Say(code);

    /// <summary>Says it after a form.</summary>
    [Needs(Need.SignedIn)]
    public IActionResult OnPost(int? code) => Say(code);

    IActionResult Say(int? code)
    {
        // Somebody without a role here learns nothing of the company, not even its name.
        if (User.RoleIn(Company.Code).Length == 0)
            return NotFound();
        // Whoever opens the address itself asks for something that is not there.
        var status = code is 400 or 403 or 429 or 500 ? code.Value : StatusCodes.Status404NotFound;
        (What, Response.StatusCode) = (WhatWentWrong.Of(HttpContext, status), status);
        return Request.IsHtmx() ? Content("<p class=\"fault\" " +
            $"role=\"alert\">{System.Text.Encodings.Web.HtmlEncoder.Default.Encode($"{What.Title}. {What.Fix}")}</p>", "text/html; charset=utf-8") : Page();
    }
}
