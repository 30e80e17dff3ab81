using System.Collections.Concurrent;
using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Findings;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Posting;

/// <summary>A rulebook ready for landing, with its ids.</summary>
public sealed class LandingBook(StoredRulebook stored)
{
    readonly Lazy<IReadOnlyList<Core.Findings.Finding>> errors = new(() => RulebookChecks.Errors(stored.Book));
    // Findings carry numbers and dates, written as whoever reads them has chosen; rates run out with the day.
    readonly ConcurrentDictionary<(Written, DateOnly), Lazy<IReadOnlyList<Core.Findings.Finding>>> findings = [];
    CompiledRulebook? compiled, readable;
    IReadOnlyList<Redundant>? redundant;

    /// <summary>The rulebook as read.</summary>
    public StoredRulebook Stored => stored;
    /// <summary>What bars it from release and landing.</summary>
    public IReadOnlyList<Core.Findings.Finding> Errors => errors.Value;
    /// <summary>Everything the checks see in it.</summary>
    public IReadOnlyList<Core.Findings.Finding> Findings => FindingsOn(DateOnly.FromDateTime(DateTime.UtcNow));
    /// <summary>Everything the checks see in it on a day.</summary>
    public IReadOnlyList<Core.Findings.Finding> FindingsOn(DateOnly today) =>
        findings.GetOrAdd((Written.Now, today), _ => new(() => RulebookChecks.Check(stored.Book, today))).Value;

    /// <summary>Compiled; null while the checks find errors in it, which only a draft can have.</summary>
    public CompiledRulebook? Compiled => Errors.Count > 0 ? null : compiled ??= new CompiledRulebook(stored.Book);
    /// <summary>What is shown of it: while it has errors, all but the rules that have them.</summary>
    public CompiledRulebook Shown => Compiled ?? (readable ??= Readable());
    /// <summary>Rules that say what a lower rung says already.</summary>
    public IReadOnlyList<Redundant> Redundant => redundant ??= [.. Redundancy.Of(Shown)];

    CompiledRulebook Readable()
    {
        var (book, faulty) = (stored.Book, Errors.Select(e => e.Where).ToHashSet(StringComparer.Ordinal));
        return new CompiledRulebook(book with { Rules = [.. book.Rules.Where(r => !faulty.Contains("rules/" + r.Id))] });
    }
}

/// <summary>The released and the draft rulebook of a company, in one state of its settings.</summary>
public sealed class CompanyBooks(SettingsState state, LandingBook released, LandingBook draft)
{
    readonly Lazy<IReadOnlyList<SettingChange>> changes = new(() => RulebookDifference.Between(released.Stored.Book, draft.Stored.Book));

    /// <summary>The state they were read in.</summary>
    public SettingsState State => state;
    /// <summary>The edition in force.</summary>
    public LandingBook Released => released;
    /// <summary>The draft.</summary>
    public LandingBook Draft => draft;
    /// <summary>What the draft changes.</summary>
    public IReadOnlyList<SettingChange> Changes => changes.Value;
}

/// <summary>Rulebooks in memory, read again when the settings have changed. Holds no state that is not in the database.</summary>
public sealed class RulebookCache(RulebookStore store)
{
    readonly ConcurrentDictionary<int, CompanyBooks> byCompany = [];
    readonly ConcurrentDictionary<int, LandingBook> released = [];
    readonly ConcurrentDictionary<(int Company, int Edition), LandingBook> editions = [];

    /// <summary>The rulebooks of a company as they are now.</summary>
    public async Task<CompanyBooks> Of(int company, CancellationToken stop)
    {
        var state = await store.StateOf(company, stop);
        if (byCompany.TryGetValue(company, out var known) && known.State == state)
            return known;
        var inForce = await Released(company, stop);
        var draft = new LandingBook(await store.Load(company, state.Draft, stop));
        var books = new CompanyBooks(draft.Stored.State, inForce, draft);
        // Both belong to one state, or a change came between and they are read again next time.
        if ((inForce.Stored.Edition, inForce.Stored.State.AtOnce) == (draft.Stored.State.Edition, draft.Stored.State.AtOnce))
            byCompany[company] = books;
        return books;
    }

    /// <summary>The rulebook of any edition, for explaining what has landed under it.</summary>
    public async Task<LandingBook> OfEdition(int company, int edition, CancellationToken stop)
    {
        var now = await Of(company, stop);
        if (edition == now.State.Edition)
            return now.Released;
        if (editions.TryGetValue((company, edition), out var known) && known.Stored.State.AtOnce == now.State.AtOnce)
            return known;
        return editions[(company, edition)] = new LandingBook(await store.Load(company, edition, stop));
    }

    /// <summary>The rulebook of the edition in force, for posting; a changed draft is none of its business.</summary>
    internal async Task<LandingBook> Released(int company, CancellationToken stop)
    {
        var state = await store.StateOf(company, stop);
        if (released.TryGetValue(company, out var known) && known.Stored.Edition == state.Edition && known.Stored.State.AtOnce == state.AtOnce)
            return known;
        return released[company] = new LandingBook(await store.Load(company, state.Edition, stop));
    }
}
