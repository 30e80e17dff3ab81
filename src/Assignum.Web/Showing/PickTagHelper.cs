using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Assignum.Web.Showing;

/// <summary>A field that offers choices while somebody types, from a list of the company.</summary>
[HtmlTargetElement("input", Attributes = "pick")]
public sealed class PickTagHelper : TagHelper
{
    /// <summary>Address of the list: "/qn/choose/account".</summary>
    public string Pick { get; set; } = "";

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var list = "list-" + Pick.Replace('/', '-');
        output.Attributes.SetAttribute("autocomplete", "off");
        output.Attributes.SetAttribute("hx-get", Pick);
        output.Attributes.SetAttribute("hx-trigger", "input changed delay:100ms, focus once");
        output.Attributes.SetAttribute("hx-target", "next datalist");
        output.Attributes.SetAttribute("hx-swap", "innerHTML");
        output.Attributes.SetAttribute("hx-params", output.Attributes["name"]?.Value?.ToString() ?? "*");
        var id = list + "-" + context.UniqueId;
        output.Attributes.SetAttribute("list", id);
        output.PostElement.AppendHtml($"<datalist id=\"{id}\"></datalist>");
    }
}
