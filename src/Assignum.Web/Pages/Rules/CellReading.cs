using Assignum.Core;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Showing;

namespace Assignum.Web.Pages.Rules;

/// <summary>Cells of a grid as they were sent, read into edits: one way for every grid.</summary>
/// <typeparam name="TThing">What a cell answers with: an account, a tax code.</typeparam>
/// <typeparam name="TEdit">An edit as the store takes it.</typeparam>
/// <param name="sent">The cells, in the order they were sent in.</param>
sealed class CellReading<TThing, TEdit>(IReadOnlyList<CellSent> sent) where TThing : class
{
    readonly List<int> places = [];
    readonly Dictionary<string, Picked<TThing>> picked = new(StringComparer.Ordinal);

    /// <summary>What is to be changed.</summary>
    internal List<TEdit> Edits { get; } = [];
    /// <summary>Why nothing can be: place in what was sent (-1: none in particular), and a sentence.</summary>
    internal List<object[]> Faults { get; } = [];
    /// <summary>What the cells name, each once.</summary>
    internal IEnumerable<TThing> Named => picked.Values.Select(p => p.Thing).OfType<TThing>();

    /// <summary>Reads every cell.</summary>
    /// <param name="pick">The thing that a text means.</param>
    /// <param name="shut">Why a cell can have no answer of its own; null where it can.</param>
    /// <param name="says">Whether a cell that was filled or pasted says already what holds.</param>
    /// <param name="edit">The edit that gives a cell an answer, or takes it away.</param>
    internal CellReading<TThing, TEdit> Read(Func<string, Picked<TThing>> pick, Func<CellSent, string?> shut, Func<CellSent, TThing, bool> says,
        Func<CellSent, TThing?, TEdit> edit)
    {
        for (var i = 0; i < sent.Count; i++)
        {
            var (cell, text) = (sent[i], sent[i].Text?.Trim() ?? "");
            if (shut(cell) is { } barred)
            {
                Faults.Add([i, barred]);
                continue;
            }
            if (!picked.TryGetValue(text, out var named))
                picked[text] = named = text.Length == 0 ? default : pick(text);
            if (named.Fault is { } fault)
                Faults.Add([i, fault]);
            else if (cell.Typed || cell.Own is not null || named.Thing is null || !says(cell, named.Thing))
            {
                Edits.Add(edit(cell, named.Thing));
                places.Add(i);
            }
        }
        return this;
    }

    /// <summary>Saves the edits, all or none, unless a cell can't be read.</summary>
    internal async Task Save(Func<IReadOnlyList<TEdit>, Task<IReadOnlyList<CellFault>>> set)
    {
        if (Faults.Count == 0 && Edits.Count > 0)
            Faults.AddRange((await set(Edits)).Select(f => (object[])[f.Edit < 0 ? -1 : places[f.Edit], f.Message]));
    }

    /// <summary>The answer to whoever sent them.</summary>
    /// <param name="now">The settings after the act.</param>
    /// <param name="grid">What is drawn anew, where nothing was refused.</param>
    /// <param name="warnings">What was taken, and yet has something that speaks against it.</param>
    internal CellsAnswered Answer(CompanyBooks now, Func<GridData> grid, Func<TThing, string>? warnings = null) =>
        new(Faults, Faults.Count > 0 ? null : grid(),
            Edits.Count == 0 ? "Nothing changes: the cells are so already." : $"{Show.Count(Edits.Count, "cell")} changed in draft {now.State.Draft}.",
            DraftStateModel.TextOf(now.State, now.Changes.Count), DraftStateModel.StampOf(now.State),
            Faults.Count > 0 || warnings is null ? [] : [.. Named.Distinct().Select(warnings).Where(w => w.Length > 0).Take(3)]);
}
