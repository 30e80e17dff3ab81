using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Why an event cannot be landed yet.</summary>
public enum HeldCause
{
    NoRule, NoTaxRule, NoCost, AccountNotPostable, UnknownCode, ControlNotPermitted, ManualBlocked,
    DimensionMissing, DimensionBarred, TaxDiffers, TotalDiffers, ClosedPeriod, Unbalanced, Invalid,
}

/// <summary>One reason why an event is held.</summary>
/// <param name="Cause">The kind of reason.</param>
/// <param name="Message">One sentence: what is missing, and where to fix it.</param>
public sealed record HeldReason(HeldCause Cause, string Message)
{
    /// <summary>The purpose that found no account, or whose account does not do.</summary>
    public Purpose? Purpose { get; init; }
    /// <summary>The facts with which it was asked.</summary>
    public IReadOnlyList<FactValue> Facts { get; init; } = [];
    /// <summary>Number of the account that does not do.</summary>
    public string? Account { get; init; }
    /// <summary>Id of the rule that answered.</summary>
    public string? Rule { get; init; }
    /// <summary>Code of the item that has no cost.</summary>
    public string? Item { get; init; }
    /// <summary>The tax code that has no rate on the day.</summary>
    public string? TaxCode { get; init; }
    /// <summary>The code that is not known.</summary>
    public string? Code { get; init; }
    /// <summary>What that code is of: "item".</summary>
    public string? What { get; init; }
    /// <summary>The field that is wrong: "lines[2].price".</summary>
    public string? Field { get; init; }

    /// <summary>Something malformed.</summary>
    public static HeldReason Invalid(string field, string message) => new(HeldCause.Invalid, message) { Field = field };

    /// <summary>A code the rulebook does not have.</summary>
    public static HeldReason Unknown(string field, string what, string code, string mend) =>
        new(HeldCause.UnknownCode, $"{(Place.Parse(field) is { } place ? place.InWords + ": there" : "There")} is no {what} {code}. {mend}")
        {
            Field = field, Code = code, What = what,
        };

    /// <summary>Whether the other says the same of the same thing.</summary>
    public bool Equals(HeldReason? other) =>
        other is not null && Cause == other.Cause && Message == other.Message && Purpose == other.Purpose && Account == other.Account
        && Rule == other.Rule && Field == other.Field && Facts.SequenceEqual(other.Facts);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Cause, Message, Field);
}
