using Assignum.Core.Charts;

namespace Assignum.Core.Consolidating;

/// <summary>An account of a company with what stands on it, its company's currency, debit positive.</summary>
/// <param name="Number">Its number.</param>
/// <param name="Name">Its name.</param>
/// <param name="Class">Its class.</param>
/// <param name="Balance">What stands on it; of income and expense what has come since the fiscal year began.</param>
/// <param name="Match">Where it goes in the group's chart; null: nobody has said.</param>
public sealed record MemberAccount(string Number, string Name, AccountClass Class, decimal Balance, GroupMatch? Match)
{
    /// <summary>What makes the balance, by day; needed only where it is translated at the rates of those days.</summary>
    public IReadOnlyList<(DateOnly Day, decimal Amount)> Days { get; init; } = [];
    /// <summary>The rate it is translated by.</summary>
    public TranslationRate Rate => Match?.Rate ?? GroupMatch.RateOf(Class);
}

/// <summary>What a company of the group owes or is owed by another one, on one of its accounts; its own currency, debit positive.</summary>
/// <param name="Partner">Code of the other company.</param>
/// <param name="Account">Number of its own account.</param>
/// <param name="Amount">What stands there of it.</param>
public sealed record PartnerBalance(string Partner, string Account, decimal Amount);

/// <summary>The books of a company of the group.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Currency">Its currency.</param>
/// <param name="Accounts">Accounts with a balance.</param>
/// <param name="Partners">What it owes and is owed within the group.</param>
public sealed record MemberBooks(string Code, string Currency, IReadOnlyList<MemberAccount> Accounts, IReadOnlyList<PartnerBalance> Partners)
{
    /// <summary>The group's currency for one unit of the company's on a day; null where none is known. Always 1 in the group's own currency.</summary>
    public Func<DateOnly, decimal?> RateOn { get; init; } = _ => 1;
    /// <summary>The average of the fiscal year's days so far; null where none is known.</summary>
    public decimal? Average { get; init; } = 1;
}

/// <summary>An account's part in a figure of the group.</summary>
/// <param name="Company">Code of its company.</param>
/// <param name="Account">The account.</param>
/// <param name="Translated">Its balance in the group's currency.</param>
public sealed record Contribution(string Company, MemberAccount Account, decimal Translated);

/// <summary>A line of the group's trial balance, in the group's currency, debit positive.</summary>
/// <param name="Account">Number of the group's account; null for the lines that stand beside the chart.</param>
/// <param name="Title">Its name, or what the line is.</param>
/// <param name="Parts">The accounts that make it.</param>
/// <param name="Eliminated">What is eliminated.</param>
public sealed record GroupLine(string? Account, string Title, IReadOnlyList<Contribution> Parts, decimal Eliminated)
{
    /// <summary>What it comes to by company; a company without a part is left out.</summary>
    public IReadOnlyDictionary<string, decimal> ByCompany { get; init; } = new Dictionary<string, decimal>();
    /// <summary>What the group has.</summary>
    public decimal Consolidated => ByCompany.Values.Sum() + Eliminated;
}

/// <summary>The trial balance of a group: the balances of its companies in its own chart and currency, without what they owe each other.</summary>
/// <param name="Lines">Lines of the group's accounts that have something, in the order of its chart.</param>
/// <param name="NotMatched">Accounts with a balance that nobody has matched; they stand on a line of their own.</param>
/// <param name="Translation">What translating each account on its own leaves, by company.</param>
/// <param name="Between">What the companies don't agree on: what one says it is owed less what the other says it owes.</param>
public sealed record Consolidation(IReadOnlyList<GroupLine> Lines, GroupLine NotMatched, GroupLine Translation, GroupLine Between)
{
    /// <summary>Why a company can't be translated; empty: all can.</summary>
    public IReadOnlyList<string> Faults { get; private init; } = [];
    /// <summary>All lines, those beside the chart last.</summary>
    public IEnumerable<GroupLine> All => [.. Lines, NotMatched, Translation, Between];

