using System.Security.Claims;
using Assignum.Storage.People;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.OpenIdConnect;

namespace Assignum.Web.Access;

/// <summary>
/// Sign-in through an outside identity provider (OpenID Connect), by configuration: who may do what is still granted here. The first time the provider's
/// preferred_username must be a name here; from then on its subject is that person, whatever it is called there.
/// </summary>
static class OutsideSignIn
{
    internal const string Scheme = "outside";

    internal static string? NameOf(IConfiguration configuration) =>
        configuration["Outside:Authority"] is { Length: > 0 } ? configuration["Outside:Name"] ?? "your organisation" : null;

    internal static void AddOutside(this AuthenticationBuilder authentication, IConfiguration configuration)
    {
        if (NameOf(configuration) is null)
            return;
        authentication.AddOpenIdConnect(Scheme, outside =>
        {
            outside.Authority = configuration["Outside:Authority"];
            outside.ClientId = configuration["Outside:ClientId"];
            outside.ClientSecret = configuration["Outside:ClientSecret"];
            outside.ResponseType = "code";
            outside.UsePkce = true;
            outside.RequireHttpsMetadata = !configuration.GetValue("Outside:AllowHttp", false);
            outside.CallbackPath = "/sign-in/outside";
            outside.MapInboundClaims = false;
            outside.SaveTokens = false;
            outside.Events.OnTicketReceived = TakeIn;
            outside.Events.OnRemoteFailure = context =>
            {
                SecurityEvents.Failed(context.HttpContext, null, "the outside sign-in failed");
                context.Response.Redirect("/sign-in?fault=outside");
                context.HandleResponse();
                return Task.CompletedTask;
            };
        });
    }

    // The provider has said who it is; whether that is somebody here, and what they may do, is ours to say.
    static async Task TakeIn(TicketReceivedContext context)
    {
        var services = context.HttpContext.RequestServices;
        var (people, stop) = (services.GetRequiredService<PersonStore>(), context.HttpContext.RequestAborted);
        var said = context.Principal!;
        var subject = $"{said.FindFirstValue("iss")}|{said.FindFirstValue("sub")}";
        var person = await people.FindOutside(subject, stop);
        if (person is null && said.FindFirstValue("preferred_username") is { Length: > 0 } name && await people.Find(name, stop) is { Disabled: false } named)
        {
            await people.TieOutside(named.Id, subject, stop);
            person = await people.FindOutside(subject, stop);
        }
        context.HandleResponse();
        if (person is null || person.Disabled)
        {
            SecurityEvents.Failed(context.HttpContext, person?.Id, "the outside sign-in names nobody here");
            context.Response.Redirect("/sign-in?fault=outside");
            return;
        }
        // The provider's own second factor counts where it says that there was one (RFC 8176).
        var methods = said.FindAll("amr").Select(c => c.Value).ToHashSet();
        await SignedIn.Begin(context.HttpContext, person, methods.Overlaps(["mfa", "otp", "hwk", "fpt"]), stop);
        context.Response.Redirect(context.ReturnUri is { } back && back.StartsWith('/') && !back.StartsWith("//", StringComparison.Ordinal) ? back : "/");
    }
}
