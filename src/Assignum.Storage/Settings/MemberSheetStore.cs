using Assignum.Core.Rulebooks;

namespace Assignum.Storage.Settings;

/// <summary>Puts what a sheet of members wishes into the draft, all or nothing.</summary>
public sealed class MemberSheetStore(Draft draft)
{
    /// <summary>Adds and moves members and changes rules of their own in one act.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who does it.</param>
    /// <param name="kind">"item" or "party".</param>
    /// <param name="members">Members with what shall change.</param>
    /// <param name="rules">Rules by purpose.</param>
    /// <param name="date">The day the sheet was made for.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="added">Members that are new; they are there at once.</param>
    public Task<Refusal?> Take(int company, int user, string kind, IReadOnlyList<MemberChange> members,
        IReadOnlyList<(Purpose Purpose, IReadOnlyList<CellEdit> Edits)> rules, DateOnly date, CancellationToken stop, IReadOnlyList<NewMember>? added = null) =>
        draft.Change(company, user, async change =>
        {
            if (added is { Count: > 0 } && await GroupStore.AddMembers(change, kind, added) is { } taken)
                return taken;
            if (members.Count > 0 && await GroupStore.Reset(change, await change.Book(), kind, members) is { } refusal)
                return refusal;
            foreach (var (purpose, edits) in rules)
                if (await RuleCells.Set(change, purpose, edits, date) is [var fault, ..])
                    return new Refusal("", $"{purpose.Title}, " +
                        $"{(fault.Edit >= 0 ? string.Join(" × ", edits[fault.Edit].When.Select(w => w.Code)) : "rules")}: {fault.Message}");
            return null;
        }, stop);
}
