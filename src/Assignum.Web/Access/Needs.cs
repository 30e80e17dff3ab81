using Assignum.Storage.People;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Assignum.Web.Access;

/// <summary>What an act or a look demands of whoever asks for it, in the company of the address.</summary>
public enum Need
{
    /// <summary>Nothing: signing in, and what is said when something went wrong.</summary>
    Nothing,
    /// <summary>To be signed in, as whoever.</summary>
    SignedIn,
    /// <summary>To read the company's books.</summary>
    Reads,
    /// <summary>To change the draft and post.</summary>
    Prepares,
    /// <summary>To release.</summary>
    Approves,
    /// <summary>To administer people and companies.</summary>
    Administers,
    /// <summary>To read the company's books, or to administer it: what both look at.</summary>
    ReadsOrAdministers,
    /// <summary>To prepare, or to administer.</summary>
    PreparesOrAdministers,
}

/// <summary>Says on a handler itself what it demands. A handler that says nothing is nobody's.</summary>
[AttributeUsage(AttributeTargets.Method)]
public sealed class NeedsAttribute(Need need) : Attribute
{
    /// <summary>What it demands.</summary>
    public Need Need => need;
}

/// <summary>
/// The one place where a page's handlers are allowed or refused: by what the method about to run says of itself, never by a name that was sent.
/// </summary>
sealed class HandlerAccess : IAsyncPageFilter
{
    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if (context.HandlerMethod is not { } handler)
        {
            context.Result = new NotFoundResult();
            return;
        }
        var http = context.HttpContext;
        var need = handler.MethodInfo.GetCustomAttributes(typeof(NeedsAttribute), inherit: false) is [NeedsAttribute said] ? said.Need : (Need?)null;
        if (need is { } known && Meets(http, known))
        {
            await next();
            return;
        }
        SecurityEvents.Refused(http, handler.MethodInfo.Name);
        if (need is { } missing)
            Sending.WhatWentWrong.Needed(http, missing);
        context.Result = new StatusCodeResult(StatusCodes.Status403Forbidden);
    }

    internal static bool Meets(HttpContext http, Need need)
    {
        if (need == Need.Nothing)
            return true;
        var user = http.User;
        if (user.Identity?.IsAuthenticated != true)
            return false;
        if (need == Need.SignedIn)
            return true;
        return http.GetRouteValue("company") is string company && need switch
        {
            Need.Reads => user.Reads(company),
            Need.Prepares => user.Prepares(company),
            Need.Approves => user.Approves(company),
            Need.Administers => user.Has(company, Role.Administrator),
            Need.ReadsOrAdministers => user.Reads(company) || user.Has(company, Role.Administrator),
            Need.PreparesOrAdministers => user.Prepares(company) || user.Has(company, Role.Administrator),
            _ => false,
        };
    }
}
