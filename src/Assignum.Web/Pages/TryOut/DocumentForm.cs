using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Findings;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Web.Showing;

namespace Assignum.Web.Pages.TryOut;

/// <summary>The form of a priced document: a party, and lines with prices, tax and goods that may move.</summary>
sealed class DocumentForm : EventForm
{
    internal static IReadOnlyList<DocumentForm> OfTypes { get; } =
    [
        new(DocumentType.SalesInvoice, "Ships", "Goods leave with the invoice"),
            new(DocumentType.SalesCreditNote, "Returned", "Goods come back with the credit note"),
        new(DocumentType.Takings, "Ships", "Goods leave with the sale"),
        new(DocumentType.PurchaseInvoice, "Comes now", "Goods come with the invoice"),
            new(DocumentType.PurchaseCreditNote, "Goes back", "Goods go back with the credit note"),
        new(DocumentType.ProjectInvoice, "Ships", "Goods leave with the invoice"),
            new(DocumentType.ProjectCreditNote, "Returned", "Goods come back with the credit note"),
    ];

    readonly DocumentTraits traits;
    readonly string party;
    readonly Purpose owed;
    // What lines that name an account are for.
    readonly Purpose of;

    DocumentForm(DocumentType type, string moves, string means)
    {
        traits = DocumentTraits.Of(type);
        (party, owed) = traits.Buys ? ("supplier", Purpose.Payable) : ("customer", Purpose.Receivable);
        of = OfLines(traits);
        Head =
        [
            new("Party", Show.Title(party), Typing.Chosen) { List = party }, new("Date", "Date", Typing.Day),
            new("Location", PlaceOf(traits), Typing.Chosen) { List = "location", Placeholder = "location" },
                new("Connection", "Through") { Placeholder = "connection" },
            .. traits.Buys || traits.OfProject ? [new("Project", "Project", Typing.Chosen) { List = "project", Placeholder = "project", Below = traits.Buys },
                new("Task", "Task") { Placeholder = "of the project", Below = traits.Buys }] : Array.Empty<FormField>(),
            new("Currency", "Currency") { Placeholder = "currency" }, new("Rate", "Rate", Typing.Number) { Placeholder = "1" },
            new("Dimensions", "Dimensions of the document", Typing.Dimensions) { Below = true, Placeholder = "CC=…" },
            new("Control", "Control account", Typing.Chosen) { Below = true, List = "account", For = owed.Name, Placeholder = "by rule" },
            new("IncludesTax", "prices and discounts include tax", Typing.Tick) { Below = true },
            .. traits.IsReturn || traits.TakesReceipt ? [new("RefersTo", "Refers to") { Below = true,
                Placeholder = traits.IsReturn ? "its invoice" : "its receipt" }] : Array.Empty<FormField>(),
            .. traits.PartyMayLack
                ? [new("Cash", "Paid in cash", Typing.Number), new("Into", "Into", Typing.Known) { List = "moneyAccount",
                    Placeholder = "money account" }, new("Other", "Paid otherwise", Typing.Number), new("By", "By", Typing.Known) {
                    List = "method", Placeholder = "method" }] : Array.Empty<FormField>(),
        ];
        Columns =
        [
            new("Sold", traits.OfProject ? "Item" : "Item, account or asset", Typing.Chosen) { List = traits.OfProject ? "item" : "sold",
                Placeholder = "add a line …", Width = "34%" },
            new("Quantity", "Quantity", Typing.Number) { Start = "1", Width = "80" }, new("Price", "Price", Typing.Number) { Width = "90" },
            new("Discount", "Discount %", Typing.Number) { Means = "Discount in per cent", Width = "84" },
            new("TaxCode", "Tax code", Typing.Chosen) { List = "taxCode", Placeholder = "by rule", Width = "90" },
            new("Dimensions", "Dimensions", Typing.Dimensions) { Means = "Dimensions of the line", Placeholder = "CC=…", Width = "92" },
            .. traits.TakesReceipt ? [new("ReceivedCost", "Received at", Typing.Number) { Means = "Cost of one unit received before", Placeholder = "cost",
                Width = "84" }] : Array.Empty<FormField>(),
            // An invoice over goods usually moves them.
            new("Shipped", moves, Typing.Tick) { Means = means, Start = traits.IsReturn ? null : "true", Width = "72" },
            .. traits.Buys ? [new("ToProject", "To project", Typing.Tick) { Means = "Work in progress of the project, or its cost", Width = "72" }]
                : Array.Empty<FormField>(),
            new("Tax", "Tax that holds", Typing.Said), new("Net", "Net", Typing.Said),
        ];
    }

    public override string Name => Words<DocumentType>.Of(traits.Type);
    public override string Begin => traits.Buys ? "a supplier and what is bought" : "a customer and what is sold";
    public override string WhatAsked => traits.Buys ? "What is bought?" : "What is sold?";
    public override string Begins => "Party";
    public override IReadOnlyList<FormField> Head { get; }
    public override IReadOnlyList<FormField> Columns { get; }

