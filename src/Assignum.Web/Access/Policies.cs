using Assignum.Storage.People;
using Microsoft.AspNetCore.Authorization;

namespace Assignum.Web.Access;

/// <summary>What a page or an act demands of whoever asks for it, in the company of the address.</summary>
static class Policies
{
    internal const string SignedIn = nameof(SignedIn), Reads = nameof(Reads), Prepares = nameof(Prepares), Approves = nameof(Approves),
        Administers = nameof(Administers), ReadsOrAdministers = nameof(ReadsOrAdministers);

    internal static void Add(AuthorizationOptions options)
    {
        Add(Reads, Role.Viewer, Role.Preparer, Role.Approver);
        Add(Prepares, Role.Preparer, Role.Approver);
        Add(Approves, Role.Approver);
        Add(Administers, Role.Administrator);
        Add(ReadsOrAdministers, Role.Viewer, Role.Preparer, Role.Approver, Role.Administrator);
        options.AddPolicy(SignedIn, policy => policy.RequireAuthenticatedUser());
        options.FallbackPolicy = options.GetPolicy(Reads);

        void Add(string name, params Role[] roles) =>
            options.AddPolicy(name, policy => policy.RequireAuthenticatedUser().AddRequirements(new RoleInCompany(roles)));
    }
}

/// <summary>One of these roles in the company that the address names.</summary>
sealed record RoleInCompany(IReadOnlyList<Role> Roles) : IAuthorizationRequirement;

/// <summary>Looks for the role among the claims, which every request reads anew from the database.</summary>
sealed class RoleInCompanyHandler : AuthorizationHandler<RoleInCompany>
{
    protected override Task HandleRequirementAsync(AuthorizationHandlerContext context, RoleInCompany requirement)
    {
        // Where no page is, no role is missing; the answer is that nothing is there.
        if (context.Resource is HttpContext bare && bare.GetEndpoint() is null)
            context.Succeed(requirement);
        else if (context.Resource is HttpContext http && http.GetRouteValue("company") is string company
            && requirement.Roles.Any(role => context.User.Has(company, role)))
            context.Succeed(requirement);
        return Task.CompletedTask;
    }
}
