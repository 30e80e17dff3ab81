using System.Collections.Concurrent;
using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Findings;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Posting;

/// <summary>A rulebook ready for landing, with its ids.</summary>
/// <param name="stored">The rulebook as read.</param>
/// <param name="near">One that is ready and from which it differs in little, as a draft does from the edition in force; or null.</param>
public sealed class LandingBook(StoredRulebook stored, LandingBook? near = null)
{
    readonly Lazy<IReadOnlyList<Core.Findings.Finding>> errors = new(() =>
        near is { Errors.Count: 0 } ? RulebookChecks.ErrorsNear(stored.Book, near.Stored.Book) : RulebookChecks.Errors(stored.Book));
    readonly Lazy<CompiledRulebook> compiled = new(() =>
        near?.Compiled is { } known ? CompiledRulebook.Near(stored.Book, known) : new CompiledRulebook(stored.Book));
    // Findings carry numbers and dates, written as whoever reads them has chosen; rates run out with the day.
    readonly ConcurrentDictionary<(Written, DateOnly), Lazy<IReadOnlyList<Core.Findings.Finding>>> findings = [];
    CompiledRulebook? readable;
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
    public CompiledRulebook? Compiled => Errors.Count > 0 ? null : compiled.Value;
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

/// <summary>
/// Rulebooks in memory: read once however many ask, read again when the settings have changed, put away when others have been asked for since.
/// Holds no state that is not in the database.
/// </summary>
public sealed class RulebookCache
{
    /// <summary>Companies whose rulebooks are kept.</summary>
    public const int MostCompanies = 32;
    /// <summary>Editions no longer in force that are kept, of all companies together.</summary>
    public const int MostOldEditions = 8;

    readonly RulebookStore store;
    readonly ReadOnce<int, SettingsState, CompanyBooks> byCompany = new(MostCompanies);
    readonly ReadOnce<int, (int Edition, long AtOnce), LandingBook> released;
    readonly ReadOnce<(int Company, int Edition), long, LandingBook> editions = new(MostOldEditions);

    /// <summary>Makes it.</summary>
    public RulebookCache(RulebookStore store)
    {
        this.store = store;
        released = new(MostCompanies, putAway: store.PutAway);
    }

    /// <summary>The rulebooks of a company as they are now.</summary>
    public async Task<CompanyBooks> Of(int company, CancellationToken stop)
    {
        var state = await store.StateOf(company, stop);
        return await byCompany.Get(company, state, async () =>
        {
            var inForce = await Released(company, CancellationToken.None);
            var draft = new LandingBook(await store.Load(company, state.Draft, CancellationToken.None), inForce);
            return new CompanyBooks(draft.Stored.State, inForce, draft);
        }, books => books.State == state && (books.Released.Stored.Edition, books.Released.Stored.State.AtOnce) == (state.Edition, state.AtOnce), stop);
    }

    /// <summary>The rulebook of any edition, for explaining what has landed under it.</summary>
    public async Task<LandingBook> OfEdition(int company, int edition, CancellationToken stop)
    {
        var state = await store.StateOf(company, stop);
        if (edition == state.Edition)
            return await Released(company, stop);
        return await editions.Get((company, edition), state.AtOnce, async () => new LandingBook(await store.Load(company, edition, CancellationToken.None)),
            book => book.Stored.State.AtOnce == state.AtOnce, stop);
    }

    /// <summary>The rulebook of the edition in force, for posting; a changed draft is none of its business.</summary>
    public async Task<LandingBook> Released(int company, CancellationToken stop)
    {
        var state = await store.StateOf(company, stop);
        return await released.Get(company, (state.Edition, state.AtOnce), async () =>
            new LandingBook(await store.Load(company, state.Edition, CancellationToken.None)),
            book => (book.Stored.Edition, book.Stored.State.AtOnce) == (state.Edition, state.AtOnce), stop);
    }
}
