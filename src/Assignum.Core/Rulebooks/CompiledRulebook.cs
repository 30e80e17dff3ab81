using System.Collections.Concurrent;
using System.Collections.Immutable;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Taxes;

namespace Assignum.Core.Rulebooks;

/// <summary>A rulebook made ready for landing: codes interned, one table a rung. Immutable; share it between threads.</summary>
public sealed partial class CompiledRulebook
{
    readonly CompiledLadder[] ladders;
    readonly CompiledLadder taxLadder;
    readonly OpenCodes openCodes;
    // Asked for by what counts all combinations, and by none that lands.
    readonly ConcurrentDictionary<Purpose, IReadOnlyList<CompiledLadder.RuleValues>> valuesOf = [];
    // By fact; null where codes are taken as they come.
    readonly ICodes?[] lists;
    readonly TaxAnswer[] taxAnswers;
    // Groups of members by the member's number, so that a document asks for a member once.
    readonly int[] partyGroups, partyTaxGroups, partners, itemGroups, itemTaxGroups;

    /// <summary>Tax rules have one fixed ladder.</summary>
    public static ImmutableArray<Rung> TaxLadder { get; } =
    [
        new(Fact.TaxArea, Fact.PartyTaxGroup, Fact.ItemTaxGroup), new(Fact.TaxArea, Fact.ItemTaxGroup), new(Fact.PartyTaxGroup, Fact.ItemTaxGroup),
        new(Fact.TaxArea), new(Fact.PartyTaxGroup), new(Fact.ItemTaxGroup), Rung.Default,
    ];

    /// <summary>Compiles a rulebook that the checks found without errors.</summary>
    /// <param name="book">The rulebook.</param>
    public CompiledRulebook(Rulebook book) : this(book, null) { }

    CompiledRulebook(Rulebook book, CompiledRulebook? known)
    {
        Book = book;
        CompanyCurrency = Fold.Of(book.Company.Currency);
        CompanyMinorUnits = Money.MinorUnits(CompanyCurrency);
        Accounts = known?.Accounts ?? new(book.Accounts, a => a.Number, a => a.Name);
        Parties = known?.Parties ?? new(book.Parties, p => p.Code, p => p.Name);
        Items = known?.Items ?? new(book.Items, i => i.Code, i => i.Name);
        PartyGroups = known?.PartyGroups ?? new(book.PartyGroups, g => g.Code, g => g.Name);
        ItemGroups = known?.ItemGroups ?? new(book.ItemGroups, g => g.Code, g => g.Name);
        ProjectGroups = known?.ProjectGroups ?? new(book.ProjectGroups, g => g.Code, g => g.Name);
        AssetGroups = known?.AssetGroups ?? new(book.AssetGroups, g => g.Code, g => g.Name);
        PartyTaxGroups = known?.PartyTaxGroups ?? new(book.PartyTaxGroups, g => g.Code, g => g.Name);
        ItemTaxGroups = known?.ItemTaxGroups ?? new(book.ItemTaxGroups, g => g.Code, g => g.Name);
        Locations = known?.Locations ?? new(book.Locations, l => l.Code, l => l.Name);
        Projects = known?.Projects ?? new(book.Projects, p => p.Code, p => p.Name);
        Tasks = known?.Tasks ?? new(book.Projects.SelectMany(p => p.Tasks.Select(t => (p, t))), pair => pair.Project.Code + "/" + pair.Task.Code, pair =>
            pair.Task.Name);
        Assets = known?.Assets ?? new(book.Assets, a => a.Code, a => a.Name);
        Partners = known?.Partners ?? new(book.Partners, p => p.Code, p => p.Name);
        ItemKinds = known?.ItemKinds ?? new(Words<ItemKind>.All, k => k);
        TaxCodes = known?.TaxCodes ?? new(book.TaxCodes, t => t.Code, t => t.Name);
        var change = known is null ? null : ListChange.Between(known.Book.Rules, book.Rules);
        openCodes = change is null || NamesOpenCodes(known!, change) ? OpenCodes.Of(book) : known!.openCodes;
        lists = Array.ConvertAll(Enum.GetValues<Fact>(), fact => fact.List()?.Codes(this));
        taxAnswers = known?.taxAnswers ?? [.. book.TaxRules.Select(AnswerOf)];
        partyGroups = known?.partyGroups ?? [0, .. book.Parties.Select(p => PartyGroups.IdOf(p.Group))];
        partyTaxGroups = known?.partyTaxGroups ?? [0, .. book.Parties.Select(p => PartyTaxGroups.IdOf(p.TaxGroup ?? TaxGroupOf(PartyGroups, p.Group)))];
        partners = known?.partners ?? [0, .. book.Parties.Select(p => Partners.IdOf(p.Partner))];
        itemGroups = known?.itemGroups ?? [0, .. book.Items.Select(i => ItemGroups.IdOf(i.Group))];
        itemTaxGroups = known?.itemTaxGroups ?? [0, .. book.Items.Select(i => ItemTaxGroups.IdOf(i.TaxGroup ?? TaxGroupOf(ItemGroups, i.Group)))];
        // Codes without a list are numbered as rules name them: with other numbers no table can be taken over.
        var taken = known is not null && (ReferenceEquals(openCodes, known.openCodes) || openCodes.Numbers(known.openCodes)) ? known : null;
        if (taken is not null)
        {
            RuleAccounts = AccountsOver(taken, change!);
            ladders = LaddersOver(taken, change!);
            taxLadder = taken.taxLadder;
            return;
        }
        RuleAccounts = AccountsOfRules(book);
        ladders = CompileLadders(book);
        taxLadder = CompiledLadder.Of(TaxLadder, TaxRuleValues(book.TaxRules), SizeOf);
    }

