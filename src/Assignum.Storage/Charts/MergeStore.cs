using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Charts;

/// <summary>Merges accounts: rules, tax setting, alternates, accounts below and matches go to the target in the draft; the balance by an entry.</summary>
public sealed class MergeStore(NpgsqlDataSource source, Draft draft)
{
    /// <summary>What stands on an account, by currency and dimensions; on a control account by party too. Company currency, debit positive.</summary>
    public async Task<IReadOnlyList<MovedBalance>> BalanceOf(int company, int account, bool byParty, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        return await BalanceOf(connection, company, account, byParty, stop);
    }

    static async Task<IReadOnlyList<MovedBalance>> BalanceOf(NpgsqlConnection connection, int company, int account, bool byParty, CancellationToken stop)
    {
        var parts = await connection.Command(byParty
            ? """
              select sum(l.amount), l.currency, sum(l.document_amount), l.dimension_set_id, m.code from line l
              left join dimension_set d on d.company_id = l.company_id and d.id = l.dimension_set_id left join member m on m.company_id = l.company_id
                  and m.id = l.party_id
              where l.company_id = $1 and l.account_id = $2 group by l.currency, d.text, l.dimension_set_id, m.code having sum(l.amount) <> 0
                  order by l.currency, d.text, m.code
              """
            : """
              select sum(b.debit - b.credit), b.currency, sum(b.document_amount), nullif(b.dimension_set_id, 0), null from balance b
              left join dimension_set d on d.company_id = b.company_id and d.id = b.dimension_set_id
              where b.company_id = $1 and b.account_id = $2 group by b.currency, d.text, b.dimension_set_id having sum(b.debit - b.credit) <> 0
                  order by b.currency, d.text
              """, company, account)
            // numeric(19,4) comes back with four decimals; an amount of money has those of its currency.
            .List(row => (Amount: Money.Plain(row.GetDecimal(0)), Currency: row.GetString(1), Document: Money.Plain(row.GetDecimal(2)), Set: row.IntOrNull(3),
                Party: row.TextOrNull(4)), stop);
        var sets = await DimensionSets.Read(connection, company, [.. parts.Select(p => p.Set).OfType<int>().Distinct()], stop);
        return parts.ConvertAll(p => new MovedBalance(p.Amount, p.Currency, p.Document, p.Party, p.Set is { } set ? sets[set] : Dimensions.None));
    }

    /// <summary>Carries a merge out, whole or not at all.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who merges.</param>
    /// <param name="from">Id of the account that goes.</param>
    /// <param name="to">Id of the account that stays.</param>
    /// <param name="seen">The state of the settings the user saw.</param>
    /// <param name="move">The event that moves the balance, given the accounts and its parts; it is posted with the merge or not at all. Null: the balance
    /// stays for now.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> Merge(int company, int user, int from, int to, long seen, Func<Account, Account, IReadOnlyList<MovedBalance>, PostableEvent>? move,
        CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (stored.State.InDraft != seen)
                return new Refusal("", "The draft has changed since you looked at this merge. Look at it once more, then merge.");
            var chart = await ChartReading.Read(change.Connection, company, stored, stop);
            if (stored.AccountOf(from) is not { } source || stored.AccountOf(to) is not { } target)
                return new Refusal("", "One of the two accounts is no longer in the draft. Go back to the chart and choose again.");
            var plan = AccountMerge.Plan(chart, source, target);
            if (plan.Faults is [var fault, ..])
                return new Refusal("to", fault);
            await Write(change, stored.Labels, plan, from, to);
            var parts = move is null ? [] : await BalanceOf(change.Connection, company, from, source.Control is not null, stop);
            await change.Log("account", from,
                $"Account {source.Number} {source.Name} merged into {target.Number} {target.Name}: {plan.Rules.Count} rules, {plan.Parties.Count} parties, " +
                    $"{plan.Below.Count} accounts below it{(parts.Count > 0 ? ", and its balance" : "")}.", source, target);
            await change.Log("account", to, $"Account {source.Number} {source.Name} was merged into it.", null, null);
            return parts.Count == 0 ? null : await Move(change, move!(source, target, parts), from, to);
        }, stop);

    // What stood on the one account stands on the other from here on, or its invoices could never be paid.
    static async Task<Refusal?> Move(DraftChange change, PostableEvent moved, int from, int to)
    {
        var posted = await PostingStore.PostWithin(change, moved);
        if (posted.Fate != PostingFate.Landed)
            return new Refusal("balance", "The balance can't be moved, so nothing was merged: " +
                $"{(posted.Reasons is [var reason, ..] ? reason.Message : posted.Message)}");
        await StandingMoves.Add(change.Connection, change.Company, from, to, posted.EventId!.Value, change.Stop);
        return null;
    }

    static async Task Write(DraftChange change, Labels labels, AccountMerge plan, int from, int to)
    {
        await AccountUseRows.MoveRules(change, labels, plan.From, plan.To);
        await AccountUseRows.MoveAlternates(change, labels, plan.From, plan.To);
        await AccountRows.Relabel(change, labels, [.. plan.Below.Select(a => (labels.Account(a.Number)!.Value, a, a with { Parent = plan.To.Number }))]);
        if (!plan.ToAfterwards.SameSetting(plan.To))
            await SettingTables.Accounts.Reset(change, labels, [(to, plan.ToAfterwards)]);
        if (plan.From.Active)
            await SettingTables.Accounts.Reset(change, labels, [(from, plan.From with { Active = false })]);
        await change.Command("update account set merged_into = $3 where company_id = $1 and id = $2", change.Company, from, to).Run(change.Stop);
        // Matches of a group's chart follow; an own match does, where the target has none.
        await change.Command("update account_description set group_account_id = $3 where group_company_id = $1 and group_account_id = $2", change.Company, from,
            to).Run(change.Stop);
        await change.Command("""
            insert into account_description (company_id, account_id, group_company_id, group_account_id)
            select company_id, $3, group_company_id, group_account_id from account_description where company_id = $1 and account_id = $2
                and group_account_id is not null
            on conflict (company_id, account_id) do update set group_company_id = coalesce(account_description.group_company_id, excluded.group_company_id),
                group_account_id = coalesce(account_description.group_account_id, excluded.group_account_id)
            """, change.Company, from, to).Run(change.Stop);
        (change.HoldsAtOnce, change.Describes) = (true, true);
    }
}
