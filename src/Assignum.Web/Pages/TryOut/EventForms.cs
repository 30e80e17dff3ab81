using Assignum.Core;
using Assignum.Core.Posting;

namespace Assignum.Web.Pages.TryOut;

/// <summary>Forms of events whose fields are typed one by one: each is a description.</summary>
static class EventForms
{
    static readonly FormField Date = new("date", "Date", Typing.Day), Text = new("text", "Text"), Customer = Of("party", "Customer", "customer"),
        Supplier = Of("party", "Supplier", "supplier"), Currency = new("currency", "Currency"), Rate = new("rate", "Rate", Typing.Number) { Placeholder = "1" },
        Amount = new("amount", "Amount", Typing.Number) { Needed = true }, Through = Known("connection", "Through"),
        StandsOn = Account("standsOn", "Stands on", "by rule"), Number = new("number", "Document");
    static readonly FormField Item = Of("item", "Item", "item") with { Placeholder = "add a line …", Width = "26%", Needed = true },
        Quantity = new("quantity", "Quantity", Typing.Number) { Needed = true, Width = "90" },
        Cost = new("unitCost", "Cost of one", Typing.Number) { Placeholder = "item's", Width = "96" },
        Line = new("text", "Text") { Width = "12%" }, Dimensions = new("dimensions", "Dimensions", Typing.Dimensions) { Placeholder = "CC=…", Width = "92" };

    static FormField Of(string name, string label, string list) => new(name, label, Typing.Chosen) { List = list, Needed = true };

    static readonly FormField Project = Of("project", "Project", "project"), Task = new("task", "Task") { Placeholder = "of the project" },
        AssetCost = new("cost", "Cost", Typing.Number) { Needed = true }, Accumulated = new("accumulated", "Depreciated so far", Typing.Number);

    static FormField Asset(string name, string label) => Of(name, label, "asset");

    static FormField Perhaps(FormField field) => field with { Needed = false };

    static FormField Place(string name, string label) => new(name, label, Typing.Chosen) { List = "location", Placeholder = "location" };

    static FormField Known(string name, string label) => new(name, label, Typing.Known) { List = name };

    static FormField Account(string name, string label, string placeholder) => new(name, label, Typing.Chosen) { List = "account", Placeholder = placeholder };

    static FormField Word<T>(string name, string label) where T : struct, Enum => new(name, label, Typing.Word) { Words = Words<T>.All };

    static FieldsForm Form(string type, string begin, FormField[] head, FormField[] columns, string list = "lines") =>
        new(EventTypes.Find(type)!, head, columns, begin, list);

    // What an event belongs to: it is found with it, and taken first.
    static FormField Refers(string to) => new("refersTo", "Refers to") { Below = true, Placeholder = to };

    static FormField[] Money(string into) => [Known("moneyAccount", into) with { Placeholder = "money account" }, Known("method", "or by") with
        { Placeholder = "method" }];

    // Parts of open items, as a payment settles them.
    static FormField[] Parts { get; } =
    [
        new("event", "Item it settles") { Placeholder = "id of its event", Width = "22%", Needed = true }, Amount with { Label = "Settled now", Width = "110" },
        Account("account", "Stands on", "by rule") with { Width = "24%" }, new("rate", "Booked at", Typing.Number) { Placeholder = "rate", Width = "90" },
    ];

    static FormField[] Journal(bool byParty) =>
    [
        Account("account", "Account", "add a line …") with { Width = "20%" },
        .. byParty ? [Of("party", "or party", "party") with { Needed = false, Width = "16%" }, Word<PartySide>("of", "of its") with { Placeholder = "",
            Width = "110" }]
            : Array.Empty<FormField>(),
        Known("moneyAccount", "or money") with { Means = "or money account", Width = "9%" }, new("debit", "Debit", Typing.Number) { Width = "100" },
        new("credit", "Credit", Typing.Number) { Width = "100" }, Line, Dimensions,
    ];