    /// <summary>Compiles a rulebook that differs from a compiled one in few rules: what is the same is taken over, and the cost is that of the rungs that
    /// changed.</summary>
    /// <param name="book">The rulebook, without errors.</param>
    /// <param name="known">A compiled rulebook.</param>
    public static CompiledRulebook Near(Rulebook book, CompiledRulebook known) => new(book, book.SharesAllButRules(known.Book) ? known : null);

    TaxAnswer AnswerOf(TaxRule rule) =>
        new(TaxCodes.TryFind(rule.TaxCode, out var code) ? code : null, rule.When() is { Count: > 0 } when ? string.Join(" × ", when.Select(w => w.Code))
            : "default");

    /// <summary>The rulebook as written down.</summary>
    public Rulebook Book { get; }
    /// <summary>Folded code of the company's currency.</summary>
    internal string CompanyCurrency { get; }
    /// <summary>Its minor units.</summary>
    public int CompanyMinorUnits { get; }
    /// <summary>Accounts by number.</summary>
    public CodeIndex<Account> Accounts { get; }
    /// <summary>Parties by code.</summary>
    public CodeIndex<Party> Parties { get; }
    /// <summary>Items by code.</summary>
    public CodeIndex<Item> Items { get; }
    /// <summary>Posting groups of parties by code.</summary>
    public CodeIndex<Group> PartyGroups { get; }
    /// <summary>Posting groups of items by code.</summary>
    public CodeIndex<Group> ItemGroups { get; }
    /// <summary>Locations by code.</summary>
    public CodeIndex<Location> Locations { get; }
    /// <summary>Projects by code.</summary>
    public CodeIndex<Project> Projects { get; }
    /// <summary>Fixed assets by code.</summary>
    public CodeIndex<Asset> Assets { get; }
    /// <summary>Tax codes by code.</summary>
    public CodeIndex<TaxCode> TaxCodes { get; }

    internal CodeIndex<Group> ProjectGroups { get; }
    internal CodeIndex<Group> AssetGroups { get; }
    internal CodeIndex<Partner> Partners { get; }
    /// <summary>Tax groups of parties by code.</summary>
    public CodeIndex<Group> PartyTaxGroups { get; }
    /// <summary>Tax groups of items by code.</summary>
    public CodeIndex<Group> ItemTaxGroups { get; }
    internal CodeIndex<(Project Project, ProjectTask Task)> Tasks { get; }
    internal CodeIndex<string> ItemKinds { get; }
    internal ImmutableArray<int> RuleAccounts { get; }

