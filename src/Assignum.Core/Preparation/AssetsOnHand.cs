using Assignum.Core.Posting;

namespace Assignum.Core.Preparation;

/// <summary>Cost and accumulated depreciation of fixed assets, in posting order.</summary>
public sealed class AssetsOnHand
{
    readonly Dictionary<string, (decimal Cost, decimal Accumulated)> standing = [];

    /// <summary>Assets that were asked for, by the folds of their codes.</summary>
    public HashSet<string> Asked { get; } = [];

    /// <summary>What stands of an asset; nothing where it never came.</summary>
    /// <param name="asset">Code of the asset.</param>
    /// <returns>Its cost and its accumulated depreciation, company currency, both positive.</returns>
    internal (decimal Cost, decimal Accumulated) Of(string asset)
    {
        Asked.Add(Fold.Of(asset));
        return standing.GetValueOrDefault(Fold.Of(asset));
    }

    /// <summary>Cost and depreciation come to an asset, or go where they are negative.</summary>
    /// <param name="asset">Code of the asset.</param>
    /// <param name="cost">Cost, company currency.</param>
    /// <param name="accumulated">Accumulated depreciation, company currency; positive: more.</param>
    public void Move(string asset, decimal cost, decimal accumulated)
    {
        var now = standing.GetValueOrDefault(Fold.Of(asset));
        standing[Fold.Of(asset)] = (now.Cost + cost, now.Accumulated + accumulated);
    }

    internal void Apply(AssetMovement moved) =>
        Move(moved.Asset.Code, moved.Part == AssetPart.Cost ? moved.Value.Amount : 0, moved.Part == AssetPart.Cost ? 0 : -moved.Value.Amount);
}
