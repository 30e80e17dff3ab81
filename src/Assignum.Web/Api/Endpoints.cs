using Assignum.Web.Access;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;

namespace Assignum.Web.Api;

/// <summary>The API, as docs/schemas/api.openapi.json describes it.</summary>
static class Endpoints
{
    internal const string Path = "/api/v1", Policy = "Token";

    internal static void AddApi(this IServiceCollection services)
    {
        services.AddAuthentication().AddScheme<AuthenticationSchemeOptions, TokenSignIn>(TokenSignIn.Scheme_, null);
        services.AddAuthorizationBuilder().AddPolicy(Policy, policy => policy.AddAuthenticationSchemes(TokenSignIn.Scheme_).RequireAuthenticatedUser());
        services.AddSingleton<EventsApi>().AddSingleton<ListsApi>().AddSingleton<BooksApi>().AddSingleton<BatchesApi>().AddSingleton<Hooks>();
    }

    internal static void MapApi(this WebApplication app)
    {
        var api = app.MapGroup(Path).RequireAuthorization(Policy).RequireRateLimiting(Limits.Token);
        api.MapPost("/events", (EventsApi events, HttpContext http) => events.Take(http));
        api.MapGet("/events/{id}", (EventsApi events, HttpContext http, string id) => events.Find(http, id));
        api.MapGet("/lists/{list}", (ListsApi lists, HttpContext http, string list) => lists.Ours(http, list));
        api.MapPut("/lists/{list}", (ListsApi lists, HttpContext http, string list) => lists.Take(http, list));
        api.MapGet("/lists/{list}/matches", (ListsApi lists, HttpContext http, string list) => lists.Matches(http, list));
        api.MapGet("/entries", (BooksApi books, HttpContext http) => books.Entries(http));
        api.MapGet("/landings", (BooksApi books, HttpContext http) => books.Landings(http));
        api.MapGet("/where", (BooksApi books, HttpContext http) => books.Where(http));
        api.MapGet("/batches", (BatchesApi batches, HttpContext http) => batches.All(http));
        api.MapGet("/batches/{number:int}", (BatchesApi batches, HttpContext http, int number) => batches.One(http, number));
        api.MapPut("/batches/{number:int}/acknowledgement", (BatchesApi batches, HttpContext http, int number) => batches.Acknowledge(http, number));
        api.MapPut("/batches/{number:int}/refusal", (BatchesApi batches, HttpContext http, int number) => batches.Refuse(http, number));
        app.MapGet(Path + "/openapi.json", () => Results.Stream(typeof(Endpoints).Assembly.GetManifestResourceStream("api.openapi.json")!, "application/json"))
            .AllowAnonymous();
        app.MapPost("/hooks/{company}/{connection}", (Hooks hooks, HttpContext http, string company, string connection) => hooks.Take(http, company,
            connection))
            .AllowAnonymous().RequireRateLimiting(Limits.Hook);
    }

    internal static bool IsApi(HttpContext http) => http.Request.Path.StartsWithSegments("/api/v1", StringComparison.Ordinal)
        || http.Request.Path.StartsWithSegments("/hooks", StringComparison.Ordinal);
}