    /// <summary>Finds the rule for one amount: the ladder of the purpose, then those of its stand-ins.</summary>
    /// <param name="purpose">What the amount is for.</param>
    /// <param name="facts">The facts of the request.</param>
    /// <param name="date">Posting date; rules outside their validity do not answer.</param>
    /// <returns>The answering rule and rung, or <see cref="Answer.None"/>.</returns>
    public Answer Resolve(Purpose purpose, Facts facts, DateOnly date)
    {
        for (var asked = purpose; asked is not null; asked = asked.StandIn)
        {
            var (rung, rule) = ladders[asked.Index].Resolve(facts.AsSpan(), date.DayNumber);
            if (rung >= 0)
                return new Answer(asked, rung, rule);
        }
        return Answer.None;
    }

    /// <summary>The same, leaving out rungs, by purpose of the chain and place in its ladder.</summary>
    internal Answer ResolveWithout(IReadOnlyList<(Purpose Purpose, bool[] Left)> chain, Facts facts, DateOnly date)
    {
        foreach (var (asked, left) in chain)
        {
            var (rung, rule) = ladders[asked.Index].ResolveWithout(facts.AsSpan(), date.DayNumber, left);
            if (rung >= 0)
                return new Answer(asked, rung, rule);
        }
        return Answer.None;
    }

    /// <summary>The rules of one purpose with their interned values; those that name a code the rulebook does not have are left out.</summary>
    internal IReadOnlyList<CompiledLadder.RuleValues> ValuesOf(Purpose purpose) => valuesOf.GetOrAdd(purpose, ReadValues);

    List<CompiledLadder.RuleValues> ReadValues(Purpose purpose)
    {
        var (ladder, read) = (Book.LadderOf(purpose), new List<CompiledLadder.RuleValues>());
        for (var i = 0; i < Book.Rules.Count; i++)
            if (Book.Rules[i].Purpose == purpose && ValuesOf(Book.Rules[i].When, ladder, i, Book.Rules[i].From, Book.Rules[i].To) is { } ready)
                read.Add(ready);
        return read;
    }

    /// <summary>The rule of one rung with the facts' values, valid on the date; null when there is none.</summary>
    internal Rule? RuleOn(Purpose purpose, Rung rung, Facts facts, DateOnly date)
    {
        var ladder = ladders[purpose.Index];
        var found = ladder.RuleOn(ladder.Rungs.IndexOf(rung), facts.AsSpan(), date.DayNumber);
        return found < 0 ? null : Book.Rules[found];
    }

    /// <summary>The rule for exactly these facts, valid on the date; null when there is none.</summary>
    public Rule? OwnRule(Purpose purpose, IReadOnlyList<FactValue> when, DateOnly date)
    {
        var rung = new Rung([.. when.Select(w => w.Fact)]);
        return Book.LadderOf(purpose).Contains(rung) ? RuleOn(purpose, rung, FactsOf(when), date) : null;
    }

    /// <summary>The account a rule answers with.</summary>
    public Account AccountOf(Answer answer) => Accounts.ById(RuleAccounts[answer.RuleAt]);

    /// <summary>The rule that answered.</summary>
    public Rule RuleOf(Answer answer) => Book.Rules[answer.RuleAt];

    /// <summary>The rung that answered.</summary>
    public Rung RungOf(Answer answer) => ladders[answer.Purpose!.Index].Rungs[answer.RungAt];

    /// <summary>Every rung of the ladders tried, from first to last, with what happened there.</summary>
    public IReadOnlyList<TrailStep> Explain(Purpose purpose, Facts facts, DateOnly date)
    {
        var answer = Resolve(purpose, facts, date);
        var steps = new List<TrailStep>();
        for (var asked = purpose; asked is not null; asked = asked.StandIn)
        {
            var rungs = ladders[asked.Index].Rungs;
            for (var i = 0; i < rungs.Length; i++)
            {
                var state = StateOf(rungs[i], answer.Purpose == asked ? i - answer.RungAt : -1, facts);
                steps.Add(new TrailStep(asked, rungs[i], state, state == RungState.Answered ? RuleOf(answer) : null));
            }
            if (answer.Purpose == asked)
                break;
        }
        return steps;
    }

