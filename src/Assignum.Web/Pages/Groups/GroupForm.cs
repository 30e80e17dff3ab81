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
        if (Core.Written.Now.TryNumber(Cost, out var typed) && typed >= 0)
            return (typed, null);
        return (null, new Refusal("cost", Sending.Typed.NotANumber(Cost) + " A cost is 0 or more."));
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
