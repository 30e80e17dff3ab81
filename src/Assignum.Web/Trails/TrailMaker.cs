using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Events;
using Assignum.Storage.Journal;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Pages;
using Assignum.Web.Showing;

namespace Assignum.Web.Trails;

/// <summary>Makes trails: of amounts in a try-out, of lines in the journal, and of what is missing.</summary>
public sealed class TrailMaker(RuleStore rules, FormerCodes former)
{
    /// <summary>The trail of a row that was tried.</summary>
    public async Task<Trail> OfRow(CompanyPage page, LandingBook book, EntryRow row, DateOnly date, DocumentTotals? totals, CancellationToken stop)
    {
        var compiled = book.Compiled!;
        if (row.Purpose is not { } purpose)
            return new Trail
            {
                Heading = $"By hand {Show.Amount(Math.Abs(row.Amount), page.Decimals)} lands on", Account = (row.Account.Number, row.Account.Name),
                Sentence = "The line names its account.", Steps = [], Facts = [],
                Links = [new("Every line on this account", page.At($"journal?account={Uri.EscapeDataString(row.Account.Number)}"))],
            };
        return new Trail
        {
            Heading = $"{purpose.Title} {Show.Amount(Math.Abs(row.Amount), page.Decimals)} lands on",
            Account = (row.Account.Number, row.Account.Name),
            Sentence = Sentence(purpose, row.By, row.Rung, row.Rule, row.Account.Name, compiled),
            Steps = row.By == AnsweredBy.Ladder ? compiled.Explain(purpose, row.Context.Facts, date) : [],
            Facts = Named(compiled, compiled.AskedFor(purpose, row.Context.Facts)),
            Rule = row.Rule is { } rule ? await OfRule(page, book.Stored, rule, stop) : null,
            More = totals is not null && GroupsMet(totals, row.Context.TaxLabel) is { } met ? [("Tax code", met, page.At("tax"))] : [],
            Links = Links(page, row.Account, purpose),
        };
    }

    /// <summary>The trail of a question: where a purpose lands for given facts.</summary>
    public async Task<Trail> OfFacts(CompanyPage page, LandingBook book, Purpose purpose, Facts facts, DateOnly date, IReadOnlyList<TrailLinkTo> links,
        CancellationToken stop)
    {
        var compiled = book.Shown;
        var lands = Whereabouts.Of(compiled, purpose, facts, date);
        return new Trail
        {
            Heading = lands.Account is null ? purpose.Title : purpose.Title + " lands on",
            Account = lands.Account is { } account ? (account.Number, account.Name) : null,
            Sentence = SentenceOf(purpose, lands, compiled),
            Defect = lands.WhyNot is not null,
            Steps = compiled.Explain(purpose, facts, date),
            Facts = Named(compiled, compiled.AskedFor(purpose, facts)),
            Rule = lands.Rule is { } rule ? await OfRule(page, book.Stored, rule, stop) : null,
            Links = links,
        };
    }

    /// <summary>The trail of a line that is posted, by the edition it was landed under.</summary>
    public async Task<Trail> OfLine(CompanyPage page, LandingBook book, EntryWhole entry, LedgerLine line, CancellationToken stop)
    {
        var purpose = line.Purpose is { } name ? Purpose.Find(name) : null;
        var rule = book.Stored.Book.Rules.FirstOrDefault(r => r.Id == line.RuleName);
        var compiled = book.Compiled!;
        var landed = await former.Now(page.Company.Id, line.Facts, stop);
        var facts = compiled.FactsOf(landed);
        var by = Core.Words<AnsweredBy>.TryParse(line.AnsweredBy, out var known) ? known : AnsweredBy.Given;
        var rung = by == AnsweredBy.Ladder && purpose is not null
            ? compiled.Explain(purpose, facts, entry.Date).FirstOrDefault(s => s.State == RungState.Answered)?.Rung : null;
        return new Trail
        {
            Heading = $"{purpose?.Title ?? "By hand"} {Show.Amount(Math.Abs(line.Amount), page.Decimals)} landed on",
            Account = (line.Account, line.AccountName),
            Sentence = purpose is null ? "The line was given with the entry." : Sentence(purpose, by, rung, rule, line.AccountName, compiled),
            Steps = by == AnsweredBy.Ladder && purpose is not null ? compiled.Explain(purpose, facts, entry.Date) : [],
            Facts = Named(compiled, purpose is null ? landed : compiled.AskedFor(purpose, facts)),
            Rule = rule is null || line.RuleRow is not { } row ? null : await OfRule(page, rule, row, stop),
            More =
            [
                .. WhichGroupsMet(book, entry, line) is { } met ? [("Tax code", met, page.At("tax"))] : ((string, string, string?)[])[],
                ("Edition", line.Edition.ToString(System.Globalization.CultureInfo.InvariantCulture),
                    page.At($"editions/compare?from={line.Edition - 1}&to={line.Edition}")),
                ("Event", $"{entry.SourceId}, {entry.Type}", null),
                ("Posted", $"{Show.Moment(entry.PostedAt)} by {entry.PostedBy ?? "a connected system"}", null),
            ],
            Links = [new("Every line on this account", page.At($"journal?account={Uri.EscapeDataString(line.Account)}")), .. line.RuleRow is { } used
                ? [new TrailLinkTo("Every line by this rule", page.At($"journal?rule={used}"))] : (TrailLinkTo[])[]],
        };
    }

