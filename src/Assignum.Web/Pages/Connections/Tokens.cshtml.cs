using Assignum.Storage.Connections;
using Assignum.Web.Access;
using Assignum.Web.Connections;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Connections;

/// <summary>Tokens by which a system signs in for this connection, and the secret it signs its calls with.</summary>
[Authorize(Policy = Policies.ReadsOrAdministers)]
public sealed class TokensModel(ConnectionStore connections, ListStore lists, TokenStore tokens, Secrets secrets) : ConnectionPage(connections, lists)
{
    readonly ConnectionStore connections = connections;

    /// <summary>The tokens.</summary>
    public IReadOnlyList<TokenRow> All { get; private set; } = [];
    /// <summary>A token that was just made; it is shown this once.</summary>
    public string? Made { get; private set; }
    /// <summary>A signing secret that was just made.</summary>
    public string? MadeSecret { get; private set; }
    /// <summary>Why none was made.</summary>
    public string? Fault { get; private set; }

    /// <summary>Shows them.</summary>
    [Needs(Need.ReadsOrAdministers)]
    public Task OnGetAsync() => Lay();

    async Task Lay() => All = await tokens.Of(Company.Id, Connection.Id, Stop);

    /// <summary>Makes a token.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostAsync(string? name)
    {
        if (string.IsNullOrWhiteSpace(name))
        {
            Fault = "What it is for is missing. Name who will use it, such as “nightly export”.";
            Response.StatusCode = StatusCodes.Status400BadRequest;
        }
        else
            Made = await tokens.Make(Company.Id, UserId, Connection, name, Stop);
        await Lay();
        return Page();
    }

    /// <summary>Ends a token at once.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostRevokeAsync(int id) =>
        await tokens.Revoke(Company.Id, UserId, Connection, id, Stop) ? Done("The token is revoked. Whoever has it can do nothing with it any more.",
            AtConnection("tokens"))
            : Done("That token was revoked already.", AtConnection("tokens"));

    /// <summary>Makes a new signing secret; the one before ends.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostSecretAsync(long seen)
    {
        var made = Web.Connections.Secrets.New();
        if (await connections.SetHookSecret(Company.Id, UserId, Connection with { Stamp = seen }, secrets.Close(made), Stop) is { } refusal)
        {
            Fault = refusal.Message;
            Response.StatusCode = StatusCodes.Status400BadRequest;
        }
        else
            MadeSecret = made;
        Connection = (await connections.Find(Company.Id, Connection.Code, Stop))!;
        await Lay();
        return Page();
    }
}
