using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using CsCheck;

namespace Assignum.Core.Tests.Posting;

/// <summary>A rulebook that has an account for every purpose, and events of every type by chance.</summary>
static class EveryEvent
{
    // An account of its own for every purpose, with the control that belongs to it: "revenue" stands on account revenue.
    internal static Rulebook Nursery { get; } = PurchaseTests.Nursery with
    {
        Accounts =
        [
            .. PurchaseTests.Nursery.Accounts, .. Purpose.All.Select(p => new Account { Number = p.Name, Name = p.InWords, Class = p.Classes[0], Control = p.Control }),
            Book.Account("OLD", "Old account", AccountClass.Asset) with { Active = false },
        ],
        Parties =
        [
            .. PurchaseTests.Nursery.Parties, new Party { Code = "B-10", Name = "Bellhollow", Role = PartyRole.Both, TaxGroup = "HOME" },
            new Party { Code = "OURS", Name = "Quillmoss Landscapes", Role = PartyRole.Both, TaxGroup = "HOME", Partner = "QL" },
        ],
        Partners = [new Partner("QL", "Quillmoss Landscapes")],
        Projects = [.. PurchaseTests.Nursery.Projects, new Project { Code = "P-3", Method = ProjectMethod.AtInvoice }],
        Assets = [new Asset { Code = "VAN-1", TaxGroup = "STANDARD" }, new Asset { Code = "VAN-2", TaxGroup = "STANDARD" }],
        Items =
        [
            .. PurchaseTests.Nursery.Items, new Item { Code = "WORK", Kind = ItemKind.Labour, Cost = 24.5m, Group = "DELIVERY" },
            new Item { Code = "BOX", Kind = ItemKind.NonStock, Cost = 0.333m, Group = "POTS" },
        ],
        Rules = [.. Purpose.All.Select((p, i) => new Rule { Id = "e" + i, Purpose = p, Account = p.Name, When = [] })],
    };

    internal static readonly CompiledRulebook Compiled = new(Nursery);

    static Gen<string> OneOf(params string[] codes) => Gen.Int[0, codes.Length - 1].Select(i => codes[i]);

    static readonly Gen<decimal> Amount = Gen.Int[1, 2_000_000].Select(cents => cents / 100m);
    static readonly Gen<decimal> Signed = Gen.Select(Amount, Gen.Bool, (amount, turned) => turned ? -amount : amount);
    static readonly Gen<decimal> Quantity = Gen.Int[1, 90_000].Select(n => n / 1000m);
    static readonly Gen<decimal> Rate = Gen.Int[1, 3_000_000].Select(n => n / 1_000_000m);
    static readonly Gen<decimal?> PerhapsRate = Gen.Select(Rate, Gen.Bool, (rate, given) => given ? rate : (decimal?)null);
    static readonly Gen<decimal?> PerhapsCost = Gen.Select(Gen.Int[0, 99_999], Gen.Bool, (n, given) => given ? n / 1000m : (decimal?)null);
    static readonly Gen<string> Item = OneOf("SEED-01", "POT-12", "WORK", "BOX", "DELIV");
    static readonly Gen<string> StockItem = OneOf("SEED-01", "POT-12");
    static readonly Gen<string> Customer = OneOf("C-10", "C-70", "B-10", "OURS"), Supplier = OneOf("S-10", "B-10", "OURS"), Either = OneOf("B-10", "OURS"), Project = OneOf("P-1", "P-3"), Asset = OneOf("VAN-1", "VAN-2");
    static readonly Gen<(string? Account, string? Method)> Money = Gen.Bool.Select(account => account ? ("MAIN", (string?)null) : ((string?)null, "card"));

    static readonly Gen<Moment> Anything = Gen.Select(Gen.Bool, Rate, Gen.Bool, (foreign, rate, north) => new Moment(foreign ? "USD" : null, foreign ? rate : null, north ? "NORTH" : null));

    internal sealed record Moment(string? Currency, decimal? Rate, string? Location)
    {
        internal bool IsForeign => Currency is not null;
    }

    static readonly Gen<GoodsLine> Goods = Gen.Select(Item, Quantity, Gen.Select(Gen.Int[0, 99_999], Gen.Bool), (item, quantity, cost) =>
        new GoodsLine { Item = item, Quantity = quantity, UnitCost = cost.Item2 || item == "DELIV" ? cost.Item1 / 1000m : null });
    static readonly Gen<IReadOnlyList<GoodsLine>> Lines = Goods.Array[0, 5].Select(lines => (IReadOnlyList<GoodsLine>)lines);
    static readonly Gen<IReadOnlyList<GoodsLine>> SignedLines = Gen.Select(Lines, Gen.Bool.Array[5], (lines, turned) =>
        (IReadOnlyList<GoodsLine>)[.. lines.Select((line, i) => turned[i] ? line with { Quantity = -line.Quantity } : line)]);

