using Assignum.Core;
using Assignum.Web.Access;
using Htmx;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Diagnostics;

namespace Assignum.Web.Sending;

/// <summary>What is said where a page can't be shown: within the frame of the company where somebody has a role in it, else on a page of its own.</summary>
/// <param name="Title">What happened.</param>
/// <param name="Fix">What to do now.</param>
public sealed record WhatWentWrong(string Title, string Fix)
{
    const string NeedKey = "need", UnreadKey = "unread";

    /// <summary>Remembers what a handler would have needed, so that the role can be named.</summary>
    internal static void Needed(HttpContext http, Need need) => http.Items[NeedKey] = need;

    /// <summary>Remembers what of a form can't be read.</summary>
    internal static void Unread(HttpContext http, string what) => http.Items[UnreadKey] = what;

    /// <summary>What a status means here.</summary>
    internal static WhatWentWrong Of(HttpContext http, int? code) => code switch
    {
        403 => NoRole(http),
        404 => new("Nothing is here", "The address leads to nothing: it may have been mistyped, or what it named is gone. Find it by its number or name, or " +
            "go by the steps of the work."),
        400 when http.Items[UnreadKey] is string unread => new("Something can't be read", unread + " Go back and correct it; nothing was changed."),
        400 => new("The form is too old",
            "The page was open for too long, or you have signed in again since. Go back, load the page again and repeat the act. Nothing was changed."),
        429 => new("Too many requests", "That was more often than this page is asked for. Wait a minute, then go on."),
        _ => new("A fault of ours", "Something went wrong on our side, and nothing was changed. Try it once more; if it comes again, tell whoever runs this " +
            "installation the time."),
    };

    static WhatWentWrong NoRole(HttpContext http)
    {
        var company = CompanyOf(http) ?? "";
        var (user, own) = (http.User, http.User.RoleIn(company));
        if (own.Length == 0)
            return new("No role in this company",
                $"You have no role in a company {company.ToUpperInvariant()}, or there is none. Ask its administrator for a role.");
        var missing = (http.Items[NeedKey] as Need?) switch
        {
            Need.Prepares or Need.PreparesOrAdministers => "preparer",
            Need.Approves => "approver",
            Need.Administers => "administrator",
            _ => "viewer",
        };
        return new("Not for your role",
            $"This is for the role {missing}, and you are {own} in {company.ToUpperInvariant()}. Ask an administrator for the role, or somebody who has it " +
                "to do it. Nothing was changed.");
    }

    internal static string? CompanyOf(HttpContext http)
    {
        var path = http.Features.Get<IStatusCodeReExecuteFeature>()?.OriginalPath ?? http.Request.Path.Value ?? "";
        return path.Split('/', StringSplitOptions.RemoveEmptyEntries) is [var first, ..] ? first : null;
    }

    /// <summary>Says it with the look of a page, a part of one, or within the frame, as what was asked for.</summary>
    internal static async Task Show(StatusCodeContext context)
    {
        var (http, code) = (context.HttpContext, context.HttpContext.Response.StatusCode);
        if (http.GetEndpoint()?.Metadata.GetMetadata<AuthorizeAttribute>()?.Policy is Policies.Administers)
            http.Items.TryAdd(NeedKey, Need.Administers);
        var framed = CompanyOf(http) is { } company && http.User.Identity?.IsAuthenticated == true && http.User.Companies().Contains(Fold.Of(company));
        var (path, query) = (http.Request.Path, http.Request.QueryString);
        var values = http.Request.RouteValues;
        http.Features.Set<IStatusCodeReExecuteFeature>(new StatusCodeReExecuteFeature { OriginalPath = path.Value!,
            OriginalPathBase = http.Request.PathBase.Value!, OriginalQueryString = query.Value });
        (http.Request.Path, http.Request.QueryString) = (framed ? $"/{CompanyOf(http)}/not-here" : "/error",
            QueryString.Create("code", code.ToString(System.Globalization.CultureInfo.InvariantCulture)));
        http.SetEndpoint(null);
        http.Request.RouteValues = [];
        try
        {
            await context.Next(http);
        }
        finally
        {
            (http.Request.Path, http.Request.QueryString, http.Request.RouteValues) = (path, query, values);
            http.Features.Set<IStatusCodeReExecuteFeature>(null);
        }
    }
}
