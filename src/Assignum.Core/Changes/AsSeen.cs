using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Changes;

/// <summary>What somebody saw of a group or member when they opened it, and in what it has changed since. Every save of a setting carries it.</summary>
public sealed class AsSeen
{
    readonly Func<string> now;
    readonly Func<string, string?> changedSince;

    AsSeen(Func<string> now, Func<string, string?> changedSince) => (this.now, this.changedSince) = (now, changedSince);

    /// <summary>What is seen of it now; empty when there is no such thing.</summary>
    public string Now => now();

    /// <summary>In what it has changed since it was seen; null when in nothing, or when there is no such thing.</summary>
    public string? ChangedSince(string seen) => changedSince(seen);

    /// <summary>Looks at a group.</summary>
    public static AsSeen Group(Rulebook book, string family, string? code) =>
        Of(SettingKinds.OfFamily(family), book.GroupsOf(family).FirstOrDefault(g => Fold.Same(g.Code, code)));

    /// <summary>Looks at a member; a task is seen with its project.</summary>
    /// <param name="book">The rulebook it is seen in.</param>
    /// <param name="kind">"party", "item", "location", "asset", "partner", "project" or "task".</param>
    /// <param name="code">Its code; of a task with its project: "P-1/10".</param>
    public static AsSeen Member(Rulebook book, string kind, string code) => kind switch
    {
        "party" => Of(SettingKinds.Parties, book.Parties.FirstOrDefault(p => Fold.Same(p.Code, code))),
        "item" => Of(SettingKinds.Items, book.Items.FirstOrDefault(i => Fold.Same(i.Code, code))),
        "location" => Of(SettingKinds.Locations, book.Locations.FirstOrDefault(l => Fold.Same(l.Code, code))),
        "asset" => Of(SettingKinds.Assets, book.Assets.FirstOrDefault(a => Fold.Same(a.Code, code))),
        "partner" => Of(SettingKinds.Partners, book.Partners.FirstOrDefault(p => Fold.Same(p.Code, code))),
        _ => Of(SettingKinds.Projects, book.Projects.FirstOrDefault(p => Fold.Same(p.Code, code.Split('/')[0]))),
    };

    static AsSeen Of<T>(SettingKind<T> kind, T? thing) where T : class =>
        thing is null ? new(() => "", _ => null) : new(() => kind.SeenOf(thing), seen => kind.ChangedSince(seen, thing));
}
