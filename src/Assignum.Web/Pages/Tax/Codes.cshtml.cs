using Assignum.Core.Changes;
using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Assignum.Core;
using Assignum.Formats.Events;
using Assignum.Storage.Journal;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using System.Globalization;

namespace Assignum.Web.Pages.Tax;

/// <summary>The drawer of a tax code.</summary>
public sealed record TaxCodePanel(CodesModel Page, TaxCodeForm Form, Refusal? Refusal)
{
    /// <summary>The fault of a field, or null.</summary>
    public string? FaultOf(string field) => Refusal?.Field == field ? Refusal.Message : null;
}

/// <summary>The options that go with tax, as somebody typed them.</summary>
public sealed class OptionsForm
{
    public string? TaxRounding { get; set; }
    public string? TaxTolerance { get; set; }
    public string? LineText { get; set; }
    public bool SeparateDiscounts { get; set; }
    public bool PerpetualStock { get; set; }
    /// <summary>What was seen of them when the form was opened.</summary>
    public string? Seen { get; set; }
}

/// <summary>The drawer of the options.</summary>
public sealed record OptionsPanel(CodesModel Page, OptionsForm Form, Refusal? Refusal);

/// <summary>What other options would do to the last documents.</summary>
public sealed record OptionsEffect(CodesModel Page, LandingDifference Difference);

