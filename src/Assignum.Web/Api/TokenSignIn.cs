using System.Security.Claims;
using System.Text.Encodings.Web;
using Assignum.Storage.Connections;
using Assignum.Web.Connections;
using Microsoft.AspNetCore.Authentication;
using Microsoft.Extensions.Options;

namespace Assignum.Web.Api;

/// <summary>Systems sign in with the token of a connection, in every request.</summary>
sealed class TokenSignIn(IOptionsMonitor<AuthenticationSchemeOptions> options, ILoggerFactory log, UrlEncoder encoder, TokenStore tokens)
    : AuthenticationHandler<AuthenticationSchemeOptions>(options, log, encoder)
{
    internal const string Scheme_ = "Token", HolderKey = "token-holder";

    protected override async Task<AuthenticateResult> HandleAuthenticateAsync()
    {
        if (Request.Headers.Authorization.ToString() is not { Length: > 7 } said || !said.StartsWith("Bearer ", StringComparison.OrdinalIgnoreCase))
            return AuthenticateResult.NoResult();
        if (await tokens.Holder(said[7..].Trim(), Context.RequestAborted) is not { } holder)
            return AuthenticateResult.Fail("The token is not known, or revoked.");
        Context.Items[HolderKey] = holder;
        var identity = new ClaimsIdentity([new Claim("token", holder.Token.ToString(System.Globalization.CultureInfo.InvariantCulture))], Scheme_);
        return AuthenticateResult.Success(new(new ClaimsPrincipal(identity), Scheme_));
    }

    protected override Task HandleChallengeAsync(AuthenticationProperties properties)
    {
        Response.Headers.WWWAuthenticate = "Bearer";
        return Problem.Of(401, "No token",
            "Send the header Authorization: Bearer with a token of the connection. An administrator makes one under Connections, Tokens.")
            .ExecuteAsync(Context);
    }
}

/// <summary>Whom a request of the API speaks for.</summary>
static class Speaking
{
    internal static TokenHolder Holder(this HttpContext http) => (TokenHolder)http.Items[TokenSignIn.HolderKey]!;

    internal static async Task<ConnectionRow> Connection(this HttpContext http) =>
        (await http.RequestServices.GetRequiredService<ConnectionStore>().Find(http.Holder().Company, http.Holder().Connection, http.RequestAborted))!;
}

/// <summary>Faults as RFC 9457 has them.</summary>
static class Problem
{
    internal static IResult Of(int status, string title, string detail) =>
        Results.Problem(detail, title: title, statusCode: status, type: "about:blank");
}