    /// <summary>What is missing, and where it is mended.</summary>
    public static Trail OfReason(CompanyPage page, LandingBook book, HeldReason reason, DateOnly date)
    {
        var compiled = book.Compiled!;
        return new Trail
        {
            Heading = reason.Purpose is { } purpose ? purpose.Title : "Held", Sentence = reason.Message, Defect = true,
            Steps = reason is { Cause: HeldCause.NoRule, Purpose: { } asked } ? compiled.Explain(asked, compiled.FactsOf(reason.Facts), date) : [],
            Facts = Named(compiled, reason.Facts),
            Links = Mend.Of(page, book, reason) is { } mend ? [mend] : [],
        };
    }

    Task<TrailRule?> OfRule(CompanyPage page, StoredRulebook stored, Rule rule, CancellationToken stop) =>
        stored.Labels.RuleRow(rule.Id) is { } row ? OfRule(page, rule, row, stop) : Task.FromResult<TrailRule?>(null);

    async Task<TrailRule?> OfRule(CompanyPage page, Rule rule, long row, CancellationToken stop)
    {
        if (await rules.OriginOf(page.Company.Id, row, stop) is not { } origin)
            return null;
        var since = origin.ReleasedAt is { } released ? $"edition {origin.Introduced}, released {Show.Moment(released)} by {origin.ReleasedBy}"
            : $"draft {origin.Introduced}, not released yet";
        var used = origin.Lines == 0 ? "never yet"
            : $"{(origin.Lines == RuleStore.MostCounted ? $"more than {RuleStore.MostCounted:N0} lines" : Show.Count(origin.Lines, "line"))}, " +
                $"{Show.Amount(origin.Turnover, page.Decimals)}";
        return new TrailRule(rule.Id, $"{rule.Purpose.Title} · {rule.InWords}", page.At($"rules/{rule.Purpose.Name}?handler=rule&row={row}"),
            Show.Validity(rule.From, rule.To), since, used, rule.Note);
    }

    static string SentenceOf(Purpose purpose, LandsOn lands, CompiledRulebook compiled)
    {
        if (lands.Account is not { } account)
            return "No rung has a rule for this. An event that needs it would be held.";
        return lands.WhyNot is { } why ? $"Account {account.Number} {why}, so an event that needs it would be held."
            : Sentence(purpose, AnsweredBy.Ladder, lands.Rung, lands.Rule, account.Name, compiled);
    }

    static string Sentence(Purpose purpose, AnsweredBy by, Rung? rung, Rule? rule, string account, CompiledRulebook book) => by switch
    {
        AnsweredBy.Line => $"The line names its account, and {purpose.InWords} takes that.",
        AnsweredBy.Control => $"The document chooses this control account for the party.",
        AnsweredBy.Standing => "The amount stands on this account already, and leaves it.",
        AnsweredBy.Ladder when rule is { When.Count: > 0 } =>
            $"For {string.Join(" and ", Named(book, rule.When).Select(f => $"{f.Fact} {(f.Name.Length > 0 ? f.Name : f.Code)}"))}, {purpose.InWords} lands " +
                $"on {account}.",
        AnsweredBy.Ladder => $"No closer rule answers, so {purpose.InWords} falls to the company default, {account}.",
        _ => "The line was given with the entry.",
    };

    /// <summary>Whether a line is the base of a tax, or the tax: goods that leave bear none, goods that are bought do.</summary>
    internal static bool BearsTax(EntryWhole entry, LedgerLine line) =>
        line.Purpose is not ("inventory" or "inventory-in-transit" or "cost-of-sales") || EventTypes.Find(entry.Type)?.Document is { Buys: true };

    // The event as it was received says, landed again by its own edition, where its tax codes came from.
    static string? WhichGroupsMet(LandingBook book, EntryWhole entry, LedgerLine line)
    {
        if (line.TaxCode is null || !BearsTax(entry, line)
            || new EventReader().Read(System.Text.Encoding.UTF8.GetBytes(entry.Received), 1).Event is not { } happened)
            return null;
        Landing.Try(book.Compiled!, happened, out var landed);
        return landed?.Totals is { } totals ? GroupsMet(totals, line.TaxCode) : null;
    }

    /// <summary>"R8 where HOME × REDUCED meet"; where a code was typed, or is an account's own, that.</summary>
    static string? GroupsMet(DocumentTotals totals, string? label)
    {
        if (label is null)
            return null;
        var from = totals.Lines.OfType<LineTotals>().Where(l => l.TaxCode == label.Split('/')[0]).Select(l => l.TaxFrom).OfType<string>().Distinct().ToList();
        return from.Count == 0 ? null : $"{label}: " +
            string.Join("; ", from.Select(FromInWords));
    }

    static string FromInWords(string from)
    {
        if (from.Contains(" × ", StringComparison.Ordinal))
            return $"where {from} meet";
        if (from == "default")
            return "by the default";
        return from.StartsWith("account ", StringComparison.Ordinal) || from.StartsWith("typed", StringComparison.Ordinal) ? from : $"by the rule for {from}";
    }

    static IReadOnlyList<(string Fact, string Code, string Name)> Named(CompiledRulebook book, IReadOnlyList<FactValue> facts) =>
        [.. facts.Select(f => (f.Fact.InWords(), f.Code, book.NameOf(f)))];

    static TrailLinkTo[] Links(CompanyPage page, Account account, Purpose purpose) =>
        [new("All rules for " + purpose.InWords, page.At("rules/" + purpose.Name)),
            new("Every line on this account", page.At($"journal?account={Uri.EscapeDataString(account.Number)}"))];
}
