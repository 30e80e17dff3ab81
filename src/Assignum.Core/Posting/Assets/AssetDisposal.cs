using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>A fixed asset, or a part of it, that is written off; what it was sold for comes by a sales document or a journal.</summary>
public sealed record AssetDisposal : BusinessEvent
{
    /// <summary>A disposal with no header yet.</summary>
    public AssetDisposal() { }

    /// <summary>A disposal under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal AssetDisposal(EventHeader header, string asset) : base(header) => Asset = asset;

    /// <summary>Code of the asset.</summary>
    public required string Asset { get; init; }
    /// <summary>Cost that goes, company currency, above 0.</summary>
    public decimal Cost { get; init; }
    /// <summary>Depreciation that has accumulated of it, 0 to the cost.</summary>
    public decimal Accumulated { get; init; }

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "asset-disposal";
}

/// <summary>Cost and what has accumulated go; the book value that is left is disposed of.</summary>
sealed class AssetDisposalRecipe(CompiledRulebook book, AssetDisposal disposal) : AssetRecipe<AssetDisposal>(book, disposal)
{
    Asset asset = null!;

    internal static EventType Type { get; } = new(AssetDisposal.Name, EventFamily.Assets,
    [
        new("asset", FieldKind.Code) { Required = true }, new("cost", FieldKind.Amount) { Required = true }, new("accumulated", FieldKind.Amount),
    ], static (book, happened) => new AssetDisposalRecipe(book, (AssetDisposal)happened).Land())
    {
        Prepare = static (preparing, happened) => preparing.OffAsset((AssetDisposal)happened),
    };

    protected override HeldReason? ShapeFault(Shape shape) => CostFault(shape, Happened.Cost, Happened.Accumulated);

    protected override HeldReason? Open() => Find(Happened.Asset, "asset", out asset);

    protected override void Write()
    {
        var row = RowOf(asset);
        WriteAccumulated(asset, row, Happened.Accumulated);
        WriteCost(asset, row, -Happened.Cost);
        Entry.PostCompany(Purpose.AssetDisposal, row, Happened.Cost - Happened.Accumulated);
    }
}
