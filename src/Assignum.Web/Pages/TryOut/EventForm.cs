using System.Collections.Immutable;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Web.Showing;

namespace Assignum.Web.Pages.TryOut;

/// <summary>What was typed, read.</summary>
/// <param name="Happened">The event, as far as it can be read.</param>
/// <param name="Faults">What can't be read, by field: "party", "lines[2].price".</param>
/// <param name="Places">Places of its lines among those typed.</param>
/// <param name="CanLand">Enough of it is there to see where it would land.</param>
public sealed record Typed(BusinessEvent Happened, IReadOnlyDictionary<string, string> Faults, IReadOnlyList<int> Places, bool CanLand);

/// <summary>What landing says beside a line.</summary>
/// <param name="Cell">The column it stands in.</param>
/// <param name="Code">A code, in ink.</param>
/// <param name="Text">The rest.</param>
/// <param name="Bars">The cell has nothing to type there.</param>
public sealed record Beside(string Cell, string? Code, string? Text, bool Bars = false);

/// <summary>The form of one type of event: a description, drawn by one page for all types.</summary>
public abstract class EventForm
{
    static ImmutableList<EventForm> all = [.. DocumentForm.OfTypes, .. EventForms.All];

    /// <summary>All of them, in the order in which they are offered.</summary>
    public static IReadOnlyList<EventForm> All => all;

    /// <summary>The form of a type; the first where none is named.</summary>
    public static EventForm Find(string? name) => all.Find(form => form.Name == name) ?? all[0];

    /// <summary>Adds the form of a type that stands in another assembly; to be called while the program starts.</summary>
    public static void Add(EventForm form) => all = all.RemoveAll(known => known.Name == form.Name).Add(form);

    /// <summary>Its type: "sales-invoice".</summary>
    public abstract string Name { get; }
    /// <summary>The work it belongs to.</summary>
    public EventFamily Family => EventTypes.Find(Name)!.Family;
    /// <summary>The families, each with its forms, in the order of the work.</summary>
    public static IEnumerable<IGrouping<EventFamily, EventForm>> Families => all.GroupBy(form => form.Family).OrderBy(family => family.Key);
    /// <summary>Lists of what is known, offered while a field is typed freely.</summary>
    public IEnumerable<string> KnownLists => Head.Concat(Columns).Where(f => f.Typing == Typing.Known).Select(f => f.List!).Distinct();
    /// <summary>"sales invoice".</summary>
    public string InWords => Name.Replace('-', ' ');
    /// <summary>"Sales invoice".</summary>
    public string Title => Show.Title(InWords);
    /// <summary>What to type first, for the empty form: "a customer and what is sold".</summary>
    public abstract string Begin { get; }
    /// <summary>The question where nothing is named yet.</summary>
    public abstract string WhatAsked { get; }
    /// <summary>The field of the head that is typed first.</summary>
    public abstract string Begins { get; }
    /// <summary>The fields of the head, in their order.</summary>
    public abstract IReadOnlyList<FormField> Head { get; }
    /// <summary>The columns of a line; none where it has no lines.</summary>
    public abstract IReadOnlyList<FormField> Columns { get; }

    /// <summary>Whether something is typed in a line that could land.</summary>
    public abstract bool IsBegun(IReadOnlyDictionary<string, string?> line);

    /// <summary>Reads what was typed.</summary>
    public abstract Typed Read(TryOutForm form, Rulebook book, DateOnly today);

    /// <summary>Fills it from an example; codes that the company does not have stay empty.</summary>
    public abstract void Fill(TryOutForm form, BusinessEvent sample, Rulebook book);

    /// <summary>What stands beside a line once it has landed.</summary>
    /// <param name="result">What it came to.</param>
    /// <param name="line">Place of the line among those that were read; -1: nothing is typed there.</param>
    public virtual IEnumerable<Beside> BesideLine(TryOutResult result, int line) => [];

    /// <summary>Accounts named on lines that don't suit what they are for, by the line as people count; what the posting itself warns of is not said
    /// twice.</summary>
    public virtual IEnumerable<(int Line, string Says)> Misfits(TryOutResult result) => [];
}