    // Parts of a whole, a few cents of it left.
    static Gen<IReadOnlyList<SettledPart>> Parts(decimal whole, bool foreign) => Gen.Select(Gen.Int[0, 3], PerhapsRate, Gen.Int[0, 99], (count, rate, off) =>
    {
        var each = Math.Floor(whole * 100 / 4) / 100;
        return (IReadOnlyList<SettledPart>)[.. Enumerable.Range(0, each > 0 ? count : 0).Select(i => new SettledPart
        {
            Event = "INV-" + i, Amount = each, Account = i == 1 ? "OLD" : null, Rate = foreign && i != 2 ? rate : null,
            CompanyAmount = foreign && i == 2 ? Core.Money.Round(each * (rate ?? 1), 2) + (off / 100m) : null,
        })];
    });

    static Gen<BusinessEvent> Of<T>(Gen<T> gen) where T : BusinessEvent => gen.Select(happened => (BusinessEvent)happened);

    static readonly Gen<BusinessEvent> Goes = Gen.Select(Anything, SignedLines, Gen.Int[0, 3]).Select((at, lines, which) => which switch
    {
        0 => Lay(new Shipment { Id = "E", Date = Book.Day, Lines = lines }, at),
        1 => Lay(new Shipment { Id = "E", Date = Book.Day, IsReturn = true, Lines = lines }, at),
        2 => Lay(new PurchaseReceipt { Id = "E", Date = Book.Day, Lines = lines }, at),
        _ => Lay((BusinessEvent)new StockAdjustment { Id = "E", Date = Book.Day, Lines = [.. lines.Select(l => l with { Reason = "count" })] }, at),
    });

    static readonly Gen<BusinessEvent> Transfers = Of(Gen.Select(Anything, SignedLines, Gen.Int[0, 2]).Select((at, lines, way) =>
        (StockTransfer)Lay(new StockTransfer { Id = "E", Date = Book.Day, ToLocation = "SHOP", OnTheWay = way == 2 ? null : (OnTheWay)way, Lines = lines }, at)));

    internal static readonly Gen<BusinessEvent> Makes = Of(Gen.Select(Anything, StockItem, Quantity, PerhapsCost, Lines, Gen.Bool).Select((at, item, quantity, cost, lines, apart) =>
        (Production)Lay(new Production { Id = "E", Date = Book.Day, Item = item, Quantity = apart ? -quantity : quantity, UnitCost = cost, Lines = lines }, at)));

    static readonly Gen<BusinessEvent> Values = Of(Gen.Select(Anything, StockItem, Signed, Quantity, PerhapsCost, Gen.Bool).Select((at, item, amount, quantity, cost, byCount) =>
        (StockValue)Lay(new StockValue
        {
            Id = "E", Date = Book.Day, ByCount = byCount,
            Lines = [cost is null || byCount ? new ValueLine { Item = item, Amount = amount } : new ValueLine { Item = item, Quantity = quantity, From = cost, To = cost + 0.37m }],
        }, at)));

    internal static readonly Gen<BusinessEvent> Pays = Gen.Select(Anything, Gen.Enum<PaymentType>(), Amount, Gen.Int[0, 500], Gen.Int[-9, 9], PerhapsRate).SelectMany((at, type, amount, discount, tolerance, rate) =>
    {
        var refund = type == PaymentType.Refund;
        var (off, let) = refund ? (0m, 0m) : (discount / 100m, tolerance / 100m);
        return Gen.Select(Money, type == PaymentType.SupplierPayment ? Supplier : Customer, Parts(Math.Max(0, amount + off + let), at.IsForeign), (money, party, parts) => Lay(new Payment
        {
            Id = "E", Date = Book.Day, Type = type, Party = party, Amount = amount, Discount = off, Tolerance = let, MoneyAccount = money.Account, Method = money.Method,
            InvoiceRate = at.IsForeign ? rate : null, Settles = parts,
        }, at));
    });

    static readonly Gen<BusinessEvent> Deposits = Gen.Select(Anything, Gen.Enum<DepositType>(), Amount, PerhapsRate, Money, Either).Select((at, type, amount, rate, money, party) => Lay((BusinessEvent)new Deposit
    {
        Id = "E", Date = Book.Day, Type = type, Party = party, Amount = amount, MoneyAccount = money.Account, Method = money.Method, DepositRate = at.IsForeign && type > DepositType.DepositPaid ? rate : null,
    }, at));

