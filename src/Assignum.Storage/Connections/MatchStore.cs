using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Matching;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Charts;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Connections;

/// <summary>A decision about an entry of a list.</summary>
/// <param name="Theirs">Its code there.</param>
/// <param name="Ours">Our code; null: it is not needed here.</param>
/// <param name="How">How it came to it.</param>
public sealed record Decided(string Theirs, string? Ours, string How);

/// <summary>What is added here, each for one entry of theirs.</summary>
public sealed record Additions
{
    /// <summary>Accounts, for the draft.</summary>
    public IReadOnlyList<NewAccount> Accounts { get; init; } = [];
    /// <summary>Customers and suppliers; they are there at once.</summary>
    public IReadOnlyList<Party> Parties { get; init; } = [];
    /// <summary>Items; they are there at once.</summary>
    public IReadOnlyList<Item> Items { get; init; } = [];
    /// <summary>Item groups, for the draft.</summary>
    public IReadOnlyList<Group> ItemGroups { get; init; } = [];
}

/// <summary>
/// Decides which entries of connections are which of ours. Matches of items, categories and tax codes are settings of the draft; all others hold at once.
/// Whatever belongs to a decision is done with it, or nothing is.
/// </summary>
public sealed class MatchStore(NpgsqlDataSource source, Draft draft, AccountStore accounts)
{
    /// <summary>The list of settings a list belongs to; null: its matches hold at once.</summary>
    public static SettingList? SettingOf(string list) => Words<SettingList>.TryParse(list, out var setting) ? setting : null;

    /// <summary>Decides about entries of a list, and adds what they need here.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who decides.</param>
    /// <param name="connection">The connection.</param>
    /// <param name="list">The list.</param>
    /// <param name="decisions">What is decided.</param>
    /// <param name="stop">Cancels; nothing is decided.</param>
    /// <param name="added">What is added here for them.</param>
    public Task<Refusal?> Decide(int company, int user, ConnectionRow connection, string list, IReadOnlyList<Decided> decisions, CancellationToken stop,
        Additions? added = null) =>
        draft.Change(company, user, async change =>
        {
            var waits = await change.Command("select code_fold from connection_entry where company_id = $1 and connection_id = $2 and list = $3 and " +
                "code_fold = any($4)", company, connection.Id, list, decisions.Select(d => Fold.Of(d.Theirs)).ToArray()).List(row => row.GetString(0), stop);
            if (decisions.FirstOrDefault(d => !waits.Contains(Fold.Of(d.Theirs))) is { } unknown)
                return new Refusal("", $"{unknown.Theirs} is not in the list any more. Fetch the list again, and look once more.");
            if (await Add(change, added ?? new()) is { } refused)
                return refused;
            if (SettingOf(list) is { } setting && await Set(change, connection, setting, decisions) is { } unset)
                return unset;
            await Note(change, connection, list, decisions);
            change.OnlyDescribes = SettingOf(list) is null && added is null;
            return null;
        }, stop);

    async Task<Refusal?> Add(DraftChange change, Additions added)
    {
        if (added.Accounts.Count > 0 && await accounts.Add(change, added.Accounts) is { } refused)
            return refused;
        foreach (var group in added.ItemGroups)
        {
            if (await GroupStore.TakenBy(change, "item", group.Code, null) is { } taken)
                return taken;
            var labels = (await change.Book()).Labels;
            await GroupStore.SetGroup(change, labels, "item", await GroupStore.InsertGroup(change, "item", group), group);
        }
        if (added.Parties.Count > 0 && await GroupStore.AddMembers(change, "party", [.. added.Parties.Select(p =>
            new NewMember(p.Code, p.Name, p.Role.Word(), p.Group, p.TaxGroup))]) is { } parties)
            return parties;
        return added.Items.Count == 0 ? null : await GroupStore.AddMembers(change, "item", [.. added.Items.Select(i =>
            new NewMember(i.Code, i.Name, i.Kind.Word(), i.Group, i.TaxGroup) { Cost = i.Cost })]);
    }

