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
    internal string Currency { get; }
    internal string CompanyCurrency { get; }
    internal int MinorUnits { get; }
    internal int CompanyMinorUnits { get; }
    internal decimal Rate { get; }
    internal bool IsConverted => Currency != CompanyCurrency;
    internal Party? Party { get; private set; }
    internal Account? Control { get; private set; }
    /// <summary>What rows of the whole document stand with.</summary>
    internal RowContext Context { get; private set; }
    /// <summary>The lines that did not drop out.</summary>
    internal List<OpenLine> Lines { get; } = [];
    /// <summary>Every line is there with its tax; only then can totals be compared with what the source says.</summary>
    internal bool IsComplete { get; private set; } = true;
    internal CompanyOptions Options => book.Book.Company.Options;

    OpenDocument(CompiledRulebook book, Document document, List<HeldReason> reasons)
    {
        this.book = book;
        this.reasons = reasons;
        Document = document;
        CompanyCurrency = Fold.Of(book.Book.Company.Currency);
        Currency = Fold.Of(document.Currency ?? CompanyCurrency);
        MinorUnits = Money.MinorUnits(Currency);
        CompanyMinorUnits = Money.MinorUnits(CompanyCurrency);
        Rate = document.Rate ?? 1;
        Context = new RowContext { Facts = new Facts() };
    }

    /// <summary>Opens a document whose shape is sound. Reasons found on lines are added; a fault of the document itself comes back alone.</summary>
    internal static HeldReason? Open(CompiledRulebook book, Document document, List<HeldReason> reasons, out OpenDocument open)
    {
        open = new OpenDocument(book, document, reasons);
        if (open.OpenHeader() is { } fault)
            return fault;
        for (var i = 0; i < document.Lines.Count; i++)
            open.OpenLine(document.Lines[i], i);
        return null;
    }

    /// <summary>Converts an amount of the document to company currency.</summary>
    internal decimal Company(decimal amount) => Money.Round(amount * Rate, CompanyMinorUnits);

    HeldReason? OpenHeader()
    {
        var facts = new Facts();
        var document = Document;
        if (document.Party is { } code)
        {
            var number = book.Parties.IdOf(code);
            if (number == 0)
                return HeldReason.Unknown("party", "party", code, "Add the party, or correct the code.");
            var party = book.Parties.ById(number);
            if (party.Role == PartyRole.Supplier)
                return HeldReason.Invalid("party",
                    $"{party.Code} {party.Name} is a supplier, and a {document.TypeName.Replace('-', ' ')} needs a customer. Name a customer, or give {party.Code} the role both.");
            Party = party;
            book.SetParty(facts, number);
        }
        if (document.Control is { } control)
        {
            if (!book.Accounts.TryFind(control, out var account))
                return HeldReason.Unknown("control", "account", control, "Add the account, or correct the number.");
            Control = account;
        }
        var unknown = new List<HeldReason>();
        OpenPlace(facts, document.Location, document.Project, document.Task, null, unknown);
        if (unknown.Count > 0)
            return unknown[0];
        book.Set(facts, Fact.TaxArea, document.TaxArea ?? Party?.TaxArea);
        book.Set(facts, Fact.Connection, document.Connection);
        book.Set(facts, Fact.Method, document.Method);
        book.Set(facts, Fact.Currency, Currency);
        Context = new RowContext
        {
            Facts = facts, Party = Party, Location = LocationOf(facts), Project = ProjectOf(facts), Text = document.Text, DocumentDimensions = document.Dimensions,
        };
        return OpenChargedTax();
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
                    $"{new Place("tax", i).InWords}: tax code {code.Code} has {code.Components.Count} components. Say which one the amount is for: {string.Join(", ", code.Components.Select(c => c.Code))}.");
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
        var facts = Context.Facts.Copy();
        var unknown = new List<HeldReason>();
        OpenThing(line, place, facts, unknown, out var item, out var account);
        OpenPlace(facts, line.Location, line.Project, line.Task, place, unknown);
        var typedTax = Match(book.TaxCodes, line.TaxCode, place, "taxCode", "tax code", unknown);
        var standsOn = Match(book.Accounts, line.StandsOn, place, "standsOn", "account", unknown);
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

        var gross = Money.Round(line.Quantity * line.Price!.Value, MinorUnits);
        var discount = line.DiscountPercent is { } percent ? Money.Round(gross * percent / 100, MinorUnits)
            : line.DiscountAmount is { } amount ? amount * Math.Sign(line.Quantity)
            : 0;
        Lines.Add(new OpenLine
        {
            Line = line, Index = index, Item = item, Account = account, StandsOn = standsOn, Kind = kind,
            TaxCode = reason is null ? tax.Code : null, TaxFrom = tax.From,
            GroupCode = facts[Fact.ItemGroup] == 0 ? null : book.ItemGroups.CodeOf(facts[Fact.ItemGroup]),
            Gross = gross, Discount = discount, Net = gross - discount, Inclusive = gross - discount,
            Context = new RowContext
            {
                Facts = facts, Line = index, Party = Party, Item = item, Location = LocationOf(facts), Project = ProjectOf(facts), TaxLabel = tax.Code?.Code,
                Text = line.Text ?? Document.Text, DocumentDimensions = Document.Dimensions, OwnDimensions = line.Dimensions,
            },
        });
    }

    HeldReason? WhyTaxDoesNotDo(TaxCode code, Place place)
    {
        if (code.Direction == TaxDirection.Purchases)
            return HeldReason.Invalid(place.Of("taxCode"),
                $"{place.InWords}: tax code {code.Code} is for purchases only. Choose a tax code for sales, or correct the tax rule that gave it.");
        if (code.ReverseCharge && Document.PricesIncludeTax)
            return HeldReason.Invalid(place.Of("taxCode"),
                $"{place.InWords}: tax code {code.Code} is reverse charge, and the prices include tax. Give prices without tax.");
        return null;
    }

    void OpenThing(DocumentLine line, Place place, Facts facts, List<HeldReason> unknown, out Item? item, out Account? account)
    {
        item = Match(book.Items, line.Item, place, "item", "item", unknown);
        account = Match(book.Accounts, line.Account, place, "account", "account", unknown);
        if (item is not null)
            book.SetItem(facts, book.Items.IdOf(line.Item));
        else if (account is not null)
            facts[Fact.ItemTaxGroup] = book.ItemTaxGroups.IdOf(account.ItemTaxGroup);
        else if (Match(book.ItemGroups, line.ItemGroup, place, "itemGroup", "item group", unknown) is { } group)
            (facts[Fact.ItemGroup], facts[Fact.ItemTaxGroup]) = (book.ItemGroups.IdOf(group.Code), book.ItemTaxGroups.IdOf(group.TaxGroup));
    }

    static T? Match<T>(CodeIndex<T> index, string? code, Place? place, string field, string what, List<HeldReason> unknown) where T : class
    {
        if (code is null)
            return null;
        if (index.TryFind(code, out var thing))
            return thing;
        unknown.Add(HeldReason.Unknown(Place.Field(place, field), what, code, "Add it, or correct the code."));
        return null;
    }

    // A line's project drops the document's task; a line's task belongs to the line's project, else to the document's.
    void OpenPlace(Facts facts, string? location, string? project, string? task, Place? place, List<HeldReason> unknown)
    {
        if (Match(book.Locations, location, place, "location", "location", unknown) is not null)
            facts[Fact.Location] = book.Locations.IdOf(location);
        if (Match(book.Projects, project, place, "project", "project", unknown) is { } named)
        {
            facts[Fact.Task] = 0;
            facts[Fact.Project] = book.Projects.IdOf(project);
            facts[Fact.ProjectGroup] = book.ProjectGroups.IdOf(named.Group);
        }
        if (task is null || facts[Fact.Project] == 0)
            return;
        var owner = book.Projects.ById(facts[Fact.Project]);
        facts[Fact.Task] = book.Tasks.IdOf(owner.Code + "/" + task);
        if (facts[Fact.Task] == 0)
            unknown.Add(HeldReason.Unknown(Place.Field(place, "task"), $"task of project {owner.Code} named", task, "Add it, or correct the code."));
        else
            facts[Fact.ProjectGroup] = book.ProjectGroups.IdOf(book.Tasks.ById(facts[Fact.Task]).Task.Group ?? owner.Group);
    }

    Location? LocationOf(Facts facts) => facts[Fact.Location] == 0 ? null : book.Locations.ById(facts[Fact.Location]);

    string? ProjectOf(Facts facts) =>
        facts[Fact.Task] != 0 ? book.Tasks.CodeOf(facts[Fact.Task])
        : facts[Fact.Project] != 0 ? book.Projects.CodeOf(facts[Fact.Project])
        : null;
}

/// <summary>A line with its codes matched and its amounts, in document currency.</summary>
sealed class OpenLine
{
    internal required DocumentLine Line { get; init; }
    internal required int Index { get; init; }
    internal required RowContext Context { get; init; }
    internal Item? Item { get; init; }
    internal Account? Account { get; init; }
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
}
