using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Storage.Settings;

/// <summary>Changes of tax codes, tax rules and the options that go with them.</summary>
public sealed class TaxStore(Draft draft)
{
    const decimal LargestTolerance = 1_000_000m;

    /// <summary>Sets many cells of the tax grid in the draft, all or none.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who sets them.</param>
    /// <param name="edits">The rules as they shall be, with the tax code that was seen; a code that is empty ends the rule.</param>
    /// <param name="date">The day the grid was shown for.</param>
    /// <param name="stop">Cancels.</param>
    /// <returns>Why nothing was changed, by the place of the edit; empty when all was.</returns>
    public async Task<IReadOnlyList<CellFault>> Set(int company, int user, IReadOnlyList<(TaxRule Rule, string? Seen)> edits, DateOnly date,
        CancellationToken stop)
    {
        var faults = new List<CellFault>();
        await draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            for (var i = 0; i < edits.Count; i++)
            {
                var (rule, seen) = edits[i];
                var own = stored.Book.TaxRules.FirstOrDefault(r => RuleKey.TextOf("tax", r.When()) == RuleKey.TextOf("tax", rule.When()) && r.ValidOn(date));
                if (!Fold.Same(own?.TaxCode, seen))
                    faults.Add(new(i, $"Somebody else has changed this cell: it {(own is null ? "has no rule of its own now" : $"is {own.TaxCode} now")}. " +
                        "Look at it, then change it."));
                else if (rule.TaxCode.Length > 0 && stored.Labels.IdOf(Labels.TaxCodes, rule.TaxCode) is null)
                    faults.Add(new(i, $"There is no tax code {rule.TaxCode}. Choose one that exists."));
                else if (Unknown(stored.Labels, rule) is { } unknown)
                    faults.Add(new(i, unknown.Message));
                else if (!Fold.Same(own?.TaxCode ?? "", rule.TaxCode))
                    await Put(change, stored, own, rule, date);
            }
            return faults.Count > 0 ? new Refusal("", faults[0].Message) : null;
        }, stop);
        return faults;
    }

    // The new answer keeps the dates of the one it follows; a first one fits in between those before and after the day.
    static async Task Put(DraftChange change, StoredRulebook stored, TaxRule? own, TaxRule rule, DateOnly date)
    {
        var labels = stored.Labels;
        var where = rule.When() is { Count: > 0 } when ? string.Join(" × ", when.Select(w => w.Code)) : "the default";
        if (own is not null)
            await Retire(change, labels, own);
        if (rule.TaxCode.Length > 0)
            await Insert(change, labels, own is null ? Between(stored.Book, rule, date) : rule with { From = own.From, To = own.To });
        await change.Log("tax-rule", 0, rule.TaxCode.Length == 0 ? $"Tax rule for {where} ends." : $"Tax rule for {where} gives {rule.TaxCode}.", own, rule);
    }

    static TaxRule Between(Rulebook book, TaxRule rule, DateOnly date)
    {
        var dated = book.TaxRules.Where(r => RuleKey.TextOf("tax", r.When()) == RuleKey.TextOf("tax", rule.When())).ToList();
        return rule with { From = dated.Where(r => r.To < date).Max(r => r.To)?.AddDays(1),
            To = dated.Where(r => r.From > date).Min(r => r.From)?.AddDays(-1) };
    }

    static Refusal? Unknown(Labels labels, TaxRule rule)
    {
        foreach (var (fact, code) in rule.When())
            if (Labels.ListOf(fact) is { } list && labels.IdOf(list, code) is null)
                return new Refusal(fact.Name(), $"There is no {fact.InWords()} {code}. Choose one that exists.");
        return null;
    }

    /// <summary>Adds tax codes that have only their code yet.</summary>
    internal static async Task AddWithoutRates(DraftChange change, Labels labels, IReadOnlyList<string> codes)
    {
        if (codes.Count == 0)
            return;
        var ids = await change.Command("""
            insert into tax_code (company_id, code, code_fold, name) select $1, c, f, c from unnest($2::text[], $3::text[]) as n (c, f)
            on conflict (company_id, code_fold) do update set code = excluded.code returning id, code
            """, change.Company, codes.ToArray(), codes.Select(Fold.Of).ToArray()).List(row => (row.GetInt32(0), row.GetString(1)), change.Stop);
        await SettingTables.TaxCodes.Reset(change, labels,
            [.. ids.Select(i => (i.Item1, new TaxCode { Code = i.Item2, Name = i.Item2, Components = [new TaxComponent()] }))]);
    }

    /// <summary>Adds a tax code to the draft, or gives one another shape there. Its code and name are labels and hold at once.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who does it.</param>
    /// <param name="was">The code it had; null for a new one.</param>
    /// <param name="code">The tax code as it shall be.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="seen">What the user saw of the code; null where nobody looked.</param>
    /// <param name="accounts">Rules that say on which accounts it lands, changed with it; the day is the one they are shown for.</param>
    public Task<Refusal?> Save(int company, int user, string? was, TaxCode code, CancellationToken stop,
        IReadOnlyList<(Purpose Purpose, CellEdit Edit, DateOnly Date)>? accounts = null, string? seen = null) =>
        draft.Change(company, user, async change =>
        {
            if (TaxCodeCheck.Faults(code).FirstOrDefault() is { Field: { } field, Message: var message })
                return new Refusal(field, message);
            var stored = await change.Book();
            var labels = stored.Labels;
            var id = labels.IdOf(Labels.TaxCodes, was);
            if (was is not null && id is null)
                return new Refusal("", $"There is no tax code {was} in the draft any more. Look at the codes again.");
            if (was is not null && Stale(stored.Book, was, seen) is { } stale)
                return stale;
            var holder = await change.Command("select id from tax_code where company_id = $1 and code_fold = $2", company,
                Fold.Of(code.Code)).FirstOrDefault(row => (int?)row.GetInt32(0), stop);
            if (holder is not null && holder != id && (labels.IdOf(Labels.TaxCodes, code.Code) is not null || was is not null))
                return new Refusal("code", $"Tax code {code.Code} is there already, or was. Choose another code.");
            id ??= holder;
            if (id is { } known)
            {
                if (await change.Command("update tax_code set code = $3, code_fold = $4, name = $5 where company_id = $1 and id = $2 and (code, name) is " +
                    "distinct from ($3, $5)", company, known, code.Code.Trim(), Fold.Of(code.Code), code.Name.Trim()).Run(stop) > 0)
                    change.HoldsAtOnce = true;
            }
            else
                id = await change.Command("insert into tax_code (company_id, code, code_fold, name) values ($1, $2, $3, $4) returning id", company,
                    code.Code.Trim(), Fold.Of(code.Code), code.Name.Trim()).Value<int>(stop);
            await SettingTables.TaxCodes.Reset(change, labels, [(id.Value, code)]);
            await change.Log("tax-code", id.Value, $"Tax code {code.Code} {(was is null ? "added" : "changed")}.", null, code);
            foreach (var (purpose, edit, date) in accounts ?? [])
                if (await RuleCells.Set(change, purpose, [edit], date) is [var fault, ..])
                    return new Refusal(purpose.Name, fault.Message);
            return null;
        }, stop);

    /// <summary>Takes a tax code out of the draft; one in use stays.</summary>
    public Task<Refusal?> Delete(int company, int user, string code, CancellationToken stop, string? seen = null) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (stored.Labels.IdOf(Labels.TaxCodes, code) is not { } id)
                return new Refusal("", $"There is no tax code {code} in the draft any more. Look at the codes again.");
            if (Stale(stored.Book, code, seen) is { } stale)
                return stale;
            var uses = stored.Book.TaxRules.Where(r => Fold.Same(r.TaxCode, code)).Select(r =>
                "the tax rule for " + (r.When() is { Count: > 0 } when ? string.Join(" × ", when.Select(w => w.Code)) : "the default"))
                .Concat(stored.Book.Rules.Where(r => r.When.Any(w => w.Fact == Fact.TaxCode && Fold.Same(w.Code, code))).Select(r =>
                    $"the rule for {r.Purpose.InWords}, {r.InWords}"))
                .Concat(stored.Book.Accounts.Where(a => Fold.Same(a.TaxCode, code)).Select(a => $"account {a.Number} {a.Name}")).ToList();
            if (uses.Count > 0)
                return new Refusal("", $"Tax code {code} is in use: " +
                    $"{string.Join("; ", uses.Take(3))}{(uses.Count > 3 ? $" and {uses.Count - 3} more" : "")}. End or change what names it first.");
            await change.EndRows("tax_code_setting", "tax_code_id", [id]);
            await change.Log("tax-code", id, $"Tax code {code} deleted.", null, null);
            return null;
        }, stop);

    /// <summary>Gives the company other options in the draft.</summary>
    public Task<Refusal?> SetOptions(int company, int user, CompanyOptions options, CancellationToken stop, string? seen = null) =>
        draft.Change(company, user, async change =>
        {
            if (options.TaxTolerance is < 0 or >= LargestTolerance || (options.TaxTolerance is { } tolerance && !Money.HasAtMost(tolerance, 4)))
                return new Refusal("taxTolerance",
                    $"The tolerance is {options.TaxTolerance}. It is 0 or more, below {LargestTolerance:N0}, with at most 4 decimals; empty means one minor " +
                        "unit for each line of the code.");
            var now = (await change.Book()).Book.Company.Options;
            if (seen is not null && SettingKinds.Options.ChangedSince(seen, now) is { } changed)
                return new Refusal("", $"Somebody else has changed the options since you opened them: {changed}. Open them again, then make your change.");
            if (now == options)
                return null;
            await SetOptions(change, options);
            await change.Log("options", 0, "Options changed.", null, options);
            return null;
        }, stop);

    static Refusal? Stale(Rulebook book, string code, string? seen) =>
        seen is not null && book.TaxCodes.FirstOrDefault(t => Fold.Same(t.Code, code)) is { } known
            && SettingKinds.TaxCodes.ChangedSince(seen, known) is { } changed
            ? new Refusal("", $"Somebody else has changed tax code {code} since you opened it: {changed}. Open it again, then make your change.") : null;

    internal static Task SetOptions(DraftChange change, CompanyOptions options) =>
        SettingTables.Options.Reset(change, new Labels(), [(change.Company, options)]);

    internal static Task Retire(DraftChange change, Labels labels, TaxRule rule) =>
        RetireRows(change, labels.RuleKeyOf(change.Company, "tax", rule.When()), rule.From);

    static async Task RetireRows(DraftChange change, Guid key, DateOnly? from)
    {
        foreach (var row in await change.Command("select id from tax_rule where company_id = $1 and rule_key = $2 and editions @> $3 and lower(validity) is " +
            "not distinct from $4::date", change.Company, key, change.Edition, from).List(r => r.GetInt64(0), change.Stop))
            await change.Retire("tax_rule", row);
    }

    internal static Task Insert(DraftChange change, Labels labels, TaxRule rule) =>
        change.Command("insert into tax_rule (company_id, tax_area, party_tax_group_id, item_tax_group_id, tax_code_id, rule_key, validity, introduced_in) " +
            "values ($1, $2, $3, $4, $5, $6, $7, $8)",
            change.Company, rule.TaxArea, labels.IdOf(Labels.Family("party-tax"), rule.PartyTaxGroup),
                labels.IdOf(Labels.Family("item-tax"), rule.ItemTaxGroup),
            labels.IdOf(Labels.TaxCodes, rule.TaxCode), labels.RuleKeyOf(change.Company, "tax", rule.When()), RuleStore.Validity(rule.From, rule.To),
                change.Edition).Run(change.Stop);
}
