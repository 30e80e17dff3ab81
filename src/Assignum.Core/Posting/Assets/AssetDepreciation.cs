using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>What an asset is depreciated by.</summary>
/// <param name="Asset">Code of the asset.</param>
/// <param name="Amount">Company currency, not 0; negative: depreciation is taken back.</param>
/// <param name="Place">Where the line is, and what is said of it.</param>
public sealed record DepreciatedAsset(string Asset, decimal Amount, LinePlace Place);

/// <summary>Depreciation of fixed assets.</summary>
public sealed record AssetDepreciation : BusinessEvent
{
    /// <summary>A depreciation with no header yet.</summary>
    public AssetDepreciation() { }

    /// <summary>A depreciation under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal AssetDepreciation(EventHeader header) : base(header) { }

    /// <summary>The assets.</summary>
    public IReadOnlyList<DepreciatedAsset> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Place.Dimensions);
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "asset-depreciation";
}

/// <summary>Depreciation against what has accumulated.</summary>
sealed class DepreciationRecipe(CompiledRulebook book, AssetDepreciation depreciation) : AssetRecipe<AssetDepreciation>(book, depreciation)
{
    internal static EventType Type { get; } = new(AssetDepreciation.Name, EventFamily.Assets,
    [
        new("lines", FieldKind.List)
        {
            Required = true,
            Inner = [new("asset", FieldKind.Code) { Required = true }, new("amount", FieldKind.Amount) { Required = true },
                .. LinePlace.Fields],
        },
    ], static (book, happened) => new DepreciationRecipe(book, (AssetDepreciation)happened).Land());

    protected override HeldReason? ShapeFault(Shape shape) => Shape.FirstOf(Happened.Lines, (line, i) => line.Amount == 0
        ? Shape.Fault(new Place("lines", i), "amount", "is 0. Leave the line out, or give an amount")
        : shape.OfCompanyMoney(new Place("lines", i), "amount", line.Amount)
            ?? Shape.OfTask(new Place("lines", i), line.Place.Task, line.Place.Project, Happened.Project));

    protected override void Write()
    {
        for (var i = 0; i < Happened.Lines.Count; i++)
            Write(Happened.Lines[i], new Place("lines", i));
    }

    void Write(DepreciatedAsset line, Place place)
    {
        var (facts, asset, row) = (Row.Facts.Copy(), default(Asset), Row);
        var known = Matches(unknown =>
        {
            asset = Matching.Code(Book.Assets, line.Asset, place, "asset", "fixed asset", unknown);
            row = OpenRow(facts, line.Place, place, unknown);
        });
        if (!known)
            return;
        Book.SetAsset(facts, asset!);
        Entry.PostCompany(Purpose.Depreciation, row, line.Amount);
        WriteAccumulated(asset!, row, -line.Amount);
    }
}
