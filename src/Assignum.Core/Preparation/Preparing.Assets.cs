using Assignum.Core.Posting;

namespace Assignum.Core.Preparation;

public sealed partial class Preparing
{
    /// <summary>What a disposal takes off its asset has to be there: cost, and what has accumulated of depreciation.</summary>
    internal AssetDisposal OffAsset(AssetDisposal disposal)
    {
        TakeOff(disposal.Asset, disposal.Cost, disposal.Accumulated);
        return disposal;
    }

    /// <summary>So it is with a transfer, which goes to another asset.</summary>
    internal AssetTransfer OffAsset(AssetTransfer transfer)
    {
        TakeOff(transfer.From, transfer.Cost, transfer.Accumulated);
        if (Fold.Same(transfer.From, transfer.To))
            objections.Add(HeldReason.Invalid("to", $"The cost of {transfer.From} goes to {transfer.To} itself. Name another asset that it goes to."));
        return transfer;
    }

    // An asset that is not known is held for that.
    void TakeOff(string code, decimal cost, decimal accumulated)
    {
        if (!book.Assets.TryFind(code, out var asset))
            return;
        var (stands, worn) = books.Assets.Of(asset.Code);
        if (cost > stands)
            objections.Add(HeldReason.Invalid("cost", $"{asset.Code} {asset.Name} stands at a cost of {OwnMoney(stands)}, and {OwnMoney(cost)} of it goes. " +
                "Lower it, or post first what the asset cost."));
        else if (accumulated > worn)
            objections.Add(HeldReason.Invalid("accumulated", $"{asset.Code} {asset.Name} is depreciated by {OwnMoney(worn)}, and {OwnMoney(accumulated)} " +
                "of it goes. Lower it, or depreciate the asset first."));
    }

    string OwnMoney(decimal amount) => $"{amount.ToString("N" + book.CompanyMinorUnits, Written.Now)} {book.CompanyCurrency}";
}
