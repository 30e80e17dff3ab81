// Prints the ratios of the product's speed, each with its reference in the same run:
// bench/run resolve | sql | memory | land | post | chart | rules | million, or all of them.
using Assignum.Bench;
using BenchmarkDotNet.Running;

var asked = args.Length == 0 ? ["resolve", "memory", "land", "sql", "post", "chart", "rules", "million"] : args;
foreach (var part in asked)
{
    switch (part)
    {
        case "resolve": BenchmarkRunner.Run<Resolving>(args: []); break;
        case "memory": LandingInMemory.Run(); break;
        case "land": LandingFiles.Run(); break;
        case "sql": await ResolvingInSql.Run(); break;
        case "post": await PostingBatches.Run(); break;
        case "chart": await ChartImports.Run(); await ChartPages.Run(); break;
        case "rules": await RulebookPages.Run(); break;
        case "million": await MillionRules.Run(); break;
        default: Console.Error.WriteLine($"bench: there is no part {part}. Parts: resolve, memory, land, sql, post, chart, rules, million."); return 2;
    }
}
return 0;