    static readonly Gen<BusinessEvent> Applies = Gen.Select(Anything, Gen.Enum<AppliedType>(), Amount, PerhapsRate, PerhapsRate).SelectMany((at, type, amount, own, rate) =>
        Gen.Select(Parts(amount, at.IsForeign), Either, (parts, party) => Lay((BusinessEvent)new Applied
        {
            Id = "E", Date = Book.Day, Type = type, Party = party, Amount = amount, OwnRate = at.IsForeign ? own : null, InvoiceRate = at.IsForeign ? rate : null, Settles = parts,
        }, at)));

    static readonly Gen<BusinessEvent> Cards = Gen.Select(Anything, Amount, Money, Gen.Bool, Customer).Select((at, amount, money, charge, party) => charge
        ? Lay((BusinessEvent)new LateCharge { Id = "E", Date = Book.Day, Party = party, Interest = amount, Fee = 5 }, at)
        : Lay(new GiftCardSold { Id = "E", Date = Book.Day, Amount = amount, MoneyAccount = money.Account, Method = money.Method }, at));

    static readonly Gen<BusinessEvent> Settles = Gen.Select(Anything, Signed.Array[1, 4], PerhapsRate, Gen.Int[0, 300], Gen.Enum<ItemOf>(), Either).Select((at, amounts, rate, discount, of, party) =>
    {
        var lines = amounts.Select((amount, i) => new SettlementLine { Event = "I" + i, Of = i % 2 == 0 ? of : ItemOf.Payable, Amount = amount, Account = i == 2 ? "OLD" : null, Rate = at.IsForeign && i == 1 ? rate : null }).ToList();
        var left = (discount / 100m) - amounts.Sum();
        if (left != 0)
            lines.Add(new SettlementLine { Event = "I9", Of = ItemOf.Receivable, Amount = left });
        return Lay((BusinessEvent)new Settlement { Id = "E", Date = Book.Day, Party = party, Discount = discount / 100m, Lines = lines }, at);
    });

    internal static readonly Gen<BusinessEvent> PaysOut = Gen.Select(Gen.Enum<PayoutKind>(), Amount, OneOf("R8", "RC", "HALF", "TWO", "")).Array[0, 6].Select(lines => (BusinessEvent)new Payout
    {
        Id = "E", Date = Book.Day, Connection = "card-payments", Method = "card", MoneyAccount = "MAIN",
        Lines = [.. lines.Select(l => new PayoutLine(l.Item1, l.Item1 == PayoutKind.Adjustment ? -l.Item2 : l.Item2, l.Item1 == PayoutKind.Fee && l.Item3.Length > 0 ? l.Item3 : null))],
    });

    static readonly Gen<BusinessEvent> Journals = Gen.Select(Anything, Amount.Array[1, 5], Gen.Bool).Select((at, amounts, opening) =>
    {
        var lines = amounts.Select((amount, i) => new JournalLine
        {
            Account = i % 3 == 0 ? "6310" : null, MoneyAccount = i % 3 == 1 ? "MAIN" : null, Party = i % 3 == 2 && !opening ? "B-10" : null,
            Of = i % 3 == 2 && !opening ? PartySide.Payable : null, Debit = i % 2 == 0 ? amount : null, Credit = i % 2 == 1 ? amount : null,
        }).Select(l => l is { Account: null, MoneyAccount: null, Party: null } ? l with { Account = "6300" } : l).ToList();
        if (opening)
            return Lay((BusinessEvent)new OpeningBalance { Id = "E", Date = Book.Day, Lines = lines }, at);
        var left = lines.Sum(l => l.Amount);
        if (left != 0)
            lines.Add(new JournalLine { Account = "6300", Credit = left });
        return Lay(new ManualJournal { Id = "E", Date = Book.Day, Lines = lines }, at);
    });

