using System.Collections.Concurrent;
using System.Diagnostics.CodeAnalysis;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Npgsql;
using IsolationLevel = System.Data.IsolationLevel;

namespace Assignum.Storage.Settings;

/// <summary>Which state of a company's settings somebody looked at.</summary>
/// <param name="Edition">The released edition in force.</param>
/// <param name="Draft">The draft.</param>
/// <param name="AtOnce">Counts changes that hold at once: new members, first groups, names.</param>
/// <param name="InDraft">Counts changes of the draft.</param>
public readonly record struct SettingsState(int Edition, int Draft, long AtOnce, long InDraft);

/// <summary>A rulebook as one edition has it.</summary>
/// <param name="Book">The rulebook.</param>
/// <param name="Labels">Ids of everything in it.</param>
/// <param name="Edition">The edition read.</param>
/// <param name="State">The state of the settings it was read in.</param>
public sealed record StoredRulebook(Rulebook Book, Labels Labels, int Edition, SettingsState State)
{
    /// <summary>The account of an id; null when the edition has none.</summary>
    public Account? AccountOf(int id) => Labels.CodeOrNull(Labels.Accounts, id) is { } number ? Book.Accounts.FirstOrDefault(a => a.Number == number) : null;

    /// <summary>Number of an account; null where the edition does not have it.</summary>
    public string? NumberOf(int id) => Labels.CodeOrNull(Labels.Accounts, id);
}

/// <summary>Reads the rulebook of any edition. The edition in force is kept; of another only what differs from it is read.</summary>
public sealed class RulebookStore(NpgsqlDataSource source)
{
    // Beyond this many editions over each other a rulebook is read whole again.
    const int MostLayers = 6;

    readonly ConcurrentDictionary<int, StoredRulebook> inForce = [];

    /// <summary>Keeps a company's rulebook no longer.</summary>
    internal void PutAway(int company) => inForce.TryRemove(company, out _);

    /// <summary>The state of a company's settings now.</summary>
    public async Task<SettingsState> StateOf(int company, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        return await StateOf(connection, company, stop);
    }

    /// <summary>Reads a rulebook, in one snapshot.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="edition">A released edition or the draft; null: the released edition in force.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<StoredRulebook> Load(int company, int? edition, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(IsolationLevel.RepeatableRead, stop);
        var state = await StateOf(connection, company, stop);
        if (!IsKnown(company, state, out var known) || known.Edition != state.Edition)
            inForce[company] = known = known is { Labels.Depth: < MostLayers } ? await Patch(connection, company, known, state.Edition, state, stop)
                : await Whole(connection, company, state.Edition, state, stop);
        return (edition ?? state.Edition) == state.Edition ? known with { State = state }
            : await Patch(connection, company, known, edition!.Value, state, stop);
    }

    /// <summary>Reads a rulebook in a transaction; what is read there is not kept, because it may be rolled back.</summary>
    internal async Task<StoredRulebook> Load(NpgsqlConnection connection, int company, int? edition, CancellationToken stop)
    {
        var state = await StateOf(connection, company, stop);
        return IsKnown(company, state, out var known) ? await Patch(connection, company, known, edition ?? state.Edition, state, stop)
            : await Whole(connection, company, edition ?? state.Edition, state, stop);
    }

    /// <summary>Reads a rulebook whole, whatever is known.</summary>
    internal static async Task<StoredRulebook> LoadWhole(NpgsqlConnection connection, int company, int? edition, CancellationToken stop)
    {
        var state = await StateOf(connection, company, stop);
        return await Whole(connection, company, edition ?? state.Edition, state, stop);
    }

    // Known is what has the same labels; what holds at once is in no edition.
    bool IsKnown(int company, SettingsState state, [NotNullWhen(true)] out StoredRulebook? known) =>
        inForce.TryGetValue(company, out known) && known.State.AtOnce == state.AtOnce ? true : (known = null) is not null;

    static async Task<StoredRulebook> Whole(NpgsqlConnection connection, int company, int edition, SettingsState state, CancellationToken stop)
    {
        var reading = new RulebookReading(connection, company, edition, new Labels(), stop);
        return new StoredRulebook(await reading.Whole(), reading.Labels, edition, state);
    }

    static async Task<StoredRulebook> Patch(NpgsqlConnection connection, int company, StoredRulebook known, int edition, SettingsState state,
        CancellationToken stop)
    {
        var reading = new RulebookReading(connection, company, edition, new Labels(known.Labels), stop);
        return new StoredRulebook(await reading.Over(known), reading.Labels, edition, state);
    }

    internal static async Task<SettingsState> StateOf(NpgsqlConnection connection, int company, CancellationToken stop) =>
        await connection.Command("""
            select posting_row.edition, draft_row.edition, posting_row.stamp, draft_row.stamp
            from posting_row join draft_row using (company_id)
            where company_id = $1
            """, company).FirstOrDefault(row => new SettingsState(row.GetInt32(0), row.GetInt32(1), row.GetInt64(2), row.GetInt64(3)), stop);
}