    // Rungs above the one that answered were tried; those below were not reached.
    static RungState StateOf(Rung rung, int below, Facts facts)
    {
        if (below == 0)
            return RungState.Answered;
        if (below > 0)
            return RungState.NotReached;
        return rung.Facts.All(facts.Has) ? RungState.Empty : RungState.Skipped;
    }

    /// <summary>The present facts that the ladders of a purpose and its stand-ins ask for, in the order of facts.</summary>
    public IReadOnlyList<FactValue> AskedFor(Purpose purpose, Facts facts)
    {
        var asked = new HashSet<Fact>();
        for (var p = purpose; p is not null; p = p.StandIn)
            foreach (var rung in ladders[p.Index].Rungs)
                asked.UnionWith(rung.Facts);
        return [.. InWords(facts).Where(value => asked.Contains(value.Fact))];
    }

    /// <summary>The rung of the tax ladder and the tax rule that answer on a tax date, or null.</summary>
    internal (int Rung, int Rule)? TaxRuleFor(Facts facts, DateOnly taxDate) =>
        taxLadder.Resolve(facts.AsSpan(), taxDate.DayNumber) is { Rung: >= 0 } found ? found : null;

    /// <summary>The answer of the tax rules for a tax area and two tax groups on a tax date, or null.</summary>
    internal TaxAnswer? ResolveTax(Facts facts, DateOnly taxDate) => TaxRuleFor(facts, taxDate) is { } found ? taxAnswers[found.Rule] : null;

    /// <summary>The tax rule that asks for exactly both groups, and the area where there is one with it.</summary>
    internal TaxAnswer? ResolveTaxOfBothGroups(Facts facts, DateOnly taxDate)
    {
        var (rung, rule) = taxLadder.Resolve(facts.AsSpan(), taxDate.DayNumber);
        if (rung == 1)
        {
            // The rung of area and item group lies between the two that are asked for here.
            var withoutArea = facts.Copy();
            withoutArea[Fact.TaxArea] = 0;
            (rung, rule) = taxLadder.Resolve(withoutArea.AsSpan(), taxDate.DayNumber);
        }
        return rung is 0 or 2 ? taxAnswers[rule] : null;
    }

    IEnumerable<CompiledLadder.RuleValues> TaxRuleValues(IReadOnlyList<TaxRule> rules)
    {
        for (var i = 0; i < rules.Count; i++)
            if (ValuesOf(rules[i].When(), TaxLadder, i, rules[i].From, rules[i].To) is { } ready)
                yield return ready;
    }

    // A rule that names a code the rulebook does not have can never answer, and is left out.
    CompiledLadder.RuleValues? ValuesOf(IReadOnlyList<FactValue> when, ImmutableArray<Rung> ladder, int index, DateOnly? from, DateOnly? to)
    {
        var asked = 0u;
        foreach (var value in when)
            asked |= 1u << (int)value.Fact;
        for (var rung = 0; rung < ladder.Length; rung++)
        {
            if ((uint)ladder[rung].GetHashCode() != asked)
                continue;
            var facts = ladder[rung].Facts;
            var values = new int[facts.Length];
            for (var i = 0; i < values.Length; i++)
            {
                values[i] = IdOf(facts[i], CodeFor(facts[i]));
                if (values[i] == 0)
                    return null;
            }
            return new(index, rung, values, from?.DayNumber ?? 0, to?.DayNumber ?? int.MaxValue);
        }
        throw new InvalidOperationException($"Rule {index} is off its ladder; the checks refuse such a rulebook.");

        string CodeFor(Fact fact)
        {
            foreach (var value in when)
                if (value.Fact == fact)
                    return value.Code;
            throw new InvalidOperationException();
        }
    }
}