    static readonly Gen<BusinessEvent> Opens = Gen.Select(Anything, Gen.Enum<OpeningKind>(), Signed, Quantity, PerhapsCost, Either, Project).Select((at, kind, amount, quantity, cost, party, project) =>
    {
        var opening = new OpeningItem { Id = "E", Date = Book.Day, Kind = kind };
        return Lay((BusinessEvent)(kind switch
        {
            OpeningKind.Inventory or OpeningKind.Receipt => opening with { Item = "SEED-01", Quantity = quantity, UnitCost = cost, Amount = cost is null ? amount : null },
            OpeningKind.Project => opening with { Project = project, Cost = amount, Billed = quantity < 40 ? 12.34m : null, Accrued = cost is null ? null : -amount },
            OpeningKind.Asset => opening with { Asset = "VAN-1", Cost = Math.Abs(amount), Accumulated = cost is null ? null : Math.Abs(amount) / 2 is var half ? Core.Money.Round(half, 2) : null },
            _ => opening with { Party = party, Amount = amount },
        }), at);
    });

    static readonly Gen<BusinessEvent> Uses = Gen.Select(Anything, SignedLines, Project, Gen.Int[0, 2]).Select((at, lines, project, group) => Lay((BusinessEvent)new ProjectUsage
    {
        Id = "E", Date = Book.Day, Project = project, Task = project == "P-1" && group == 1 ? "10" : null,
        Lines = [.. lines.Select((l, i) => new UsageLine
        {
            Item = i == 0 && group == 0 ? null : l.Item, ItemGroup = i == 0 && group == 0 ? "SEEDS" : null, ItemKind = i == 0 && group == 0 ? ItemKind.Stock : null,
            Quantity = l.Quantity, UnitCost = l.UnitCost ?? 1.2345m,
        })],
    }, at));

    static readonly Gen<BusinessEvent> Recognises = Gen.Select(Anything, Signed, Signed, Signed, Gen.Bool).Select((at, cost, revenue, billed, task) => Lay((BusinessEvent)new ProjectRecognition
    {
        Id = "E", Date = Book.Day, Project = "P-1", Task = task ? "10" : null, Cost = cost, Revenue = revenue, FromBilled = task ? revenue : billed,
    }, at));

    static readonly Gen<BusinessEvent> Wears = Gen.Select(Anything, Signed.Array[1, 4], Asset, Gen.Int[0, 100], Gen.Int[0, 2]).Select((at, amounts, asset, part, which) =>
    {
        var cost = Math.Abs(amounts[0]);
        var accumulated = Core.Money.Round(cost * part / 100, 2);
        return Lay(which switch
        {
            0 => new AssetDepreciation { Id = "E", Date = Book.Day, Lines = [.. amounts.Select(a => new DepreciatedAsset(asset, a, LinePlace.None))] },
            1 => new AssetTransfer { Id = "E", Date = Book.Day, From = asset, To = "VAN-2", Cost = cost, Accumulated = accumulated },
            _ => (BusinessEvent)new AssetDisposal { Id = "E", Date = Book.Day, Asset = asset, Cost = cost, Accumulated = accumulated },
        }, at);
    });

    static readonly Gen<BusinessEvent> Closes = Gen.Select(Signed.Array[1, 4], Gen.Bool).Select((amounts, year) => year
        ? new YearEnd { Id = "E", Date = Book.Day, FiscalYear = "2026", Lines = [.. amounts.Select((a, i) => new ClosedBalance(i % 2 == 0 ? "4010" : "6310", a, Dimensions.None))] }
        : (BusinessEvent)new StandingTransfer
        {
            Id = "E", Date = Book.Day, Purpose = amounts.Length == 1 ? Purpose.IntercompanyPayable : Purpose.Inventory, From = "1310",
            Lines = [.. amounts.Select(a => amounts.Length == 1 ? new StandingLine { Amount = a, Party = "OURS" } : new StandingLine { Amount = a, Item = "SEED-01" })],
        });

    static readonly Gen<BusinessEvent> Revalues = Signed.Array[1, 4].Select(amounts => (BusinessEvent)new Revaluation
    {
        Id = "E", Date = Book.Day,
        Lines = [.. amounts.Select((a, i) => (i % 3) switch
        {
            0 => new RevaluedLine("2010", a) { Party = "S-10", Currency = "USD" }, 1 => new RevaluedLine("1000", a) { MoneyAccount = "MAIN", Currency = "USD" },
            _ => new RevaluedLine("1310", a),
        })],
    });

    static BusinessEvent Lay(BusinessEvent happened, Moment at) => happened with { Currency = at.Currency, Rate = at.Rate, Location = at.Location };

    /// <summary>An event of any type but the priced documents, which have generators of their own; it lands by <see cref="Nursery"/>.</summary>
    internal static Gen<BusinessEvent> Any { get; } =
        Gen.OneOf(Goes, Transfers, Makes, Values, Pays, Deposits, Applies, Cards, Settles, PaysOut, Journals, Opens, Closes, Revalues, Uses, Recognises, Wears);
}
