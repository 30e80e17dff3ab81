using System.Net.Sockets;
using System.Text;
using System.Text.Encodings.Web;
using Npgsql;
using Serilog;

namespace Assignum.Web.Sending;

/// <summary>
/// While the database can't be reached every address says so, in words, with nothing asked of it. A page comes back by itself; a form that was sent
/// is kept in the answer and sent again by whoever typed it.
/// </summary>
static class DatabaseAway
{
    const string ComesBack = "This page comes back by itself as soon as it can.";
    const string KeptHere = "What you typed is kept here. As soon as the database is back you can send it again; "
        + "whether the first try was taken is checked then, and nothing is done twice.";

    internal static void UseDatabaseAway(this IApplicationBuilder app) => app.Use(async (http, next) =>
    {
        try
        {
            await next(http);
        }
        catch (Exception fault) when (IsAway(fault) && !http.Response.HasStarted)
        {
            Log.Error("The database can't be reached: {Why} at {Path}, request {Request}", fault.GetBaseException().Message, http.Request.Path.Value,
                http.TraceIdentifier);
            await Say(http);
        }
    });

    /// <summary>Whether something failed because the database is not there, and not because of what was asked.</summary>
    internal static bool IsAway(Exception? fault) => fault switch
    {
        null => false,
        PostgresException { SqlState: [.. var state] } => state.StartsWith("08", StringComparison.Ordinal) || state.StartsWith("57P", StringComparison.Ordinal)
            || state is PostgresErrorCodes.TooManyConnections or PostgresErrorCodes.InvalidCatalogName,
        NpgsqlException or SocketException => true,
        AggregateException many => many.InnerExceptions.Any(IsAway),
        _ => IsAway(fault.InnerException),
    };

    static async Task Say(HttpContext http)
    {
        http.Response.Clear();
        http.Response.StatusCode = StatusCodes.Status503ServiceUnavailable;
        http.Response.Headers.RetryAfter = "5";
        http.Response.Headers.CacheControl = "no-store";
        Access.SecurityHeaders.Set(http);
        if (http.Request.Path.StartsWithSegments("/health", StringComparison.Ordinal))
        {
            await http.Response.WriteAsync("the database can't be reached");
            return;
        }
        http.Response.ContentType = "text/html; charset=utf-8";
        // A part of a page stays as it is; the script says what is the matter.
        if (http.Request.Headers.ContainsKey("HX-Request") || http.Request.Headers.Accept.ToString().Contains("application/json", StringComparison.Ordinal))
            return;
        await http.Response.WriteAsync(Page(http), Encoding.UTF8);
    }

    static string Page(HttpContext http)
    {
        var sent = HttpMethods.IsPost(http.Request.Method) && http.Request.HasFormContentType ? http.Request.Form : null;
        return $"""
            <!doctype html><html lang="en"><head><meta charset="utf-8" /><meta name="viewport" content="width=device-width, initial-scale=1" />
            <title>The database can't be reached · Assignum</title><link rel="icon" href="/mark.svg" type="image/svg+xml" />
            <link rel="stylesheet" href="/lib/bootstrap.min.css" /><link rel="stylesheet" href="/fonts.css" /><link rel="stylesheet" href="/site.css" /><script
                src="/away.js" defer></script></head>
            <body data-away="{(sent is null ? "look" : "send")}"><main class="sign-in"><div class="mark"><img src="/mark.svg" alt="" width="18" height="18"
                />Assignum</div><h1>The database can't be reached</h1>
            <p>{(sent is null ? ComesBack : KeptHere)}</p>
            <p class="soft" role="status" id="away">Looking every two seconds …</p>{(sent is null ? "" : Kept(http, sent))}
            <p class="small soft">If it lasts, tell whoever runs this installation. Request
                {HtmlEncoder.Default.Encode(http.TraceIdentifier)}</p></main></body></html>
            """;
    }

    static string Kept(HttpContext http, IFormCollection sent)
    {
        string Field(string name, string? value) =>
            $"<textarea hidden name=\"{HtmlEncoder.Default.Encode(name)}\">\n{HtmlEncoder.Default.Encode(value ?? "")}</textarea>";
        var fields = string.Concat(sent.SelectMany(f => f.Value.Select(v => Field(f.Key, v))));
        return $"<form method=\"post\" action=\"{HtmlEncoder.Default.Encode(http.Request.Path + http.Request.QueryString.Value)}\">{fields}"
            + "<button class=\"act main\" type=\"submit\" disabled>Send it again</button></form>";
    }
}
