namespace Assignum.Core.Posting;

/// <summary>The dimensions an event gives, wherever it gives them.</summary>
public static class EventDimensions
{
    /// <summary>Each with its place: "dimensions.CC", "lines[2].dimensions.CC".</summary>
    public static IEnumerable<(string Field, string Name, string Value)> AllDimensions(this BusinessEvent happened) =>
        Named(null, happened.Dimensions).Concat(happened.LineDimensions.SelectMany((dimensions, i) => Named(new Place("lines", i), dimensions)));

    static IEnumerable<(string, string, string)> Named(Place? place, Dimensions dimensions) =>
        dimensions.All.Select(d => (Place.Field(place, "dimensions") + "." + d.Key, d.Key, d.Value));
}
