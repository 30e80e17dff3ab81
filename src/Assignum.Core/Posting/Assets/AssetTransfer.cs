using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Cost, and the depreciation with it, that goes from one fixed asset to another.</summary>
public sealed record AssetTransfer : BusinessEvent
{
    /// <summary>A transfer with no header yet.</summary>
    public AssetTransfer() { }

    /// <summary>A transfer under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal AssetTransfer(EventHeader header, string from, string to) : base(header) => (From, To) = (from, to);

    /// <summary>Code of the asset it leaves.</summary>
    public required string From { get; init; }
    /// <summary>Code of the asset it comes to.</summary>
    public required string To { get; init; }
    /// <summary>Cost, company currency, above 0.</summary>
    public decimal Cost { get; init; }
    /// <summary>Depreciation that has accumulated of it, 0 to the cost.</summary>
    public decimal Accumulated { get; init; }

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "asset-transfer";
}

/// <summary>Cost comes to the one and leaves the other, and so does what has accumulated.</summary>
sealed class AssetTransferRecipe(CompiledRulebook book, AssetTransfer transfer) : AssetRecipe<AssetTransfer>(book, transfer)
{
    Asset from = null!, to = null!;

    internal static EventType Type { get; } = new(AssetTransfer.Name, EventFamily.Assets,
    [
        new("from", FieldKind.Code) { Required = true }, new("to", FieldKind.Code) { Required = true }, new("cost", FieldKind.Amount) { Required = true },
        new("accumulated", FieldKind.Amount),
    ], static (book, happened) => new AssetTransferRecipe(book, (AssetTransfer)happened).Land())
    {
        Prepare = static (preparing, happened) => preparing.OffAsset((AssetTransfer)happened),
    };

    protected override HeldReason? ShapeFault(Shape shape) => CostFault(shape, Happened.Cost, Happened.Accumulated);

    protected override HeldReason? Open() => Find(Happened.From, "from", out from) ?? Find(Happened.To, "to", out to);

    protected override void Write()
    {
        var (left, come) = (RowOf(from), RowOf(to));
        WriteCost(to, come, Happened.Cost);
        WriteCost(from, left, -Happened.Cost);
        WriteAccumulated(from, left, Happened.Accumulated);
        WriteAccumulated(to, come, -Happened.Accumulated);
    }
}
