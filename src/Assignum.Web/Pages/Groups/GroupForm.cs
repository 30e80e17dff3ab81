using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Storage.Settings;

namespace Assignum.Web.Pages.Groups;

/// <summary>What is typed for a group or a member.</summary>
public sealed class GroupForm
{
    public string? Code { get; set; }
    public string? Name { get; set; }
    public string? Group { get; set; }
    public string? TaxGroup { get; set; }
    public string? Kind { get; set; }
    public string? Cost { get; set; }
    public string? TaxArea { get; set; }
    public string? Partner { get; set; }
    public string? LifeMonths { get; set; }
    public string? Percent { get; set; }
    public string? Residual { get; set; }
    /// <summary>It is a task, whose project has the method.</summary>
    public bool IsTask { get; set; }
    /// <summary>New members of the family begin in the group.</summary>
    public bool IsDefault { get; set; }
    /// <summary>Project of a task.</summary>
    public string? Project { get; set; }
    /// <summary>Code of the group whose rules a new one begins with.</summary>
    public string? CopyOf { get; set; }
    /// <summary>The code a group has from now on.</summary>
    public string? NewCode { get; set; }
    /// <summary>The group another becomes one with.</summary>
    public string? Into { get; set; }
    /// <summary>Rules the other has no counterpart of go over to it.</summary>
    public bool KeepRules { get; set; }
    /// <summary>What was seen of it when the form was opened.</summary>
    public string? Seen { get; set; }

    /// <summary>The cost that was typed, or why it can't be read.</summary>
    internal (decimal? Cost, Refusal? Refusal) ReadCost()
    {
        if (string.IsNullOrWhiteSpace(Cost))
            return (null, null);
        if (Written.Now.TryNumber(Cost, out var typed) && typed >= 0)
            return (typed, null);
        return (null, new Refusal("cost", Sending.Typed.NotANumber(Cost) + " A cost is 0 or more."));
    }

    /// <summary>How an asset is depreciated, or what of it can't be read.</summary>
    internal (AssetSpread? Spread, Refusal? Refusal) ReadSpread()
    {
        AssetMethod? method = Text(Kind) is { } word ? Words<AssetMethod>.Parse(word) : null;
        var (ofLife, ofPercent, ofResidual) = (Read(LifeMonths, "lifeMonths", out var life), Read(Percent, "percent", out var percent),
            Read(Residual, "residual", out var residual));
        var refusal = ofLife ?? ofPercent ?? ofResidual;
        if (refusal is null && life is { } months && (months != decimal.Truncate(months) || months is < 1 or > 1200))
            refusal = new Refusal("lifeMonths", $"The life is {LifeMonths} months. Give a whole number from 1 to 1,200.");
        return refusal is null ? (new AssetSpread(method, (int?)life, percent, residual ?? 0), null) : (null, refusal);
    }

    static Refusal? Read(string? typed, string field, out decimal? number)
    {
        number = null;
        if (string.IsNullOrWhiteSpace(typed))
            return null;
        if (!Written.Now.TryNumber(typed, out var read))
            return new Refusal(field, Sending.Typed.NotANumber(typed));
        number = read;
        return null;
    }

    internal static string? Text(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();
}

/// <summary>A form of the drawer.</summary>
public sealed record GroupPanel(IndexModel Page, string What, GroupForm Form, Refusal? Refusal)
{
    /// <summary>What uses the group, in words; empty: nothing.</summary>
    public string Uses { get; init; } = "";

    /// <summary>The fault of a field, or null.</summary>
    public string? FaultOf(string field) => Refusal?.Field == field ? Refusal.Message : null;
}
