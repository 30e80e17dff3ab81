namespace Assignum.Web.Pages.HeldEvents;

/// <summary>What is typed to fix the cause of held events.</summary>
public sealed class FixForm
{
    /// <summary>Name of the rung of the rule.</summary>
    public string? Rung { get; set; }
    /// <summary>The account, by number or part of its name.</summary>
    public string? Account { get; set; }
    /// <summary>The tax code.</summary>
    public string? TaxCode { get; set; }
    /// <summary>Cost of one unit.</summary>
    public string? Cost { get; set; }
    /// <summary>Name of a member that is added.</summary>
    public string? Name { get; set; }
    /// <summary>Kind of an item, or role of a party.</summary>
    public string? Is { get; set; }
    /// <summary>Its group.</summary>
    public string? Group { get; set; }
    /// <summary>Its tax group.</summary>
    public string? TaxGroup { get; set; }
}
