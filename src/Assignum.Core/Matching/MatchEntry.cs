namespace Assignum.Core.Matching;

/// <summary>An entry of a list as it is compared with those of another list.</summary>
/// <param name="Code">Its number or code; it tells it from the others of its list.</param>
/// <param name="Name">Its name.</param>
/// <param name="Kind">What it is of, in the words of both lists: the class of an account, the kind of an item, the role of a party; null: not known.</param>
/// <param name="Use">With what it is used: a tax code, a category; null: not known.</param>
public sealed record MatchEntry(string Code, string Name, string? Kind = null, string? Use = null);

/// <summary>How well one entry fits another, and why.</summary>
/// <param name="Theirs">Place of the entry in the first list.</param>
/// <param name="Ours">Place of the entry in the second list.</param>
/// <param name="Score">From 0, nothing alike, to 1, the same number and name.</param>
/// <param name="Reason">Why, in a few words: "same number; 2 of 3 words".</param>
public sealed record Suggestion(int Theirs, int Ours, double Score, string Reason);
