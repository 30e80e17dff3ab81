using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Settings;

namespace Assignum.Web.Pages.Rules;

/// <summary>The fields of a rule as somebody typed them.</summary>
public sealed class RuleForm
{
    /// <summary>Row of the rule; null for a new one.</summary>
    public long? Row { get; set; }
    /// <summary>Name of the rung.</summary>
    public string Rung { get; set; } = Core.Rulebooks.Rung.Default.Name;
    /// <summary>Values by fact.</summary>
    public Dictionary<string, string?> Facts { get; set; } = [];
    public string? Account { get; set; }
    public DateOnly? From { get; set; }
    public DateOnly? To { get; set; }
    public string? Note { get; set; }

    /// <summary>The form of a rule.</summary>
    internal static RuleForm Of(Rule rule, long row, Rulebook book) => new()
    {
        Row = row, Rung = rule.Rung.Name, Facts = rule.When.ToDictionary(w => w.Fact.Name(), w => (string?)w.Code),
        Account = Pick.Written(rule.Account, book.Accounts.FirstOrDefault(a => Core.Fold.Same(a.Number, rule.Account))?.Name ?? ""), From = rule.From,
            To = rule.To, Note = rule.Note,
    };

    /// <summary>The rung of the ladder that is chosen; the last one when the name is not on it.</summary>
    internal Rung RungOf(Rulebook book, Purpose purpose)
    {
        var ladder = book.LadderOf(purpose);
        return ladder.FirstOrDefault(r => r.Name == Rung) ?? ladder[^1];
    }

    /// <summary>The rule that was typed, or the first field that can't be read.</summary>
    internal (Rule? Rule, Refusal? Refusal) Read(Rulebook book, Purpose purpose)
    {
        var when = new List<FactValue>();
        foreach (var fact in RungOf(book, purpose).Facts)
        {
            var (code, fault) = CodeOf(book, fact, Facts.GetValueOrDefault(fact.Name()));
            if (fault is not null)
                return (null, new Refusal(fact.Name(), fault));
            when.Add(new FactValue(fact, code!));
        }
        var account = AccountPick.One(Account, book.Accounts, purpose);
        if (account.Thing is null)
            return (null, new Refusal("account", account.Fault ?? "The rule has no account. Type a number or any part of a name."));
        return (new Rule { Id = "", Purpose = purpose, When = when, Account = account.Thing.Number, From = From, To = To, Note = string.IsNullOrWhiteSpace(Note)
            ? null : Note.Trim() }, null);
    }

    static (string? Code, string? Fault) CodeOf(Rulebook book, Fact fact, string? typed)
    {
        if (string.IsNullOrWhiteSpace(typed))
            return (null, $"The rung asks for {fact.InWords()}. Type its code or any part of its name.");
        if (fact.List() is not { } list)
            return (typed.Trim(), null);
        var one = Pick.One(typed, list.Of(book).Select(l => new Choice(l.Code, l.Name)), c => c.Code, c => c.Name, fact.InWords());
        return (one.Thing?.Code, one.Fault);
    }

    sealed record Choice(string Code, string Name);
}
