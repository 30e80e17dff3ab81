using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Assignum.Web.Showing;

/// <summary>An amount; with a trail it can be asked where it came from.</summary>
[HtmlTargetElement("amount", TagStructure = TagStructure.WithoutEndTag)]
public sealed class AmountTagHelper : TagHelper
{
    /// <summary>The amount; nothing is shown for null.</summary>
    public decimal? Value { get; set; }
    /// <summary>Decimals of the currency.</summary>
    public int Decimals { get; set; } = 2;
    /// <summary>Address of the trail, or null.</summary>
    public string? Trail { get; set; }
    /// <summary>Currency to show beside it, or null.</summary>
    public string? Currency { get; set; }

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.TagMode = TagMode.StartTagAndEndTag;
        output.TagName = Trail is null ? "span" : "a";
        output.Attributes.SetAttribute("class", "num");
        if (Trail is not null)
            TrailLink.Set(output, Trail);
        if (Value is { } amount)
            output.Content.SetContent(Show.Amount(amount, Decimals) + (Currency is null ? "" : " " + Currency));
    }
}

/// <summary>A link that opens the trail drawer.</summary>
[HtmlTargetElement("a", Attributes = "trail")]
public sealed class TrailLinkTagHelper : TagHelper
{
    /// <summary>Address of what the drawer shows.</summary>
    public string Trail { get; set; } = "";

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output) => TrailLink.Set(output, Trail);
}

static class TrailLink
{
    internal static void Set(TagHelperOutput output, string address)
    {
        output.Attributes.SetAttribute("href", address);
        output.Attributes.SetAttribute("hx-get", address);
        output.Attributes.SetAttribute("hx-target", "#drawer");
        output.Attributes.SetAttribute("hx-swap", "innerHTML");
    }
}
