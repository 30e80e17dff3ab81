// Writes the demo's events: dotnet run --project demo/Assignum.DemoEvents demo/qn. The same seed gives the same file.
using Assignum.Core.Groups;
using Assignum.DemoEvents;
using Assignum.Formats.Events;
using Assignum.Formats.Rulebooks;

var folder = args.Length == 1 ? args[0] : "demo/qn";
var book = RulebookReader.Read(File.ReadAllBytes(Path.Combine(folder, "rulebook.json"))).Book ?? throw new InvalidOperationException("The demo's rulebook can't be read.");
var season = new AutumnSales(book, new Random(20260901));
File.WriteAllLines(Path.Combine(folder, "events.ndjson"), season.Events().Select(EventWriter.Write));
