using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Assignum.Web.Showing;

/// <summary>An account by number and name: the number in the mono face, so that numbers stand under each other.</summary>
[HtmlTargetElement("account", TagStructure = TagStructure.WithoutEndTag)]
public sealed class AccountTagHelper : TagHelper
{
    /// <summary>Number.</summary>
    public string Number { get; set; } = "";
    /// <summary>Name.</summary>
    public string? Name { get; set; }

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.TagMode = TagMode.StartTagAndEndTag;
        output.TagName = "span";
        output.Content.SetHtmlContent($"<span class=\"num\">{HtmlEncoder.Default.Encode(Number)}</span> {HtmlEncoder.Default.Encode(Name ?? "")}");
    }
}
