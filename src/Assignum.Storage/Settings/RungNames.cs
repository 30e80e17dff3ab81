using Assignum.Core.Rulebooks;

namespace Assignum.Storage.Settings;

/// <summary>Rungs as columns keep them: "itemGroup+partyGroup", "default" for the empty one.</summary>
static class RungNames
{
    internal static Rung Parse(string name) => name == Rung.Default.Name ? Rung.Default : new Rung([.. name.Split('+').Select(FactOf)]);

    internal static Fact FactOf(string name) => FactNames.TryParse(name, out var fact) ? fact : throw new InvalidOperationException($"{name} is no fact.");
}