/// <summary>Tax codes: category, direction, components with their rates by date, and the accounts they land on.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class CodesModel(TaxStore taxes, JournalStore journal, TimeProvider clock) : CompanyPage
{
    // As many documents as land at once without anybody waiting.
    const int MostLanded = 1_000;

    /// <inheritdoc/>
    public override string Step => "Tax";
    /// <summary>Today.</summary>
    public DateOnly Today => clock.Today();
    /// <summary>Tax codes of the draft.</summary>
    public IReadOnlyList<TaxCode> Codes => Draft.Book.TaxCodes;
    /// <summary>Whether a tax code is as it was released.</summary>
    public bool InDraft(TaxCode code) => Books.Changes.Any(c => c.Where == "taxCodes/" + code.Code);

    /// <summary>Shows the codes.</summary>
    [Needs(Need.Reads)]
    public void OnGet()
    {
    }

    /// <summary>Opens a tax code, or the form for a new one.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetCode(string? code)
    {
        if (code is null)
            return Drawer("_Code", new TaxCodePanel(this,
                new TaxCodeForm { Direction = "both", Category = "S",
                Components = [new ComponentForm { Recoverable = "100", Rates = Show.Field(new DateOnly(Today.Year, 1, 1)) + " " }] }, null));
        if (Codes.FirstOrDefault(c => Fold.Same(c.Code, code)) is not { } known)
            return NotFound();
        var form = TaxCodeForm.Of(known);
        (form.OutputAccount, form.OutputSeen) = OwnRule(Purpose.OutputTax, code);
        (form.InputAccount, form.InputSeen) = OwnRule(Purpose.InputTax, code);
        return Drawer("_Code", new TaxCodePanel(this, form, null));
    }

    /// <summary>Adds a tax code to the draft, or changes one there, with the rules for its accounts.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostCodeAsync([FromForm] TaxCodeForm form)
    {
        var (code, refusal) = form.Read();
        var accounts = new List<(Purpose, CellEdit, DateOnly)>();
        if (refusal is null)
            refusal = Account(Purpose.OutputTax, code!.Code, form.OutputAccount, form.OutputSeen, accounts)
                ?? Account(Purpose.InputTax, code.Code, form.InputAccount, form.InputSeen, accounts) ?? Authority(code);
        refusal ??= await taxes.Save(Company.Id, UserId, TaxCodeForm.Text(form.Was), code!, Stop, accounts, form.Seen ?? "");
        return refusal is null
            ? Done($"Tax code {code!.Code} is in draft {Books.State.Draft}.", At("tax/codes"))
            : Drawer("_Code", new TaxCodePanel(this, form, refusal));
    }

    /// <summary>Takes a tax code out of the draft.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostDeleteAsync([FromForm] TaxCodeForm form) =>
        await taxes.Delete(Company.Id, UserId, form.Was ?? "", Stop, form.Seen ?? "") is { } refusal
            ? Drawer("_Code", new TaxCodePanel(this, form, refusal))
            : Done($"Tax code {form.Was} is gone from draft {Books.State.Draft}.", At("tax/codes"));

    /// <summary>Opens rounding, tolerance and the other options.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetOptions()
    {
        var options = Draft.Book.Company.Options;
        return Drawer("_Options", new OptionsPanel(this,
            new OptionsForm { TaxRounding = Words<TaxRounding>.Of(options.TaxRounding),
            TaxTolerance = options.TaxTolerance?.ToString("0.####", Written.Now), SeparateDiscounts = options.SeparateDiscounts,
            PerpetualStock = options.PerpetualStock, LineText = Words<LineText>.Of(options.LineText), Seen = SettingKinds.Options.SeenOf(options) }, null));
    }

    /// <summary>What the options would do, as typed: the last documents that were posted, landed with them and without.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetEffectAsync(OptionsForm form)
    {
        if (OptionsOf(form) is not { } options || options == Draft.Book.Company.Options || Books.Draft.Compiled is null)
            return Partial("_Effect", null);
        var texts = await journal.LastPrepared(Company.Id, MostLanded, Stop);
        var after = Draft.Book with { Company = Draft.Book.Company with { Options = options } };
        return Partial("_Effect", new OptionsEffect(this, LandingDifference.Of(Books.Draft.Shown, new CompiledRulebook(after),
            texts.Select(EventReader.Kept).OfType<BusinessEvent>())));
    }

    // Null where the tolerance can't be read.
    static CompanyOptions? OptionsOf(OptionsForm form)
    {
        decimal? tolerance = null;
        if (TaxCodeForm.Text(form.TaxTolerance) is { } typed)
        {
            if (!Written.Now.TryNumber(typed, out var read))
                return null;
            tolerance = read;
        }
        return new CompanyOptions { SeparateDiscounts = form.SeparateDiscounts, PerpetualStock = form.PerpetualStock, TaxTolerance = tolerance,
            TaxRounding = Words<TaxRounding>.TryParse(form.TaxRounding ?? "", out var rounding) ? rounding : TaxRounding.Document,
            LineText = Words<LineText>.TryParse(form.LineText ?? "", out var text) ? text : LineText.Line };
    }

    /// <summary>Changes the options in the draft.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostOptionsAsync([FromForm] OptionsForm form)
    {
        if (OptionsOf(form) is not { } options)
            return Drawer("_Options", new OptionsPanel(this, form, new Refusal("taxTolerance", Sending.Typed.NotANumber(form.TaxTolerance!))));
        return await taxes.SetOptions(Company.Id, UserId, options, Stop, form.Seen ?? "") is { } refusal
            ? Drawer("_Options", new OptionsPanel(this, form, refusal))
            : Done($"The options are changed in draft {Books.State.Draft}.", At("tax/codes"));
    }

    /// <summary>Where a tax code lands today.</summary>
    public LandsOn LandsOn(Purpose purpose, TaxCode code) =>
        Whereabouts.Of(Books.Draft.Shown, purpose, Whereabouts.FactsOf(Books.Draft.Shown, new Asked { TaxCode = code.Code }), Today);

    /// <summary>Today's percentage of a code.</summary>
    public string PercentOf(TaxCode code) => code.EffectivePercentOn(Today) is { } percent ? Show.Plain(percent) + " %" : "no rate today";

    (string? Account, string? Seen) OwnRule(Purpose purpose, string code) =>
        Draft.Book.Rules.FirstOrDefault(r => r.Purpose == purpose && r.When is [{ Fact: Fact.TaxCode, Code: var own }] && Fold.Same(own, code)
        && r.ValidOn(Today)) is { } rule
        ? (Pick.Written(rule.Account, AccountName(rule.Account)), rule.Id + "=" + rule.Account) : (null, null);

    Refusal? Account(Purpose purpose, string code, string? typed, string? seen, List<(Purpose, CellEdit, DateOnly)> accounts)
    {
        var picked = AccountPick.One(typed, Draft.Book.Accounts, purpose);
        if (picked.Fault is { } fault)
            return new Refusal(purpose.Name, fault);
        var (id, account) = seen?.Split('=', 2) is [var was, var on] ? (was, on) : (null, (string?)null);
        if (picked.Thing is null && id is null)
            return null;
        if (!Draft.Book.LadderOf(purpose).Contains(new Rung(Fact.TaxCode)))
            return new Refusal(purpose.Name, $"The ladder of {purpose.Title.ToLowerInvariant()} has no rung tax code. Add it to the ladder first.");
        accounts.Add((purpose, new CellEdit([new(Fact.TaxCode, code)], picked.Thing?.Number, id, account), Today));
        return null;
    }

    Refusal? Authority(TaxCode code)
    {
        for (var i = 0; i < code.Components.Count; i++)
            if (code.Components[i].Authority is { } authority && !Books.Draft.Shown.Parties.TryFind(authority, out _))
                return new Refusal($"components[{i}]",
                    $"There is no party {authority}. An authority is a party: add it under Groups, as a supplier, or leave the field empty.");
        return null;
    }
}