    string WhoAsked => traits.Buys ? "Who sells?" : "Who buys?";
    PartyRole Other => traits.Buys ? PartyRole.Customer : PartyRole.Supplier;

    static Purpose OfLines(DocumentTraits traits)
    {
        if (traits.Buys)
            return Purpose.PurchaseExpense;
        return traits.IsReturn ? Purpose.SalesReturn : Purpose.Revenue;
    }

    static string PlaceOf(DocumentTraits traits) => (traits.Buys, traits.IsReturn) switch
    {
        (false, false) or (true, true) => "From",
        (false, true) => "Back to",
        (true, false) => "To",
    };

    public override bool IsBegun(IReadOnlyDictionary<string, string?> line) =>
        !string.IsNullOrWhiteSpace(line.GetValueOrDefault("Sold")) || !string.IsNullOrWhiteSpace(line.GetValueOrDefault("Price"));

    public override Typed Read(TryOutForm form, Rulebook book, DateOnly today)
    {
        var reading = new FormReading();
        var who = ReadParty(form, book, reading);
        var control = reading.Picked("control", AccountPick.One(form["Control"], book.Accounts, owed));
        var location = reading.Picked("location", Pick.One(form["Location"], book.Locations, l => l.Code, l => l.Name, "location"));
        var project = reading.Picked("project", Pick.One(form["Project"], book.Projects, p => p.Code, p => p.Name, "project"));
        var places = form.Begun;
        List<DocumentLine> lines = [.. places.Select(place => ReadLine(form, place, book, reading))];
        var document = new Document
        {
            Id = form.Id, Type = traits.Type, Control = control?.Number, Date = form.Date ?? today, Party = who?.Code, Location = location?.Code,
            Project = project?.Code, Task = project is null ? null : form["Task"],
            Connection = form["Connection"], Currency = form["Currency"], Rate = reading.Number("rate", form["Rate"]),
                PricesIncludeTax = form["IncludesTax"] is not null,
            Text = form["Text"], Dimensions = reading.Dimensions("dimensions", form["Dimensions"]), Lines = lines, RefersTo = form["RefersTo"],
            Tenders = [.. traits.PartyMayLack ? Tenders(form, reading) : []],
        };
        // What can't be read yet is left out, so that the rest already shows.
        List<int> readable = [.. Enumerable.Range(0, lines.Count).Where(i => (lines[i].Item ?? lines[i].Account ?? lines[i].Asset) is not null)];
        var canLand = readable.Count > 0 && !reading.Faults.ContainsKey("party");
        return canLand
            ? new(document with { Lines = readable.ConvertAll(i => lines[i]) }, reading.Faults, readable.ConvertAll(i => places[i]), true)
            : new(document, reading.Faults, places, false);
    }

    static IEnumerable<Tender> Tenders(TryOutForm form, FormReading reading)
    {
        if (reading.Number("cash", form["Cash"]) is { } cash)
            yield return new(form["Into"] ?? "CASH", null, false, cash);
        if (reading.Number("other", form["Other"]) is { } other)
            yield return new(null, form["By"] ?? "card", false, other);
    }

    public override void Fill(TryOutForm form, BusinessEvent sample, Rulebook book)
    {
        var document = (Document)sample;
        form["Party"] = Known(document.Party, book.Parties.FirstOrDefault(p => Fold.Same(p.Code, document.Party))?.Name);
        form["Location"] = Known(document.Location, book.Locations.FirstOrDefault(l => Fold.Same(l.Code, document.Location))?.Name);
        (form["Connection"], form["RefersTo"], form["IncludesTax"]) = (document.Connection, document.RefersTo, document.PricesIncludeTax ? "true" : null);
        foreach (var tender in document.Tenders)
            (form[tender.Method is null ? "Cash" : "Other"], form[tender.Method is null ? "Into" : "By"]) =
                (Number(tender.Amount), tender.MoneyAccount ?? tender.Method);
        (form["Project"], form["Task"]) = (Known(document.Project, book.Projects.FirstOrDefault(p => Fold.Same(p.Code, document.Project))?.Name),
            document.Task);
        form.Lines.Clear();
        foreach (var line in document.Lines)
            form.Lines.Add(new()
            {
                ["Sold"] = Known(Thing(line), Sellable.Of(book).FirstOrDefault(s => Fold.Same(s.Code, Thing(line)))?.Name),
                ["Quantity"] = Number(line.Quantity), ["Price"] = Number(line.Price), ["Discount"] = Number(line.DiscountPercent), ["TaxCode"] = line.TaxCode,
                ["ReceivedCost"] = Number(line.ReceivedCost), ["Shipped"] = line.StockMoves ? "true" : null, ["ToProject"] = line.ToProject ? "true" : null,
            });
        form.AddLine();
    }

    static string? Thing(DocumentLine line) => line.Item ?? line.Account ?? line.Asset;

    static string? Known(string? code, string? name) => name is null ? null : IndexModel.Named(code, name);

    static string? Number(decimal? number) => number?.ToString("0.######", Written.Now);

