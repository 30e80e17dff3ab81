namespace Assignum.Web.Pages.TryOut;

/// <summary>How a value comes into a form.</summary>
public enum Typing
{
    /// <summary>Typed as it is.</summary>
    Text,
    /// <summary>An amount, as its typist writes amounts.</summary>
    Number,
    /// <summary>The day of the document.</summary>
    Day,
    /// <summary>Chosen by typing, from a list.</summary>
    Chosen,
    /// <summary>Typed freely; what is known is offered.</summary>
    Known,
    /// <summary>One of a few words.</summary>
    Word,
    /// <summary>"CC=100; SITE=N".</summary>
    Dimensions,
    /// <summary>Ticked or not.</summary>
    Tick,
    /// <summary>Not typed: what landing says of the line.</summary>
    Said,
}

/// <summary>A field of a form, of its head or of each line.</summary>
/// <param name="Name">Its name in the form; for a form made of the fields of files, the name there.</param>
/// <param name="Label">What people read.</param>
/// <param name="Typing">How its value comes in.</param>
public sealed record FormField(string Name, string Label, Typing Typing = Typing.Text)
{
    /// <summary>The list it is chosen from.</summary>
    public string? List { get; init; }
    /// <summary>The words it may be, of a field that is a word.</summary>
    public IReadOnlyList<string> Words { get; init; } = [];
    /// <summary>The purpose an account is wanted for.</summary>
    public string? For { get; init; }
    /// <summary>What stands there while nothing is typed.</summary>
    public string? Placeholder { get; init; }
    /// <summary>What it starts with.</summary>
    public string? Start { get; init; }
    /// <summary>The whole question, for those who can't see the heading.</summary>
    public string? Means { get; init; }
    /// <summary>Width of its column, in pixels or per cent.</summary>
    public string? Width { get; init; }
    /// <summary>It is asked for below the lines.</summary>
    public bool Below { get; init; }
    /// <summary>The event can't do without it.</summary>
    public bool Needed { get; init; }

    /// <summary>Its id in the page.</summary>
    public string Id => char.ToLowerInvariant(Name[0]) + Name[1..];
    /// <summary>It is the currency of the document.</summary>
    public bool IsCurrency => Name is "Currency" or "currency";
    /// <summary>How its column is set.</summary>
    public string Look => (IsRight, Typing) switch { (true, _) => "r", (_, Typing.Dimensions) => "dim", _ => "nowrap" };
    /// <summary>Whether it stands at the right.</summary>
    public bool IsRight => Typing == Typing.Number || Name == "Net";
}
