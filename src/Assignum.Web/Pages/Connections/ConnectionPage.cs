using System.Text.Json;
using Assignum.Storage.Connections;
using Assignum.Storage.People;
using Assignum.Web.Access;
using Assignum.Web.Connections;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages.Connections;

/// <summary>A page of one connection: it is there before the page begins.</summary>
public abstract class ConnectionPage(ConnectionStore connections, ListStore lists) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Connections";
    /// <summary>The connection of the address.</summary>
    public ConnectionRow Connection { get; private protected set; } = null!;
    /// <summary>Its lists.</summary>
    public IReadOnlyList<KeptList> Kept { get; private protected set; } = [];
    /// <summary>What the other system said of itself last; null: it has not been asked.</summary>
    public Health? Health { get; private protected set; }
    /// <summary>How many entries of each list there are, and how many of them wait.</summary>
    public IReadOnlyDictionary<string, ListCount> Counts { get; private protected set; } = new Dictionary<string, ListCount>();
    /// <summary>Whether the one who looks may change addresses, secrets and tokens.</summary>
    public bool MayAdminister => User.Has(Company.Code, Role.Administrator);
    /// <summary>Whether the one who looks reads the books.</summary>
    public bool MayRead => User.Reads(Company.Code);
    /// <summary>An address of this connection.</summary>
    public string AtConnection(string path = "") => At($"connections/{Uri.EscapeDataString(Connection.Code)}{(path.Length > 0 ? "/" + path : "")}");

    /// <inheritdoc/>
    [NonHandler]
    public override Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next) =>
        base.OnPageHandlerExecutionAsync(context, async () =>
        {
            if (await connections.Find(Company.Id, (string)RouteData.Values["code"]!, Stop) is not { } found)
            {
                context.Result = NotFound();
                return new PageHandlerExecutedContext(PageContext, context.Filters, context.HandlerMethod, context.HandlerInstance) { Canceled = true };
            }
            Connection = found;
            await Reload();
            return await next();
        });

    /// <summary>Reads what stands beside the connection.</summary>
    protected async Task Reload()
    {
        Kept = await lists.All(Company.Id, Connection.Id, Stop);
        Health = Connection.Answer is null ? null : JsonSerializer.Deserialize<Health>(Connection.Answer, Wire.Json);
        Counts = ListCount.Of(await lists.Counts(Company.Id, Stop), Connection, Books.Draft.Stored.Book);
    }
}

/// <summary>How much of a list is decided.</summary>
/// <param name="Entries">How many entries it has.</param>
/// <param name="Waiting">How many of them wait.</param>
/// <param name="Unseen">How many are new or have changed since somebody looked.</param>
public sealed record ListCount(int Entries, int Waiting, int Unseen)
{
    internal static IReadOnlyDictionary<string, ListCount> Of(IEnumerable<EntryCount> counts, ConnectionRow of, Core.Rulebooks.Rulebook draft) =>
        counts.Where(c => c.Connection == of.Id).OrderBy(c => ListStore.Known.ToList().IndexOf(c.List)).ToDictionary(c => c.List, c =>
        {
            var decided = c.NotNeeded + (MatchStore.SettingOf(c.List) is { } setting
                ? draft.Matches.Count(m => m.List == setting && Core.Fold.Same(m.Connection, of.Code)) : c.Matched);
            return new ListCount(c.Entries, Math.Max(0, c.Entries - decided), c.Unseen);
        });
}
