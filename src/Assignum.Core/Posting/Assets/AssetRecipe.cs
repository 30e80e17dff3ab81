using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Recipes of fixed assets: found by their code, their rows with their movements.</summary>
abstract class AssetRecipe<T>(CompiledRulebook book, T happened) : Recipe<T>(book, happened) where T : BusinessEvent
{
    /// <summary>Finds the assets that the event itself names; the first that is not there is the fault.</summary>
    protected HeldReason? Find(string code, string field, out Asset asset) =>
        Book.Assets.TryFind(code, out asset!) ? null : HeldReason.Unknown(field, "fixed asset", code, "Add it, or correct the code.");

    /// <summary>What rows of an asset stand with.</summary>
    protected RowContext RowOf(Asset asset)
    {
        var facts = Row.Facts.Copy();
        Book.SetAsset(facts, asset);
        return Row with { Facts = facts };
    }

    /// <summary>Cost of an asset, debit positive, company currency.</summary>
    protected void WriteCost(Asset asset, RowContext row, decimal amount)
    {
        Entry.PostCompany(Purpose.AssetCost, row, amount);
        Entry.Move(new AssetMovement(asset, AssetPart.Cost, CompanyAmount(amount)));
    }

    /// <summary>Accumulated depreciation of an asset, debit positive, company currency.</summary>
    protected void WriteAccumulated(Asset asset, RowContext row, decimal amount)
    {
        Entry.PostCompany(Purpose.AccumulatedDepreciation, row, amount);
        Entry.Move(new AssetMovement(asset, AssetPart.Depreciation, CompanyAmount(amount)));
    }

    /// <summary>What is malformed about a cost and what is accumulated of it.</summary>
    protected static HeldReason? CostFault(Shape shape, decimal cost, decimal accumulated)
    {
        if (cost <= 0)
            return Shape.Fault(null, "cost", $"is {cost}; it is above 0");
        if (accumulated < 0 || accumulated > cost)
            return Shape.Fault(null, "accumulated", $"depreciation is {accumulated}; it goes from 0 to the cost of {cost}");
        return shape.OfCompanyMoney(null, "cost", cost) ?? shape.OfCompanyMoney(null, "accumulated", accumulated);
    }
}
