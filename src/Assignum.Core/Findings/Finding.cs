namespace Assignum.Core.Findings;

/// <summary>How much a finding matters: an error bars release and landing.</summary>
public enum Severity { Error, Warning, Info }

/// <summary>A defect that a check sees in the settings or the books.</summary>
/// <param name="Check">Name of the check.</param>
/// <param name="Severity">How much it matters.</param>
/// <param name="Where">The place, as a path: "rules/r12".</param>
/// <param name="Message">The thing, the place and the fix, in one or two sentences.</param>
/// <param name="Account">Number of the account it is about, or null.</param>
public sealed record Finding(string Check, Severity Severity, string Where, string Message, string? Account = null);
