// Prints the ratios of the product's speed, each with its reference in the same run:
// bench/run resolve | sql | memory | land | post | mixed | subledgers | chart | rules | million, or all of them;
// kills, writers and feeds, or kills:2, writers:2 and feeds:4 for their short forms, and fuzz only when asked for.
using Assignum.Bench;
using BenchmarkDotNet.Running;

var asked = args.Length == 0 ? ["resolve", "memory", "land", "sql", "post", "mixed", "subledgers", "chart", "rules", "million", "api"] : args;
foreach (var part in asked)
{
    switch (part)
    {
        case "resolve": BenchmarkRunner.Run<Resolving>(args: []); break;
        case "memory": LandingInMemory.Run(); break;
        case "land": LandingFiles.Run(); break;
        case "sql": await ResolvingInSql.Run(); break;
        case "subledgers": await Subledgers.Run(Environment.GetEnvironmentVariable("ASSIGNUM_REPOSITORY") ?? ".."); break;
        case "mixed": await MixedEvents.Run(Environment.GetEnvironmentVariable("ASSIGNUM_REPOSITORY") ?? ".."); break;
        case "post": await PostingBatches.Run(); break;
        case "chart": await ChartImports.Run(); await ChartPages.Run(); break;
        case "rules": await RulebookPages.Run(); break;
        case "million": await MillionRules.Run(); break;
        case "writers": if (!await Writers.Run(100, 50_000, 100)) return 1; break;
        case "writers:2": if (!await Writers.Run(2, 800, 50)) return 1; break;
        case "feeds": if (!await Feeds.Run(60, 20_000)) return 1; break;
        case "feeds:4": if (!await Feeds.Run(4, 5_000)) return 1; break;
        case "api": await StreamedEvents.Run(); break;
        case "kills" or "kills:2": if (!await Kills.Run(part == "kills" ? 10 : 2)) return 1; break;
        case "fuzz": if (!await Fuzz.Run()) return 1; break;
        case "fuzz-events" or "fuzz-rulebooks" or "fuzz-sheets" or "fuzz-large": if (!Fuzz.Run(part)) return 1; break;
        default: Console.Error.WriteLine($"bench: there is no part {part}. Parts: resolve, memory, land, sql, post, mixed, subledgers, chart, rules, " +
            $"million, kills, writers, feeds, api, fuzz."); return 2;
    }
}
return 0;
