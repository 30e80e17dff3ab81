using Assignum.Core;
using Assignum.Core.Matching;
using Assignum.Formats.Connections;
using Assignum.Formats.Sheets;
using Assignum.Storage.Connections;
using Assignum.Web.Access;
using Assignum.Web.Connections;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Connections;

/// <summary>Matches as a sheet, for who would rather look up in one: out, filled in, and back, with every refused row explained.</summary>
public sealed partial class MatchModel
{
    const int LargestFile = 8 << 20;

    /// <summary>The list with what is decided and suggested.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        if (Board is null)
            return NotFound();
        var decided = Board.Decided.ToDictionary(d => Fold.Of(d.Theirs.Sent.Code));
        return Export(new Table("Matches", MatchSheet.Columns, Board.All.Select(e =>
        {
            var (of, best) = (decided.GetValueOrDefault(Fold.Of(e.Sent.Code)), Board.BestFor(e));
            return (IReadOnlyList<object?>)[e.Sent.Code, e.Sent.Name, e.Sent.Kind, e.Sent.Used, of?.Ours?.Code, of?.Ours?.Name, Word(of),
                of is null ? best?.Ours.Code : null, of is null && best is { } s ? Math.Round((decimal)s.Why.Score, 2) : null, of is null ? best?.Why.Reason
                    : null];
        })), $"matches-{Connection.Code}-{List}", kind);
    }

    static string Word(DecidedEntry? of)
    {
        if (of is null)
            return "";
        return of.Ours is null ? "not needed" : "match";
    }

    /// <summary>Takes decisions from a sheet. Rows that say nothing new are passed over; of those refused nothing is taken.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostImportAsync(IFormFile? file)
    {
        await Lay();
        if (Board is null)
            return Gone();
        var (rows, fault) = await Read(file);
        if (fault is not null)
        {
            Refused = new("file", fault);
            return await Again(InHandCode);
        }
        var (decisions, refused) = Decisions(rows);
        if (decisions.Count > 0)
            Refused = await matches.Decide(Company.Id, UserId, Connection, List, decisions, Stop);
        if (Refused is null && refused.Count == 0)
            return Done($"{Show.Count(decisions.Count, "decision")} taken from {file!.FileName}.", AtConnection("match/" + List));
        RefusedRows = refused;
        return await Again(InHandCode);
    }

    static async Task<(IReadOnlyList<MatchSheetRow> Rows, string? Fault)> Read(IFormFile? file)
    {
        if (file is null)
            return ([], "No file is chosen. Choose the CSV or XLSX file of matches.");
        if (file.Length > LargestFile)
            return ([], $"The file has {file.Length >> 20} MB, and may have {LargestFile >> 20}. Split it.");
        using var content = new MemoryStream();
        await file.CopyToAsync(content);
        return MatchSheet.Read(content.ToArray());
    }

    (IReadOnlyList<Decided> Decisions, IReadOnlyList<string> Refused) Decisions(IReadOnlyList<MatchSheetRow> rows)
    {
        var there = Board!.All.Select(e => Fold.Of(e.Sent.Code)).ToHashSet(StringComparer.Ordinal);
        var ours = Board.Free.Concat(Board.Decided.Select(d => d.Ours).OfType<MatchEntry>()).DistinctBy(o => Fold.Of(o.Code)).ToDictionary(o =>
            Fold.Of(o.Code));
        var known = Board.Decided.ToDictionary(d => Fold.Of(d.Theirs.Sent.Code), d => d.Ours?.Code);
        var (decisions, refused) = (new List<Decided>(), new List<string>());
        foreach (var row in rows.Where(r => r.Ours.Length > 0 || r.IsNotNeeded))
            if (!there.Contains(Fold.Of(row.Theirs)))
                refused.Add($"Row {row.Line}: {row.Theirs} is not in their list. Fetch the list again, or correct the code.");
            else if (!row.IsNotNeeded && !ours.ContainsKey(Fold.Of(row.Ours)))
                refused.Add($"Row {row.Line}: there is no {Web.Connections.Lists.One(List)} {row.Ours} here. Correct it, or add it first.");
            else if (!row.IsNotNeeded && WhyDiffers(row) is { } differs)
                refused.Add(differs);
            else if (!known.TryGetValue(Fold.Of(row.Theirs), out var was) || !Fold.Same(was ?? "", row.Ours))
                decisions.Add(new(row.Theirs, row.IsNotNeeded ? null : ours[Fold.Of(row.Ours)].Code, "from a sheet"));
        return ([.. decisions.DistinctBy(d => Fold.Of(d.Theirs))], refused);
    }

    // Which of two rates holds is asked on the board.
    string? WhyDiffers(MatchSheetRow row) => List == "tax-codes" && Board!.Waiting.FirstOrDefault(w => Fold.Same(w.Sent.Code, row.Theirs)) is { } entry
        && DiffersFrom(entry, row.Ours) is { } differs
        ? $"Row {row.Line}: {row.Theirs} is {Percent(differs.Theirs)} there and {row.Ours} is {Percent(differs.Ours)} here. Match it on the board, where " +
            "you choose which holds." : null;
}