    static async Task<Refusal?> Set(DraftChange change, ConnectionRow connection, SettingList list, IReadOnlyList<Decided> decisions)
    {
        var stored = await change.Book();
        var (of, word) = list switch
        {
            SettingList.Items => ("item", "item"), SettingList.Categories => (Labels.Family("item"), "item group"), _ => (Labels.TaxCodes, "tax code"),
        };
        if (decisions.FirstOrDefault(d => d.Ours is not null && stored.Labels.IdOf(of, d.Ours) is null) is { } unknown)
            return new Refusal("ours", $"There is no {word} {unknown.Ours} in the draft. Choose one that exists.");
        await MatchRows.Set(change, stored.Labels, [.. decisions.Where(d => d.Ours is not null).Select(d =>
            new Match { Connection = connection.Code, List = list, Theirs = d.Theirs, Ours = d.Ours! })]);
        await MatchRows.End(change, [.. decisions.Where(d => d.Ours is null).Select(d => KeyOf(connection, list, d.Theirs))]);
        return null;
    }

    static string KeyOf(ConnectionRow connection, SettingList list, string theirs) =>
        new Match { Connection = connection.Code, List = list, Theirs = theirs, Ours = "" }.Key;

    static async Task Note(DraftChange change, ConnectionRow connection, string list, IReadOnlyList<Decided> decisions)
    {
        await change.Command("""
            insert into connection_match (company_id, connection_id, list, code_fold, ours, decided_by, how)
            select $1, $2, $3, c, o, $4, h from unnest($5::text[], $6::text[], $7::text[]) as d (c, o, h)
            on conflict (company_id, connection_id, list, code_fold) do update
                set ours = excluded.ours, decided_by = excluded.decided_by, how = excluded.how, decided_at = now()
            """, change.Company, connection.Id, list, change.User, decisions.Select(d => Fold.Of(d.Theirs)).ToArray(), decisions.Select(d => d.Ours).ToArray(),
            decisions.Select(d => d.How).ToArray()).Run(change.Stop);
        var first = decisions[0];
        var rest = decisions.Count > 1 ? $" and {decisions.Count - 1} more" : "";
        await change.Log("match", connection.Id, $"{connection.Code}, {list.Replace('-', ' ')}: {first.Theirs} " +
            (first.Ours is null ? "is not needed" : $"is {first.Ours}") + $", {first.How}{rest}.", null, decisions.Take(2000));
    }

    /// <summary>Takes decisions back; the entries wait again.</summary>
    public Task<Refusal?> Undo(int company, int user, ConnectionRow connection, string list, IReadOnlyList<string> theirs, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            await change.Command("delete from connection_match where company_id = $1 and connection_id = $2 and list = $3 and code_fold = any($4)", company,
                connection.Id, list, theirs.Select(Fold.Of).ToArray()).Run(stop);
            if (SettingOf(list) is { } setting)
                await MatchRows.End(change, [.. theirs.Select(t => KeyOf(connection, setting, t))]);
            await change.Log("match", connection.Id, $"{connection.Code}, {list.Replace('-', ' ')}: {theirs[0]} waits again" +
                (theirs.Count > 1 ? $", and {theirs.Count - 1} more." : "."), null, null);
            change.OnlyDescribes = SettingOf(list) is null;
            return null;
        }, stop);

    /// <summary>The entry somebody decided about last, in any list of a connection; null: none.</summary>
    public Task<(string List, string Theirs)?> Last(int company, int user, int connection, CancellationToken stop) => source.Command("""
        select m.list, e.code from connection_match m join connection_entry e on (e.company_id, e.connection_id, e.list, e.code_fold) =
            (m.company_id, m.connection_id, m.list, m.code_fold)
        where m.company_id = $1 and m.connection_id = $2 and m.decided_by = $3 order by m.decided_at desc limit 1
        """, company, connection, user).FirstOrDefault(row => ((string, string)?)(row.GetString(0), row.GetString(1)), stop);

    /// <summary>Matches that hold at once, by connection and list.</summary>
    public Task<List<(int Connection, string List, string Theirs, string Ours)>> AtOnce(int company, CancellationToken stop) =>
        source.Command("select connection_id, list, code_fold, ours from connection_match where company_id = $1 and ours is not null and not list = " +
            "any($2)", company, Words<SettingList>.All.ToArray()).List(row => (row.GetInt32(0), row.GetString(1), row.GetString(2), row.GetString(3)), stop);
}
