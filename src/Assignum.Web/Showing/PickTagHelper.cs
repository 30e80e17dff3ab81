using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Assignum.Web.Showing;

/// <summary>A field that offers choices while somebody types, from a list of the company.</summary>
[HtmlTargetElement("input", Attributes = "pick")]
public sealed class PickTagHelper : TagHelper
{
    /// <summary>Address of the list: "/qn/choose/account".</summary>
    public string Pick { get; set; } = "";

    /// <summary>Of accounts: name of the purpose one is wanted for; what does not suit is said while it is typed.</summary>
    [HtmlAttributeName("pick-for")]
    public string? For { get; set; }

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.Attributes.SetAttribute("data-pick", Pick);
        output.Attributes.SetAttribute("role", "combobox");
        output.Attributes.SetAttribute("aria-autocomplete", "list");
        output.Attributes.SetAttribute("aria-expanded", "false");
        output.Attributes.SetAttribute("autocomplete", "off");
        output.Attributes.SetAttribute("spellcheck", "false");
        if (For is not null)
            output.Attributes.SetAttribute("data-purpose", For);
    }
}
