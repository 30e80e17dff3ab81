using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Charts;

/// <summary>Changes of numbering plans; they hold at once.</summary>
public sealed class NumberingStore(Draft draft)
{
    /// <summary>Gives a company a plan, and accounts that do not fit the numbers proposed for them; refused while an account would not fit.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who changes it.</param>
    /// <param name="seen">The state of the settings for which the renumbering was shown; null where none was shown.</param>
    /// <param name="plan">The plan.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> Change(int company, int user, long? seen, NumberingPlan plan, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (seen is { } shown && stored.State.InDraft != shown)
                return new Refusal("", "The chart has changed since the new numbers were shown. Look at them once more, then carry them out.");
            var chart = await ChartReading.Read(change.Connection, company, stored, stop);
            if (plan.Faults(chart.Tree) is [var fault, ..])
                return new Refusal(fault.Field, fault.Message);
            var proposal = Renumbering.Propose(chart.Tree, plan, chart.Kept);
            if (proposal.Count > 0 && seen is null)
                return new Refusal("misfits", $"{proposal.Count} {(proposal.Count == 1 ? "account does" : "accounts do")} not fit this plan: " +
                    $"{string.Join(" ", proposal.Take(3).Select(p => p.Why))}{(proposal.Count > 3 ? " …" : "")}");
            if (proposal.FirstOrDefault(p => p.To is null) is { } stuck)
                return new Refusal("misfits", $"The plan has no free number for {stuck.Account.Number} {stuck.Account.Name}. Widen its range first.");
            await Write(change, stored.Labels, plan, proposal);
            await change.Log("numbering", 0,
                $"Numbering plan changed: {plan.ShapeInWords}, {plan.Classes.Count} ranges by class, {plan.Headings.Count} by heading; {proposal.Count} " +
                    "accounts renumbered.", chart.Numbers.Plan, plan);
            return null;
        }, stop);

    static async Task Write(DraftChange change, Labels labels, NumberingPlan plan, IReadOnlyList<NewNumber> proposal)
    {
        // Headings keep their ranges by id, whatever number they have.
        List<(string? Class, int? Account, string From, string To)> ranges = [.. plan.Headings.Select(r => ((string?)null, labels.Account(r.Of), r.From, r.To)),
            .. plan.Classes.Select(r => ((string?)r.Of, (int?)null, r.From, r.To))];
        await AccountRows.Relabel(change, labels,
            [.. proposal.Select(p => (labels.Account(p.Account.Number)!.Value, p.Account, p.Account with { Number = p.To! }))]);
        foreach (var renumbered in proposal)
            await change.Log("account", labels.Account(renumbered.To)!.Value,
                $"Account {renumbered.Account.Number} {renumbered.Account.Name} is now {renumbered.To}.", null, null);
        await change.Command("insert into numbering_plan (company_id, pattern) values ($1, $2) on conflict (company_id) do update set pattern = " +
            "excluded.pattern", change.Company, plan.Pattern.Trim()).Run(change.Stop);
        await change.Command("delete from numbering_range where company_id = $1", change.Company).Run(change.Stop);
        await change.Command("insert into numbering_range (company_id, class, account_id, first_number, last_number) select $1, * from unnest($2::text[], " +
            "$3::integer[], $4::text[], $5::text[])",
            change.Company, ranges.Select(r => r.Class).ToArray(), ranges.Select(r => r.Account).ToArray(), ranges.Select(r => r.From.Trim()).ToArray(),
                ranges.Select(r => r.To.Trim()).ToArray()).Run(change.Stop);
        change.Describes = true;
        change.OnlyDescribes = proposal.Count == 0;
    }
}
