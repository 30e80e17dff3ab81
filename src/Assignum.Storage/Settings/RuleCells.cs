using Assignum.Core;
using Assignum.Core.Findings;
using Assignum.Core.Rulebooks;
using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>What a cell of a grid shall answer of its own.</summary>
/// <param name="When">The facts of the cell.</param>
/// <param name="Account">Number of the account; null: the cell falls back to what stands below it.</param>
/// <param name="Seen">Id of the cell's own rule as it was seen, or null.</param>
/// <param name="SeenAccount">Number of the account that rule had.</param>
public sealed record CellEdit(IReadOnlyList<FactValue> When, string? Account, string? Seen, string? SeenAccount);

/// <summary>Why cells were not changed: by the place of the edit in the list; -1 for what is about all.</summary>
public sealed record CellFault(int Edit, string Message);

/// <summary>Changes many rules of a purpose at once, whole or not at all.</summary>
public sealed class RuleCells(Draft draft)
{
    const int MostLogged = 200;

    /// <summary>Gives cells answers of their own, or lets them fall back.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who changes them.</param>
    /// <param name="purpose">The purpose.</param>
    /// <param name="edits">The cells.</param>
    /// <param name="date">The day the grid was shown for: of rules with dates the one valid then is changed.</param>
    /// <param name="stop">Cancels.</param>
    /// <returns>Why nothing was changed; empty when all was.</returns>
    public async Task<IReadOnlyList<CellFault>> Set(int company, int user, Purpose purpose, IReadOnlyList<CellEdit> edits, DateOnly date,
        CancellationToken stop)
    {
        IReadOnlyList<CellFault> faults = [];
        await draft.Change(company, user, async change => (faults = await Set(change, purpose, edits, date)) is [var first, ..] ? new Refusal("", first.Message)
            : null, stop);
        return faults;
    }

    internal static async Task<IReadOnlyList<CellFault>> Set(DraftChange change, Purpose purpose, IReadOnlyList<CellEdit> edits, DateOnly date)
    {
        var faults = new List<CellFault>();
        var stored = await change.Book();
        var plan = new Plan(stored, purpose, edits, date);
        for (var i = 0; i < edits.Count; i++)
            if (plan.Take(edits[i]) is { } fault)
                faults.Add(new(i, fault));
        if (faults.Count == 0)
            foreach (var error in RulebookChecks.ErrorsOf(stored.Book, plan.Come, plan.Gone.Select(r => r.Id).ToHashSet()))
                faults.Add(new(plan.EditOf(error), error.Message));
        if (faults.Count > 0)
            return faults;
        await RuleRows.Replace(change, stored.Labels, [.. plan.Gone.Select(r => stored.Labels.RuleRow(r.Id)!.Value)], plan.Come);
        await Log(change, purpose, plan);
        return [];
    }

    static async Task Log(DraftChange change, Purpose purpose, Plan plan)
    {
        if (plan.Sentences.Count > MostLogged)
            await change.Log("rule", 0, $"{plan.Sentences.Count} rules for {purpose.InWords} changed, first: {plan.Sentences[0]}", null,
                plan.Sentences.Take(2000));
        else
            foreach (var sentence in plan.Sentences)
                await change.Log("rule", 0, sentence, null, null);
    }

    sealed class Plan(StoredRulebook stored, Purpose purpose, IReadOnlyList<CellEdit> edits, DateOnly date)
    {
        readonly ILookup<string, Rule> byKey = RuleKey.NamedBy(stored.Book.Rules.Where(r => r.Purpose == purpose), edits.SelectMany(e => e.When)).ToLookup(r =>
            r.Key);
        readonly RuleNames names = new(stored.Book);
        readonly Dictionary<string, int> editOf = [];
        int edit = -1;

        internal List<Rule> Come { get; } = [];
        internal List<Rule> Gone { get; } = [];
        internal List<string> Sentences { get; } = [];

        internal int EditOf(Core.Findings.Finding error) => editOf.GetValueOrDefault(error.Where["rules/".Length..], -1);

        internal string? Take(CellEdit wanted)
        {
            edit++;
            foreach (var (fact, code) in wanted.When)
                if (Labels.ListOf(fact) is { } list && stored.Labels.IdOf(list, code) is null)
                    return $"There is no {fact.InWords()} {code} any more. Load the grid again.";
            var dated = byKey[RuleKey.TextOf(purpose.Name, wanted.When)].ToList();
            var own = dated.Find(r => r.ValidOn(date));
            if (own?.Id != wanted.Seen || (own is not null && !Fold.Same(own.Account, wanted.SeenAccount)))
                return $"Somebody else has changed this cell: it {(own is null ? "has no rule of its own now" : $"is {own.Account} now")}, and you saw " +
                    $"{(wanted.Seen is null ? "none" : wanted.SeenAccount)}. Look at it, then change it.";
            if (wanted.Account is null)
            {
                if (own is not null)
                    End(own);
                return null;
            }
            if (own is not null && Fold.Same(own.Account, wanted.Account))
                return null;
            var rule = own is null ? Between(dated, wanted) : own with { Account = wanted.Account };
            if (own is not null)
                Gone.Add(own);
            Come.Add(rule);
            editOf[rule.Id] = edit;
            Sentences.Add(own is null ? $"Rule added: {purpose.Title}, {rule.InWords} → {rule.Account}."
                : $"Rule changed: {purpose.Title}, {rule.InWords} → {rule.Account}, was {own.Account}.");
            return null;
        }

        void End(Rule own)
        {
            Gone.Add(own);
            Sentences.Add($"Rule ends: {purpose.Title}, {own.InWords} → {own.Account}.");
        }

        // Where the cell has rules before or after the day, the new one fits in between.
        Rule Between(List<Rule> dated, CellEdit wanted) => new()
        {
            Id = names.Next(), Purpose = purpose, When = wanted.When, Account = wanted.Account!,
            From = dated.Where(r => r.To < date).Max(r => r.To)?.AddDays(1), To = dated.Where(r => r.From > date).Min(r => r.From)?.AddDays(-1),
        };
    }
}
