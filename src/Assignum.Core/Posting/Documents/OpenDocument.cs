using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Posting;

/// <summary>A document with its codes matched and its lines computed up to their tax code.</summary>
sealed class OpenDocument
{
    readonly CompiledRulebook book;
    readonly List<HeldReason> reasons;

    internal Document Document { get; }
    internal DocumentTraits Traits { get; }
    /// <summary>What its rows stand on.</summary>
    internal PostingContext Posting { get; }
    /// <summary>The lines that did not drop out.</summary>
    internal List<OpenLine> Lines { get; } = [];
    /// <summary>Every line is there with its tax; only then can totals be compared with what the source says.</summary>
    internal bool IsComplete { get; private set; } = true;
    internal CompanyOptions Options => Posting.Options;
    internal int MinorUnits => Posting.MinorUnits;
    internal decimal Company(decimal amount) => Posting.Company(amount);

    OpenDocument(CompiledRulebook book, Document document, List<HeldReason> reasons)
    {
        this.book = book;
        this.reasons = reasons;
        (Document, Traits, Posting) = (document, DocumentTraits.Of(document.Type), new PostingContext(book, document));
    }

    /// <summary>Opens a document whose shape is sound. Reasons found on lines are added; a fault of the document itself comes back alone.</summary>
    internal static HeldReason? Open(CompiledRulebook book, Document document, List<HeldReason> reasons, out OpenDocument open)
    {
        open = new OpenDocument(book, document, reasons);
        if (open.Posting.Open(book, open.WhyPartyDoesNotDo) is { } fault)
            return fault;
        if (open.OpenChargedTax() is { } charged)
            return charged;
        for (var i = 0; i < document.Lines.Count; i++)
            open.OpenLine(document.Lines[i], i);
        return open.WhyNotToProject();
    }

    // Stock goes to a project when it is used, and not when it is bought.
    HeldReason? WhyNotToProject() => Lines.Find(line => line.Line.ToProject && line.IsStock(Options)) is { } line
        ? HeldReason.Invalid(new Place("lines", line.Index).Of("toProject"),
            $"{new Place("lines", line.Index).InWords}: the goods are kept in stock, and go to "
            + "the project when it uses them. Leave toProject out.") : null;

    HeldReason? WhyPartyDoesNotDo(Party party)
    {
        var (other, needed) = Traits.Buys ? (PartyRole.Customer, "supplier") : (PartyRole.Supplier, "customer");
        return party.Role != other ? null : HeldReason.Invalid("party",
            $"{party.Code} {party.Name} is a {other.Word()}, and a {Traits.InWords} needs a {needed}. Name a {needed}, or give {party.Code} the role both.");
    }

    HeldReason? OpenChargedTax()
    {
        var seen = new HashSet<string>();
        for (var i = 0; i < Document.Tax.Count; i++)
        {
            var charged = Document.Tax[i];
            if (!book.TaxCodes.TryFind(charged.TaxCode, out var code))
                return HeldReason.Unknown($"tax[{i}].taxCode", "tax code", charged.TaxCode, "Add the tax code, or correct it.");
            if (charged.Component is null && code.Components.Count > 1)
                return HeldReason.Invalid($"tax[{i}].component",
                    $"{new Place("tax", i).InWords}: tax code {code.Code} has {code.Components.Count} components. Say which one the amount is for: " +
                        $"{string.Join(", ", code.Components.Select(c => c.Code))}.");
            if (charged.Component is { } name && !code.Components.Any(c => Fold.Same(c.Code, name)))
                return HeldReason.Unknown($"tax[{i}].component", $"component of tax code {code.Code} named", name, "Correct the component.");
            if (!seen.Add(Fold.Of(code.Code) + "/" + Fold.Of(charged.Component ?? code.Components[0].Code ?? "")))
                return HeldReason.Invalid($"tax[{i}]",
                    $"{new Place("tax", i).InWords}: tax code {code.Code} is there twice. Give each code and component once.");
        }
        return null;
    }

