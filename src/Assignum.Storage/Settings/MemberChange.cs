using Assignum.Core.Groups;

namespace Assignum.Storage.Settings;

/// <summary>What shall change about a member in the draft; null leaves it as it is.</summary>
/// <param name="Code">Code of the member; of a task with its project: "P-1/10".</param>
public sealed record MemberChange(string Code)
{
    /// <summary>Posting group.</summary>
    public string? Group { get; init; }
    /// <summary>Tax group of its own; empty: none, so that its posting group's holds.</summary>
    public string? TaxGroup { get; init; }
    /// <summary>Role of a party, as the formats spell it.</summary>
    public string? Role { get; init; }
    /// <summary>Kind of an item, as the formats spell it.</summary>
    public string? ItemKind { get; init; }
    /// <summary>Place that decides a party's tax; empty: none.</summary>
    public string? TaxArea { get; init; }
    /// <summary>Company of the group that a party is; empty: none.</summary>
    public string? Partner { get; init; }
    /// <summary>Method of a project, as the formats spell it.</summary>
    public string? Method { get; init; }
    /// <summary>How a fixed asset is depreciated, as a whole.</summary>
    public AssetSpread? Spread { get; init; }
}

/// <summary>How a fixed asset is depreciated.</summary>
/// <param name="Method">Its method; null: it is not.</param>
/// <param name="LifeMonths">Months of its life, above 0, or null.</param>
/// <param name="Percent">Per cent a year, above 0 and below 100, or null.</param>
/// <param name="Residual">What is left at the end, company currency, 0 or more.</param>
public sealed record AssetSpread(AssetMethod? Method, int? LifeMonths, decimal? Percent, decimal Residual)
{
    /// <summary>Why it can't be meant; null: it can.</summary>
    internal Refusal? Fault
    {
        get
        {
            var asset = new Asset { Code = "", Method = Method, LifeMonths = LifeMonths, Percent = Percent, Residual = Residual };
            if (asset.WhyMalformed is { } malformed)
                return new Refusal("spread", char.ToUpperInvariant(malformed[0]) + malformed[1..]);
            return asset.Lacks is { } lack ? new Refusal("spread", $"By this method it needs {lack}. Give it, or leave the method empty.") : null;
        }
    }
}

/// <summary>A member that is added.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Name">Its name.</param>
/// <param name="What">Kind of an item, role of a party, method of a project or an asset; null: none.</param>
/// <param name="Group">Posting group, or null.</param>
/// <param name="TaxGroup">Tax group of its own, or null.</param>
public sealed record NewMember(string Code, string Name, string? What, string? Group, string? TaxGroup)
{
    /// <summary>Cost of one unit of an item, company currency; null: unknown.</summary>
    public decimal? Cost { get; init; }
    /// <summary>Project of a task.</summary>
    public string? Owner { get; init; }
    /// <summary>How a fixed asset is depreciated.</summary>
    public AssetSpread? Spread { get; init; }
    /// <summary>Company of the group that a party is, or null.</summary>
    public string? Partner { get; init; }

    internal MemberSetting Setting(string kind, int id, Labels labels)
    {
        var plain = new MemberSetting(id, TaxGroup: labels.IdOf(Labels.Family(GroupStore.TaxFamily(kind)), TaxGroup));
        return kind switch
        {
            "party" => plain with { Role = What, Partner = labels.IdOf("partner", Partner) },
            "item" => plain with { ItemKind = What },
            "project" => plain with { Method = What },
            "asset" when Spread is { } spread => plain.With(spread),
            _ => plain,
        };
    }
}
