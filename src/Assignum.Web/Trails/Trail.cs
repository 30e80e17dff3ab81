using Assignum.Core.Rulebooks;

namespace Assignum.Web.Trails;

/// <summary>The rule at the end of a trail.</summary>
/// <param name="Name">Its id.</param>
/// <param name="InWords">Purpose and values.</param>
/// <param name="Address">Where it is looked at and changed.</param>
/// <param name="Valid">When it is valid.</param>
/// <param name="Since">The edition that brought it, and who released that.</param>
/// <param name="Used">How often it has answered.</param>
/// <param name="Note">What its author wrote beside it.</param>
public sealed record TrailRule(string Name, string InWords, string Address, string Valid, string Since, string Used, string? Note);

/// <summary>A step out of the trail: where it is mended, or where more is read.</summary>
/// <param name="Text">What the link says.</param>
/// <param name="Address">Where it leads.</param>
/// <param name="InDrawer">Whether it opens in the drawer.</param>
public sealed record TrailLinkTo(string Text, string Address, bool InDrawer = false);

/// <summary>The way from an amount back to its account, rung, rule, edition and releaser, as the drawer shows it.</summary>
public sealed record Trail
{
    /// <summary>"Revenue 23.75 lands on".</summary>
    public required string Heading { get; init; }
    /// <summary>The account, or null where nothing answers.</summary>
    public (string Number, string Name)? Account { get; init; }
    /// <summary>The landing in one sentence.</summary>
    public required string Sentence { get; init; }
    /// <summary>Whether the sentence is about something that is missing.</summary>
    public bool Defect { get; init; }
    /// <summary>What happened at each rung; empty where no ladder was asked.</summary>
    public IReadOnlyList<TrailStep> Steps { get; init; } = [];
    /// <summary>Number of the account that answered, for the drawing.</summary>
    public string? Answer => Account?.Number;
    /// <summary>The facts that were there, with the names of what they mean.</summary>
    public IReadOnlyList<(string Fact, string Code, string Name)> Facts { get; init; } = [];
    /// <summary>The answering rule.</summary>
    public TrailRule? Rule { get; init; }
    /// <summary>Further lines, such as the event and who posted it.</summary>
    public IReadOnlyList<(string Name, string Value, string? Address)> More { get; init; } = [];
    /// <summary>Ways on.</summary>
    public IReadOnlyList<TrailLinkTo> Links { get; init; } = [];
}