    void OpenLine(DocumentLine line, int index)
    {
        var place = new Place("lines", index);
        var facts = Posting.Row.Facts.Copy();
        var unknown = new List<HeldReason>();
        OpenThing(line, place, facts, unknown, out var item, out var account, out var asset);
        Matching.Place(book, facts, line.Location, line.Project, line.Task, place, unknown);
        var typedTax = Matching.Code(book.TaxCodes, line.TaxCode, place, "taxCode", "tax code", unknown);
        var standsOn = Matching.Code(book.Accounts, line.StandsOn, place, "standsOn", "account", unknown);
        if (unknown.Count > 0)
        {
            reasons.AddRange(unknown);
            IsComplete = false;
            return;
        }
        if (line.TaxArea is not null)
            book.Set(facts, Fact.TaxArea, line.TaxArea);

        var kind = item?.Kind ?? (line.ItemGroup is null ? null : line.ItemKind ?? ItemKind.NonStock);
        if (kind is { } known)
            facts[Fact.ItemKind] = (int)known + 1;

        var tax = TaxDetermination.Determine(book, facts, account, typedTax, Document.EffectiveTaxDate);
        var reason = tax.Reason ?? WhyTaxDoesNotDo(tax.Code!, place);
        if (reason is not null)
        {
            reasons.Add(reason);
            IsComplete = false;
        }
        facts[Fact.TaxCode] = book.TaxCodes.IdOf(tax.Code?.Code);

        var (gross, discount) = line.Amounts(MinorUnits);
        Lines.Add(new OpenLine
        {
            Line = line, Index = index, Item = item, Account = account, Asset = asset, StandsOn = standsOn, Kind = kind,
            TaxCode = reason is null ? tax.Code : null, TaxFrom = tax.From,
            GroupCode = facts[Fact.ItemGroup] == 0 ? null : book.ItemGroups.CodeOf(facts[Fact.ItemGroup]),
            Gross = gross, Discount = discount, Net = gross - discount, Inclusive = gross - discount,
            Context = new RowContext
            {
                Facts = facts, Line = index, Party = Posting.Party, Item = item, Location = Matching.LocationOf(book, facts),
                    Project = Matching.ProjectOf(book, facts), TaxLabel = tax.Code?.Code,
                Text = Options.TextOf(line.Text, Document.Text), DocumentDimensions = Document.Dimensions, OwnDimensions = line.Dimensions,
            },
        });
    }

    HeldReason? WhyTaxDoesNotDo(TaxCode code, Place place)
    {
        var (wrong, here) = Traits.Buys ? (TaxDirection.Sales, "purchases") : (TaxDirection.Purchases, "sales");
        if (code.Direction == wrong)
            return HeldReason.Invalid(place.Of("taxCode"),
                $"{place.InWords}: tax code {code.Code} is for {Words<TaxDirection>.Of(wrong)} only. Choose a tax code for {here}, or correct the tax rule " +
                    "that gave it.");
        if (code.ReverseCharge && Document.PricesIncludeTax)
            return HeldReason.Invalid(place.Of("taxCode"),
                $"{place.InWords}: tax code {code.Code} is reverse charge, and the prices include tax. Give prices without tax.");
        return null;
    }

    void OpenThing(DocumentLine line, Place place, Facts facts, List<HeldReason> unknown, out Item? item, out Account? account,
        out Asset? asset)
    {
        item = Matching.Code(book.Items, line.Item, place, "item", "item", unknown);
        account = Matching.Code(book.Accounts, line.Account, place, "account", "account", unknown);
        asset = Matching.Code(book.Assets, line.Asset, place, "asset", "fixed asset", unknown);
        if (item is not null)
            book.SetItem(facts, book.Items.IdOf(line.Item));
        else if (asset is not null)
            book.SetAsset(facts, asset);
        else if (account is not null)
            facts[Fact.ItemTaxGroup] = book.ItemTaxGroups.IdOf(account.ItemTaxGroup);
        else if (Matching.Code(book.ItemGroups, line.ItemGroup, place, "itemGroup", "item group", unknown) is { } group)
            (facts[Fact.ItemGroup], facts[Fact.ItemTaxGroup]) = (book.ItemGroups.IdOf(group.Code), book.ItemTaxGroups.IdOf(group.TaxGroup));
    }
}

/// <summary>A line with its codes matched and its amounts, in document currency.</summary>
sealed class OpenLine
{
    internal required DocumentLine Line { get; init; }
    internal required int Index { get; init; }
    internal required RowContext Context { get; init; }
    internal Item? Item { get; init; }
    internal Account? Account { get; init; }
    internal Asset? Asset { get; init; }
    internal Account? StandsOn { get; init; }
    internal ItemKind? Kind { get; init; }
    internal string? GroupCode { get; init; }
    /// <summary>Its tax code; null while none can be determined: then its tax is 0.</summary>
    internal TaxCode? TaxCode { get; init; }
    internal string? TaxFrom { get; init; }
    /// <summary>Net with the tax in it, where prices include tax; else the net.</summary>
    internal decimal Inclusive { get; init; }
    /// <summary>Before discount, without tax.</summary>
    internal decimal Gross { get; set; }
    /// <summary>Without tax.</summary>
    internal decimal Discount { get; set; }
    /// <summary>After discount, without tax.</summary>
    internal decimal Net { get; set; }

    internal decimal? UnitCost => Line.UnitCost ?? Item?.Cost;

    /// <summary>Its goods are kept in stock.</summary>
    internal bool IsStock(CompanyOptions options) => Kind == ItemKind.Stock && options.PerpetualStock;
}