    Party? ReadParty(TryOutForm form, Rulebook book, FormReading reading)
    {
        if (traits.PartyMayLack && form["Party"] is null)
            return null;
        // Whose very code is typed is meant, and named where they have the other role; nobody like them is taken.
        var meant = book.Parties.FirstOrDefault(p => Fold.Same(p.Code, Pick.CodeOf(form["Party"])));
        var who = meant?.Role == Other ? null
            : reading.Picked("party", Pick.One(form["Party"], book.Parties.Where(p => p.Role != Other), p => p.Code, p => p.Name, party));
        if (who is not null)
            return who;
        meant ??= Pick.One(form["Party"], book.Parties, p => p.Code, p => p.Name, "party").Thing;
        if (meant?.Role == Other)
            reading.Faults["party"] = $"{meant.Code} {meant.Name} is a {meant.Role.Word()}. Name a {party}, or give {meant.Code} the role both.";
        reading.Faults.TryAdd("party", $"{WhoAsked} Type a code or any part of a name.");
        return null;
    }

    DocumentLine ReadLine(TryOutForm form, int place, Rulebook book, FormReading reading)
    {
        var at = $"lines[{place}]";
        var sold = reading.Picked(at + ".sold", Pick.One(form[place, "Sold"],
            traits.OfProject ? [.. Sellable.Of(book).Where(s => s.Is == SellableIs.Item)] : Sellable.Of(book), s => s.Code, s => s.Name,
            traits.OfProject ? "item" : "item, posting account or fixed asset"));
        if (sold is null)
            reading.Faults.TryAdd(at + ".sold",
                $"{WhatAsked} Type an {(traits.OfProject ? "item" : "item, an account or a fixed asset")}, by code, number or " +
                "part of a name.");
        if (form[place, "Price"] is null)
            reading.Faults[at + ".price"] = "The price of one unit is missing. Type it; 0 is allowed.";
        var tax = reading.Picked(at + ".tax", Pick.One(form[place, "TaxCode"], book.TaxCodes, t => t.Code, t => t.Name, "tax code"));
        return new DocumentLine
        {
            Item = sold?.CodeOf(SellableIs.Item), Account = sold?.CodeOf(SellableIs.Account), Asset = sold?.CodeOf(SellableIs.Asset),
            ToProject = form[place, "ToProject"] is not null,
            Quantity = reading.Number(at + ".quantity", form[place, "Quantity"]) ?? 1, Price = reading.Number(at + ".price", form[place, "Price"]) ?? 0,
            DiscountPercent = reading.Number(at + ".discount", form[place, "Discount"]),
            ReceivedCost = traits.TakesReceipt ? reading.Number(at + ".received", form[place, "ReceivedCost"]) : null,
            TaxCode = tax?.Code, StockMoves = form[place, "Shipped"] is not null && sold is { Is: SellableIs.Item },
            Dimensions = reading.Dimensions(at + ".dimensions", form[place, "Dimensions"]),
        };
    }

    public override IEnumerable<Beside> BesideLine(TryOutResult result, int line)
    {
        var document = (Document)result.Happened;
        var totals = line >= 0 && result.Sofar?.Totals?.Lines is { } all && line < all.Count ? all[line] : null;
        var item = line >= 0 && document.Lines[line].Item is { } code && result.Book.Shown.Items.TryFind(code, out var sold) ? sold : null;
        var bars = totals is not null && item?.Kind != ItemKind.Stock;
        yield return new("tax", totals?.TaxCode, totals?.TaxCode is null ? null : totals.TaxFrom);
        yield return new("shipped", null, bars ? item?.Kind.Word() ?? (document.Lines[line].Asset is null ? "account" : "asset") : null, bars);
        yield return new("net", null, totals is null ? null : Show.Amount(totals.Net, result.Page.Decimals));
    }

    public override IEnumerable<(int Line, string Says)> Misfits(TryOutResult result)
    {
        var lines = ((Document)result.Happened).Lines;
        for (var i = 0; i < lines.Count; i++)
            if (lines[i].Account is { } number && result.Book.Shown.Accounts.TryFind(number, out var account)
                && AccountFit.Of(of, account).Where(fit => !fit.Parts).ToList() is { Count: > 0 } misfits)
                yield return (result.Places[i] + 1, string.Join(" ", misfits.Select(fit => $"{account.Number} {account.Name} {fit.Why}. {fit.Fix}")));
    }
}

/// <summary>What it is that a line names.</summary>
enum SellableIs { Item, Account, Asset }

/// <summary>What a line can name.</summary>
sealed record Sellable(string Code, string Name, SellableIs Is)
{
    internal string? CodeOf(SellableIs what) => Is == what ? Code : null;

    internal static IReadOnlyList<Sellable> Of(Rulebook book) =>
        [.. book.Items.Select(i => new Sellable(i.Code, i.Name, SellableIs.Item)),
            .. book.Accounts.Where(a => a.Kind == AccountKind.Posting).Select(a => new Sellable(a.Number, a.Name, SellableIs.Account)),
            .. book.Assets.Select(a => new Sellable(a.Code, a.Name, SellableIs.Asset))];
}
