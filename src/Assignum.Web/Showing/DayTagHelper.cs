using Assignum.Core;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Assignum.Web.Showing;

/// <summary>A field for a day, written and read in the way of whoever types.</summary>
[HtmlTargetElement("input", Attributes = "day")]
public sealed class DayTagHelper : TagHelper
{
    /// <summary>The day in the field, or null.</summary>
    public DateOnly? Day { get; set; }

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.Attributes.SetAttribute("type", "text");
        output.Attributes.SetAttribute("value", Day is { } day ? Written.DayNow(day) : "");
        output.Attributes.SetAttribute("autocomplete", "off");
        output.Attributes.SetAttribute("spellcheck", "false");
        output.Attributes.SetAttribute("maxlength", "20");
        if (!output.Attributes.ContainsName("placeholder"))
            output.Attributes.SetAttribute("placeholder",
                Written.Now.DateTimeFormat.ShortDatePattern switch { "dd.MM.yyyy" => "dd.mm.yyyy", "d MMM yyyy" => "d mmm yyyy", _ => "yyyy-mm-dd" });
        output.Attributes.SetAttribute("class", (output.Attributes["class"]?.Value + " day").Trim());
    }
}