    /// <summary>
    /// Consolidates. Each account is translated and rounded on its own: what that leaves of a company is its translation difference. What stands between
    /// companies is translated at the closing rate and eliminated on the accounts on which it stands; what is left of that, because the companies do not
    /// agree, is the difference between them. So all lines come to nothing.
    /// </summary>
    /// <param name="chart">The group's accounts that take balances, in the order of its chart.</param>
    /// <param name="members">Its companies.</param>
    /// <param name="on">The day of the balances.</param>
    /// <param name="minorUnits">Minor units of the group's currency.</param>
    public static Consolidation Of(IReadOnlyList<Account> chart, IReadOnlyList<MemberBooks> members, DateOnly on, int minorUnits)
    {
        var faults = new List<string>();
        var parts = new List<(string? To, Contribution Part)>();
        var eliminated = new Dictionary<string, decimal>(StringComparer.Ordinal);
        var known = chart.ToDictionary(a => Fold.Of(a.Number));
        foreach (var member in members)
        {
            if (WhyNot(member, on) is { } fault)
            {
                faults.Add(fault);
                continue;
            }
            foreach (var account in member.Accounts.Where(a => a.Balance != 0))
                parts.Add((TargetOf(account, known), new(member.Code, account, Translate(member, account, on, minorUnits))));
            var byNumber = member.Accounts.ToDictionary(a => Fold.Of(a.Number));
            foreach (var owed in member.Partners.Where(p => members.Any(m => Fold.Same(m.Code, p.Partner))))
                if (byNumber.TryGetValue(Fold.Of(owed.Account), out var account))
                {
                    var to = TargetOf(account, known) ?? "";
                    eliminated[to] = eliminated.GetValueOrDefault(to) - Money.Round(owed.Amount * member.RateOn(on)!.Value, minorUnits);
                }
        }
        var byTarget = parts.ToLookup(p => p.To ?? "", p => p.Part);
        var differences = members.Select(m => (m.Code, Left: -parts.Where(p => p.Part.Company == m.Code).Sum(p => p.Part.Translated))).Where(d => d.Left != 0);
        return new([.. chart.Select(a => Line(Fold.Of(a.Number), a.Number, a.Name)).Where(l => l.Parts.Count > 0 || l.Eliminated != 0)],
            Line("", null, "Not matched yet"), new(null, "Translation difference", [], 0) { ByCompany = differences.ToDictionary(d => d.Code, d => d.Left) },
            new(null, "Difference between the companies", [], -eliminated.Values.Sum()))
        {
            Faults = faults,
        };

        GroupLine Line(string target, string? number, string name) => new(number, name, [.. byTarget[target]], eliminated.GetValueOrDefault(target))
        {
            ByCompany = byTarget[target].GroupBy(p => p.Company).ToDictionary(p => p.Key, p => p.Sum(part => part.Translated)),
        };
    }

    static string? TargetOf(MemberAccount account, Dictionary<string, Account> chart) =>
        account.Match is { } match && Fold.Of(match.For(account.Balance)) is var to && chart.ContainsKey(to) ? to : null;

    static decimal Translate(MemberBooks member, MemberAccount account, DateOnly on, int minorUnits) => Money.Round(account.Rate switch
    {
        TranslationRate.Closing => account.Balance * member.RateOn(on)!.Value,
        TranslationRate.Average => account.Balance * member.Average!.Value,
        _ => account.Days.Sum(d => d.Amount * member.RateOn(d.Day)!.Value),
    }, minorUnits);

    static string? WhyNot(MemberBooks member, DateOnly on)
    {
        if (member.RateOn(on) is null)
            return $"There is no rate of {member.Currency} up to {Written.DayNow(on)}, so {member.Code} can't be translated. Give the group a rate.";
        if (member.Average is null && member.Accounts.Any(a => a.Rate == TranslationRate.Average && a.Balance != 0))
            return $"There is no rate of {member.Currency} in the fiscal year of {Written.DayNow(on)}, so income and expense of {member.Code} have no average. "
                + "Give the group a rate.";
        var lacks = member.Accounts.Where(a => a.Rate == TranslationRate.Historical).SelectMany(a => a.Days).Select(d => d.Day)
            .Where(day => member.RateOn(day) is null).Order().Cast<DateOnly?>().FirstOrDefault();
        return lacks is { } first
            ? $"There is no rate of {member.Currency} up to {Written.DayNow(first)}, the day of an amount of {member.Code} that is translated "
            + "as it came in. Give the group a rate of that day, or an earlier one." : null;
    }
}
