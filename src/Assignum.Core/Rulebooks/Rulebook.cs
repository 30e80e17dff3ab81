using System.Collections.Immutable;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Taxes;

namespace Assignum.Core.Rulebooks;

/// <summary>Whether a tax is rounded once over a document's lines of a code, or line by line.</summary>
public enum TaxRounding { Document, Line }

/// <summary>Which text a ledger line of an event's line shows first; the other where that one has none.</summary>
public enum LineText { Line, Document }

/// <summary>Options of a company that can change a landing.</summary>
public sealed record CompanyOptions
{
    /// <summary>Discounts are shown on accounts of their own.</summary>
    public bool SeparateDiscounts { get; init; }
    /// <summary>Stock is kept in the ledger with every movement.</summary>
    public bool PerpetualStock { get; init; } = true;
    /// <summary>Where tax is rounded.</summary>
    public TaxRounding TaxRounding { get; init; }
    /// <summary>By how much a tax as charged may differ, in document currency; null: one minor unit for each line of the code.</summary>
    public decimal? TaxTolerance { get; init; }
    /// <summary>Where the text of ledger lines comes from.</summary>
    public LineText LineText { get; init; }

    /// <summary>The text of a ledger line.</summary>
    /// <param name="line">The line's own; null: none.</param>
    /// <param name="document">The document's; null: none.</param>
    internal string? TextOf(string? line, string? document) => LineText == LineText.Line ? line ?? document : document ?? line;
}

/// <summary>The company a rulebook belongs to.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Name">Its name.</param>
/// <param name="Currency">ISO 4217 code of the currency its books are kept in.</param>
/// <param name="Options">Its options.</param>
public sealed record Company(string Code, string Name, string Currency, CompanyOptions Options);

/// <summary>All settings of a company, as written down. <see cref="Findings.RulebookChecks"/> says what is wrong with it; only one without errors can be
/// compiled.</summary>
public sealed record Rulebook
{
    /// <summary>The company.</summary>
    public required Company Company { get; init; }
    /// <summary>The chart of accounts.</summary>
    public IReadOnlyList<Account> Accounts { get; init; } = [];
    /// <summary>Posting groups of parties.</summary>
    public IReadOnlyList<Group> PartyGroups { get; init; } = [];
    /// <summary>Posting groups of items.</summary>
    public IReadOnlyList<Group> ItemGroups { get; init; } = [];
    /// <summary>Posting groups of projects.</summary>
    public IReadOnlyList<Group> ProjectGroups { get; init; } = [];
    /// <summary>Posting groups of fixed assets.</summary>
    public IReadOnlyList<Group> AssetGroups { get; init; } = [];
    /// <summary>Tax groups of parties.</summary>
    public IReadOnlyList<Group> PartyTaxGroups { get; init; } = [];
    /// <summary>Tax groups of items.</summary>
    public IReadOnlyList<Group> ItemTaxGroups { get; init; } = [];
    /// <summary>Customers and suppliers.</summary>
    public IReadOnlyList<Party> Parties { get; init; } = [];
    /// <summary>Items.</summary>
    public IReadOnlyList<Item> Items { get; init; } = [];
    /// <summary>Locations.</summary>
    public IReadOnlyList<Location> Locations { get; init; } = [];
    /// <summary>Projects with their tasks.</summary>
    public IReadOnlyList<Project> Projects { get; init; } = [];
    /// <summary>Fixed assets.</summary>
    public IReadOnlyList<Asset> Assets { get; init; } = [];
    /// <summary>Companies of the group that parties can be.</summary>
    public IReadOnlyList<Partner> Partners { get; init; } = [];
    /// <summary>Tax codes.</summary>
    public IReadOnlyList<TaxCode> TaxCodes { get; init; } = [];
    /// <summary>Tax rules.</summary>
    public IReadOnlyList<TaxRule> TaxRules { get; init; } = [];
    /// <summary>Ladders the company has replaced.</summary>
    public IReadOnlyDictionary<Purpose, ImmutableArray<Rung>> Ladders { get; init; } = ImmutableDictionary<Purpose, ImmutableArray<Rung>>.Empty;
    /// <summary>The rules.</summary>
    public IReadOnlyList<Rule> Rules { get; init; } = [];
    /// <summary>Which items, categories and tax codes of connections are which of ours.</summary>
    public IReadOnlyList<Matching.Match> Matches { get; init; } = [];

    /// <summary>What the entries of a list of a connection are here, by the folds of their codes there.</summary>
    public IReadOnlyDictionary<string, Matching.Match> MatchesOf(string connection, Matching.SettingList list) =>
        Matches.Where(m => m.List == list && Fold.Same(m.Connection, connection)).ToDictionary(m => Fold.Of(m.Theirs));

    /// <summary>Whether the other differs at most in its rules. Large lists are compared by reference: editions share them.</summary>
    internal bool SharesAllButRules(Rulebook other) =>
        ReferenceEquals(Accounts, other.Accounts) && ReferenceEquals(Items, other.Items) && ReferenceEquals(Parties, other.Parties)
        && ReferenceEquals(Locations, other.Locations) && ReferenceEquals(Projects, other.Projects) && Assets.SequenceEqual(other.Assets)
        && Partners.SequenceEqual(other.Partners) && Company == other.Company
        && PartyGroups.SequenceEqual(other.PartyGroups) && ItemGroups.SequenceEqual(other.ItemGroups) && ProjectGroups.SequenceEqual(other.ProjectGroups)
        && AssetGroups.SequenceEqual(other.AssetGroups) && PartyTaxGroups.SequenceEqual(other.PartyTaxGroups)
            && ItemTaxGroups.SequenceEqual(other.ItemTaxGroups)
        && Matches.SequenceEqual(other.Matches) && TaxRules.SequenceEqual(other.TaxRules) && TaxCodes.Count == other.TaxCodes.Count
            && TaxCodes.Zip(other.TaxCodes).All(pair => pair.First.Says(pair.Second))
        && Purpose.All.All(purpose => LadderOf(purpose).SequenceEqual(other.LadderOf(purpose)));

    /// <summary>The ladder of a purpose: the company's own, else the default one.</summary>
    public ImmutableArray<Rung> LadderOf(Purpose purpose) => Ladders.TryGetValue(purpose, out var own) ? own : purpose.DefaultLadder;
}