    internal static IReadOnlyList<FieldsForm> All { get; } =
    [
        Form(Shipment.Out, "what leaves", [Perhaps(Customer), Date, Place("location", "From"), Through, Text, Refers("its invoice")],
            [Item, Quantity, Cost, StandsOn]),
        Form(Shipment.Back, "what comes back", [Perhaps(Customer), Date, Place("location", "Back to"), Through, Text, Refers("its shipment")],
            [Item, Quantity, Cost, StandsOn]),
        Form(PurchaseReceipt.Name, "what has come", [Perhaps(Supplier), Date, Place("location", "To"), Number, Text, Refers("its invoice")],
            [Item, Quantity, Cost, Account("account", "Account", "by rule")]),
        Form(StockAdjustment.Name, "what is more or less", [Place("location", "At"), Date, Text],
        [
            Item, Place("location", "At") with { Placeholder = "as above", Means = "Place, where it is another", Width = "13%" },
            Quantity with { Means = "Quantity; what is gone negative" }, Cost, Known("reason", "Reason") with { Width = "120" }, StandsOn,
        ]),
        Form(StockTransfer.Name, "what goes where", [Place("location", "From"), Place("toLocation", "To") with { Needed = true }, Date,
            Word<OnTheWay>("onTheWay", "Half of it") with { Placeholder = "both at once" }, Text, Refers("its dispatch")], [Item, Quantity, Cost, StandsOn]),
        Form(Production.Name, "what is made", [Of("item", "Made", "item"), Quantity, new("unitCost", "Standard cost", Typing.Number) { Placeholder = "none" },
            Date,
            Place("location", "At"), Text], [Item with { Label = "Goes into it" }, Quantity, Cost, StandsOn]),
        Form(StockValue.Cost, "whose cost changes", [Place("location", "At"), Date, Text],
        [
            Item, Perhaps(Quantity), new("from", "Cost before", Typing.Number) { Width = "100" }, new("to", "Cost after", Typing.Number) { Width = "100" },
            new("amount", "or change", Typing.Number) { Width = "100" }, StandsOn,
        ]),
        Form(StockValue.Closing, "what the count is worth more or less", [Date with { Label = "Day of the count" }, Text],
        [
            Perhaps(Item), Of("itemGroup", "or item group", "itemGroup") with { Needed = false, Width = "22%" }, Place("location", "At") with { Width = "18%" },
            Amount with { Label = "Change of value", Width = "120" },
        ]),
        Form(Words<PaymentType>.Of(PaymentType.CustomerPayment), "who pays, and how much", [Customer, Date, Amount, new("discount", "Discount", Typing.Number),
            new("tolerance", "Let go", Typing.Number), .. Money("Into"), Currency, Rate, Text], Parts, "settles"),
        Form(Words<PaymentType>.Of(PaymentType.SupplierPayment), "who is paid, and how much", [Supplier, Date, Amount, new("discount", "Discount",
            Typing.Number),
            new("tolerance", "Let go", Typing.Number), .. Money("From"), Currency, Rate, Text], Parts, "settles"),
        Form(Words<PaymentType>.Of(PaymentType.Refund), "who is paid back, and how much", [Customer, Date, Amount, .. Money("From"), Currency, Rate, Text],
            Parts,
            "settles"),
        .. Words<DepositType>.All.Select(type => Deposit(type, Words<DepositType>.Parse(type))),
        .. Words<AppliedType>.All.Select(type => Applied(type, Words<AppliedType>.Parse(type))),
        Form(GiftCardSold.Name, "how much is on the card", [Amount, Date, .. Money("Into"), Through, Perhaps(Customer), Text], []),
        Form(LateCharge.Name, "who pays late", [Customer, Date, new("interest", "Interest", Typing.Number), new("fee", "Fee", Typing.Number), Currency, Rate,
            Text], []),
        Form(Settlement.Name, "whose items are settled", [Of("party", "Party", "party"), Date, new("discount", "Discount", Typing.Number),
            new("tolerance", "Let go", Typing.Number), Currency, Rate, Text],
            [Parts[0] with { Label = "Item" }, Word<ItemOf>("of", "of its") with { Needed = true, Width = "150" }, Amount with { Label = "Taken away",
                Width = "110" },
                Parts[2], Parts[3]]),
        Form(ProjectUsage.Name, "which project uses what", [Project, Task, Date, Place("location", "From"), Text],
            [Perhaps(Item), Of("itemGroup", "or item group", "itemGroup") with { Needed = false, Width = "18%" }, Quantity, Cost,
                StandsOn with { Width = "16%" }]),
        Form(ProjectRecognition.Name, "which project is recognised", [Project, Task, Date, new("cost", "Cost", Typing.Number),
            new("revenue", "Revenue", Typing.Number), new("fromBilled", "of it billed", Typing.Number), Text], []),
        Form(AssetDepreciation.Name, "what is depreciated", [Text, Date],
            [Asset("asset", "Fixed asset") with { Placeholder = "add a line …", Width = "40%" }, Amount with { Width = "130" }, Dimensions]),
        Form(AssetTransfer.Name, "from which asset to which", [Asset("from", "From"), Asset("to", "To"), Date, AssetCost, Accumulated, Text], []),
        Form(AssetDisposal.Name, "which asset goes", [Asset("asset", "Fixed asset"), Date, AssetCost, Accumulated, Text], []),
        Form(Payout.Name, "who pays out", [Known("connection", "Paid out by") with { Needed = true }, Known("method", "Method") with { Needed = true },
            Known("moneyAccount", "Into") with { Needed = true, Placeholder = "money account" }, Date, Number, Text],
            [Word<PayoutKind>("kind", "What") with { Placeholder = "add a line …", Needed = true, Width = "26%" }, Amount with { Width = "120" },
                new("taxCode", "Tax on a fee", Typing.Chosen) { List = "taxCode", Placeholder = "none", Width = "22%" }]),
        Form(ManualJournal.Name, "what it is for", [Text, Date, Number, Currency, Rate, new("adjustment", "in the adjustment period",
            Typing.Tick) { Below = true }, Refers("another journal")],
            Journal(byParty: true)),
        Form(YearEnd.Name, "which year ends", [new("fiscalYear", "Fiscal year") { Needed = true }, Date,
            new("adjustment", "in the adjustment period", Typing.Tick) { Below = true }],
            [Account("account", "Account", "add a line …") with { Needed = true, Width = "40%" }, Amount with { Label = "Balance", Width = "130" },
                Dimensions]),
        Form(Revaluation.Name, "what is revalued", [Text, Date, new("adjustment", "in the adjustment period", Typing.Tick) { Below = true }],
            [Account("account", "Account", "add a line …") with { Needed = true, Width = "26%" }, Perhaps(Of("party", "Party", "party")) with { Width = "20%" },
                Known("moneyAccount", "Money account"), Currency, Amount with { Label = "Difference", Width = "110" }]),
        Form(OpeningItem.Name, "what is open", [Word<OpeningKind>("kind", "What") with { Needed = true }, Perhaps(Of("party", "Party", "party")), Number, Date,
            Perhaps(Amount), Perhaps(Of("item", "Item", "item")), Perhaps(Quantity), new("unitCost", "Cost of one", Typing.Number), Place("location", "At"),
                Currency, Rate, Perhaps(Project) with { Below = true }, Task with { Below = true }, Perhaps(Asset("asset",
                    "Fixed asset")) with { Below = true },
            new("cost", "Cost", Typing.Number) { Below = true }, new("billed", "Billed ahead", Typing.Number) { Below = true },
            new("accrued", "Accrued", Typing.Number) { Below = true }, Accumulated with { Below = true }], []),
        Form(OpeningBalance.Name, "which balances", [Text, Date], Journal(byParty: false)),
        Form(BalanceStatement.Name, "who states them", [Known("connection", "Stated by") with { Needed = true }, Date],
            [Word<Subledger>("subledger", "Subledger") with { Placeholder = "add a line …", Needed = true, Width = "24%" }, new("member",
                "Of") { Needed = true, Width = "30%" },
                new("amount", "Amount", Typing.Number) { Width = "120" }, new("quantity", "Quantity", Typing.Number) { Width = "120" }]),
        Form(StandingTransfer.Name, "what stands where", [new("purpose", "Purpose", Typing.Word) { Needed = true,
            Words = [.. StandingTransfer.Carrying.Select(p => p.Name)] },
            Account("from", "Stands on", "account") with { Needed = true }, Date, Text],
            [Perhaps(Item), Of("party", "or party", "party") with { Needed = false, Width = "24%" }, Place("location", "At") with { Width = "16%" },
                Amount with { Label = "Amount", Width = "120" }, Currency with { Width = "70" }, new("documentAmount", "In it",
                    Typing.Number) { Width = "110" }]),
        Form(Reclassification.Name, "from which account to which", [Account("from", "From", "account") with { Needed = true }, Account("to", "To",
            "account") with { Needed = true },
            Date, Text], [Amount with { Width = "130" }, Of("party", "Party", "party") with { Needed = false, Width = "34%" }, Dimensions]),
    ];

    static FieldsForm Deposit(string type, DepositType of)
    {
        var customers = of.IsCustomers();
        FormField[] booked = of.Ends() ? [StandsOn, new("depositRate", "Deposit booked at", Typing.Number) { Placeholder = "rate" }] : [];
        return Form(type, customers ? "whose deposit, and how much" : "to whom, and how much",
            [customers ? Customer : Supplier, Date, Amount, .. Money(of.BringsMoney() ? "Into" : "From"),
                Currency, Rate,
                .. booked, Text, .. of.Ends() ? [Refers("its deposit")] : Array.Empty<FormField>()], []);
    }

    static FieldsForm Applied(string type, AppliedType of)
    {
        var rate = of == AppliedType.GiftCardUsed ? ("cardRate", "Card booked at") : ("depositRate", "Deposit booked at");
        return Form(type, "for whom, and how much", [of == AppliedType.DepositSettled ? Supplier : Customer, Date, Amount, StandsOn, Currency, Rate,
            new(rate.Item1, rate.Item2, Typing.Number) { Placeholder = "rate" }, Text, Refers("its deposit or card")], Parts, "settles");
    }
}
