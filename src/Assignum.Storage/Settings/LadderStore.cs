using System.Collections.Immutable;
using Assignum.Core;
using Assignum.Core.Rulebooks;

namespace Assignum.Storage.Settings;

/// <summary>Changes of ladders.</summary>
public sealed class LadderStore(Draft draft)
{
    /// <summary>Gives a purpose another ladder in the draft.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who changes it.</param>
    /// <param name="purpose">The purpose.</param>
    /// <param name="rungs">Its rungs, first to last.</param>
    /// <param name="seen">The ladder the user saw; when it is another by now, the change is refused.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> Set(int company, int user, Purpose purpose, ImmutableArray<Rung> rungs, ImmutableArray<Rung> seen, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var book = (await change.Book()).Book;
            var was = book.LadderOf(purpose);
            if (!was.SequenceEqual(seen))
                return new Refusal("", $"Somebody else has changed the ladder of {purpose.Title.ToLowerInvariant()}. It is {InWords(was)} now. Look at it " +
                    "again, then make your change.");
            if (rungs.IsEmpty)
                return new Refusal("", "A ladder has at least one rung. Keep the company default.");
            if (rungs.GroupBy(r => r).FirstOrDefault(g => g.Skip(1).Any()) is { } twice)
                return new Refusal("", $"The rung {twice.Key.InWords} stands there twice. Keep it once.");
            if (book.Rules.Where(r => r.Purpose == purpose && !rungs.Contains(r.Rung)).ToList() is { Count: > 0 } rules)
                return new Refusal("", StandThere(rules));
            if (was.SequenceEqual(rungs))
                return null;
            await Put(change, purpose, rungs);
            await change.Log("ladder", purpose.Index, $"The ladder of {purpose.Title.ToLowerInvariant()} is {InWords(rungs)}.", was.Select(r => r.Name),
                rungs.Select(r => r.Name));
            return null;
        }, stop);

    /// <summary>Gives a purpose a ladder; one that is the default needs no row.</summary>
    internal static async Task Put(DraftChange change, Purpose purpose, ImmutableArray<Rung> rungs)
    {
        await change.Command("delete from ladder where company_id = $1 and purpose = $2 and introduced_in = $3", change.Company, purpose.Name,
            change.Edition).Run(change.Stop);
        await change.Command("update ladder set retired_in = $3 where company_id = $1 and purpose = $2 and retired_in is null", change.Company, purpose.Name,
            change.Edition).Run(change.Stop);
        if (!rungs.SequenceEqual(purpose.DefaultLadder))
            await Insert(change, purpose, rungs);
    }

    internal static Task Insert(DraftChange change, Purpose purpose, ImmutableArray<Rung> rungs) =>
        change.Command("insert into ladder (company_id, purpose, rungs, ladder_key, introduced_in) values ($1, $2, $3, $4, $5)",
            change.Company, purpose.Name, rungs.Select(r => r.Name).ToArray(), RuleKey.Of(change.Company, "ladder:" + purpose.Name, []),
                change.Edition).Run(change.Stop);

    static string InWords(ImmutableArray<Rung> rungs) => string.Join(" · ", rungs.Select(r => r.InWords));

    static string StandThere(List<Rule> rules)
    {
        var first = $"{rules[0].InWords} → {rules[0].Account}";
        var (who, them) = rules.Count == 1 ? ($"The rule {first} stands", "it") : ($"{rules.Count} rules stand, first {first},", "them");
        return $"{who} on the rung {rules[0].Rung.InWords}. End {them} in this draft, then drop the rung.";
    }
}
