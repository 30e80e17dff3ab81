// Writes the demo's events; the same seed gives the same files.
//   Assignum.DemoEvents autumn demo/qn              an autumn of sales, beside its rulebook
//   Assignum.DemoEvents year demo/qn OUT DAY        thirteen months up to a day: a folder for each edition, with its rulebook, its note and its events, and
// troubles.json; and under ql what happened at the landscapers, whose rulebook is beside FOLDER
using System.Globalization;
using Assignum.DemoEvents;
using Assignum.DemoEvents.Year;
using Assignum.Formats.Events;
using Assignum.Formats.Rulebooks;

if (args is not (["autumn", _] or ["year", _, _, _]))
{
    Console.Error.WriteLine("Assignum.DemoEvents autumn FOLDER, or year FOLDER OUT DAY. FOLDER has rulebook.json.");
    return 2;
}
var book = RulebookReader.Read(File.ReadAllBytes(Path.Combine(args[1],
    "rulebook.json"))).Book ?? throw new InvalidOperationException("The demo's rulebook can't be read.");
if (args[0] == "autumn")
{
    File.WriteAllLines(Path.Combine(args[1], "events.ndjson"), new AutumnSales(book, new Random(20260901)).Events().Select(EventWriter.Write));
    return 0;
}
var year = Thirteen.UpTo(book, DateOnly.ParseExact(args[3], "yyyy-MM-dd", CultureInfo.InvariantCulture));
for (var stage = 0; stage < year.Stages.Count; stage++)
{
    var folder = Directory.CreateDirectory(Path.Combine(args[2], (stage + 1).ToString(CultureInfo.InvariantCulture))).FullName;
    using (var to = File.Create(Path.Combine(folder, "rulebook.json")))
        RulebookWriter.Write(to, year.Stages[stage].Book);
    File.WriteAllText(Path.Combine(folder, "note.txt"), year.Stages[stage].Note);
    File.WriteAllLines(Path.Combine(folder, "events.ndjson"), year.Of(stage).Select(EventWriter.Write));
}
var landscapes = RulebookReader.Read(File.ReadAllBytes(Path.Combine(args[1], "..", "ql", "rulebook.json"))).Book
    ?? throw new InvalidOperationException("The rulebook of the landscapers can't be read.");
File.WriteAllLines(Path.Combine(Directory.CreateDirectory(Path.Combine(args[2], "ql")).FullName, "events.ndjson"),
    Landscapes.Of(landscapes, year).Select(EventWriter.Write));
File.WriteAllText(Path.Combine(args[2], "troubles.json"), year.Troubles.Json(year.First, year.Last));
return 0;
