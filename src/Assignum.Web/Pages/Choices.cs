using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Web.Pages;

/// <summary>The lists of a rulebook from which somebody chooses by typing.</summary>
static class Choices
{
    /// <summary>Numbers or codes with their names; null where there is no such list.</summary>
    internal static IEnumerable<(string Code, string Name)>? Of(Rulebook book, string list) => list switch
    {
        "account" => book.Accounts.Where(a => a.Kind == AccountKind.Posting).Select(a => (a.Number, a.Name)),
        "parent" => book.Accounts.Select(a => (a.Number, a.Name)),
        "customer" => book.Parties.Where(p => p.Role != PartyRole.Supplier).Select(p => (p.Code, p.Name)),
        "supplier" => book.Parties.Where(p => p.Role != PartyRole.Customer).Select(p => (p.Code, p.Name)),
        "party" => book.Parties.Select(p => (p.Code, p.Name)),
        "item" => book.Items.Select(i => (i.Code, i.Name)),
        "sold" => book.Items.Select(i => (i.Code, i.Name)).Concat(book.Accounts.Where(a => a.Kind == AccountKind.Posting).Select(a => (a.Number, a.Name)))
            .Concat(book.Assets.Select(a => (a.Code, a.Name))),
        "asset" => book.Assets.Select(a => (a.Code, a.Name)),
        "partner" => book.Partners.Select(p => (p.Code, p.Name)),
        "itemGroup" => book.ItemGroups.Select(g => (g.Code, g.Name)),
        "partyGroup" => book.PartyGroups.Select(g => (g.Code, g.Name)),
        "projectGroup" => book.ProjectGroups.Select(g => (g.Code, g.Name)),
        "assetGroup" => book.AssetGroups.Select(g => (g.Code, g.Name)),
        "activity" => Formats.Charts.Activities.All.Select(a => (a.Code, a.Name)),
        "itemTaxGroup" => book.ItemTaxGroups.Select(g => (g.Code, g.Name)),
        "partyTaxGroup" => book.PartyTaxGroups.Select(g => (g.Code, g.Name)),
        "location" => book.Locations.Select(l => (l.Code, l.Name)),
        "project" => book.Projects.Select(p => (p.Code, p.Name)),
        "task" => book.Projects.SelectMany(p => p.Tasks.Select(t => (p.Code + "/" + t.Code, t.Name))),
        "taxCode" => book.TaxCodes.Select(t => (t.Code, t.Name)),
        "itemKind" => Words<ItemKind>.All.Select(k => (k, "")),
        "moneyAccount" => Asked(book, Fact.MoneyAccount),
        "method" => Asked(book, Fact.Method),
        "connection" => Asked(book, Fact.Connection),
        "reason" => Asked(book, Fact.Reason).Concat([("count", ""), ("damage", ""), ("sample", ""), ("theft", ""), ("expiry",
            "")]).DistinctBy(r => Fold.Of(r.Item1)),
        _ => null,
    };

    // Codes without a list of their own are those that rules ask for.
    static IEnumerable<(string Code, string Name)> Asked(Rulebook book, Fact fact) =>
        book.Rules.SelectMany(r => r.When).Where(w => w.Fact == fact).Select(w => w.Code).DistinctBy(Fold.Of).Select(code => (code, ""));
}
