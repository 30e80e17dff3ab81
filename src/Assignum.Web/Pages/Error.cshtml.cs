using Assignum.Web.Access;
using Assignum.Web.Sending;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages;

/// <summary>What is said when a page can't be shown.</summary>
[AllowAnonymous, IgnoreAntiforgeryToken, ResponseCache(NoStore = true)]
public sealed class ErrorModel : PageModel
{
    /// <summary>What happened.</summary>
    public string Title { get; private set; } = "";
    /// <summary>What to do now.</summary>
    public string Fix { get; private set; } = "";

    /// <summary>Says it.</summary>
    [Needs(Need.Nothing)]
    public void OnGet(int? code) => Say(code);

    /// <summary>Says it after a form.</summary>
    [Needs(Need.Nothing)]
    public void OnPost(int? code) => Say(code);

    void Say(int? code) => (Title, Fix) = WhatWentWrong.Of(HttpContext, code);
}
