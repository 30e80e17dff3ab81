using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using CsCheck;

namespace Assignum.Core.Tests.Posting;

/// <summary>Projects, fixed assets and companies of the group on the ordinary documents; every purpose lands on an account of its name.</summary>
public class ProjectDocumentTests
{
    static readonly Rulebook Nursery = EveryEvent.Nursery with
    {
        Accounts = [.. EveryEvent.Nursery.Accounts, Book.Account("GROUP-2", "Owed in the group", AccountClass.Asset) with { Control = Control.Intercompany }],
        Parties = [.. EveryEvent.Nursery.Parties.Where(p => p.Code != "OURS"), new Party { Code = "OURS", Role = PartyRole.Both, TaxGroup = "HOME", Partner = "QL", ControlAlternates = ["GROUP-2"] }],
        Rules = [.. EveryEvent.Nursery.Rules, Book.Rule("intercompany-receivable", "GROUP-2", (Fact.Partner, "QL"))],
    };

    static readonly CompiledRulebook Compiled = new(Nursery);

    static IEnumerable<string> Rows(BusinessEvent happened, CompiledRulebook? book = null) => Landing.Land(book ?? Compiled, happened) switch
    {
        Landed landed => landed.Rows.Select(r => FormattableString.Invariant($"{r.Account.Number} {r.Purpose?.Name} {r.Amount:0.00}")),
        Held held => held.Reasons.Select(r => $"held {r.Cause} {r.Field}"),
        _ => [],
    };

    static IEnumerable<string> Moves(BusinessEvent happened) => ((Landed)Landing.Land(Compiled, happened)).Subledger.Select(m =>
        FormattableString.Invariant($"{Words<Subledger>.Of(m.Subledger)} {m.Member} {m.Amount:0.00}"));

    static Document Bill(params DocumentLine[] lines) => new() { Id = "B", Type = DocumentType.PurchaseInvoice, Date = Book.Day, Party = "S-10", Lines = lines };

    static Document Of(DocumentType type, params DocumentLine[] lines) => new() { Id = "I", Type = type, Date = Book.Day, Party = "C-10", Project = "P-1", Task = "10", Lines = lines };

    static readonly DocumentLine Box = new() { Item = "BOX", Quantity = 2, Price = 50, ToProject = true, TaxCode = "HALF" };
    static readonly DocumentLine Van = new() { Asset = "VAN-1", Price = 1000, DiscountPercent = 10, TaxCode = "HALF" };

    [Fact]
    public void What_is_bought_for_a_project_is_its_work_in_progress_with_the_tax_that_is_not_recovered()
    {
        var bill = Bill(Box) with { Project = "P-1", Task = "10" };

        Assert.Equal(["project-wip project-wip 100.00", "input-tax input-tax 10.00", "project-wip project-wip 10.00", "payable payable -120.00"], Rows(bill));
        Assert.Equal(["projects P-1/10 100.00", "tax HALF 10.00", "projects P-1/10 10.00", "payables S-10 -120.00"], Moves(bill));
    }

    [Fact]
    public void Where_the_project_is_recognised_at_invoice_it_is_cost_and_no_movement() =>
        Assert.Equal(["project-cost project-cost 100.00", "input-tax input-tax 20.00", "payable payable -120.00"], Rows(Bill(Box with { TaxCode = "S20", Project = "P-3" })));

    [Fact]
    public void Discounts_do_not_stand_apart_on_what_goes_to_a_project_nor_on_assets() =>
        Assert.Equal(["project-wip project-wip 90.00", "asset-cost asset-cost 900.00", "input-tax input-tax 198.00", "payable payable -1188.00"],
            Rows(Bill(Box with { TaxCode = "S20", Project = "P-1", DiscountPercent = 10 }, Van with { TaxCode = "S20" }),
                new CompiledRulebook(Nursery.WithOptions(new CompanyOptions { SeparateDiscounts = true }))));

    [Theory]
    [InlineData("SEED-01", null, null, "P-1", "held Invalid lines[0].toProject")]
    [InlineData(null, "6310", null, "P-1", "held Invalid lines[0].toProject")]
    [InlineData(null, null, "VAN-1", "P-1", "held Invalid lines[0].toProject")]
    [InlineData("BOX", null, null, null, "held Invalid lines[0].toProject")]
    public void Stock_accounts_assets_and_what_has_no_project_do_not_go_to_one(string? item, string? account, string? asset, string? project, string held) =>
        Assert.Equal([held], Rows(Bill(new DocumentLine { Item = item, Account = account, Asset = asset, Project = project, Price = 1, ToProject = true, TaxCode = "S20" })));

    [Fact]
    public void A_bought_asset_is_its_cost_with_the_tax_that_is_not_recovered()
    {
        Assert.Equal(["asset-cost asset-cost 900.00", "input-tax input-tax 90.00", "asset-cost asset-cost 90.00", "payable payable -1080.00"], Rows(Bill(Van)));
        Assert.Equal(["assets VAN-1 900.00", "tax HALF 90.00", "assets VAN-1 90.00", "payables S-10 -1080.00"], Moves(Bill(Van)));
    }

    [Fact]
    public void A_sold_asset_is_taxed_by_its_own_tax_group_and_lands_on_its_disposal() =>
        Assert.Equal(["asset-disposal asset-disposal -100.00", "output-tax output-tax -20.00", "receivable receivable 120.00"],
            Rows(Of(DocumentType.SalesInvoice, new DocumentLine { Asset = "van-1", Price = 100 })));

    [Theory]
    [InlineData("shipped")]
    [InlineData("standsOn")]
    public void An_asset_is_no_stock(string field) => Assert.Equal(["held Invalid lines[0]." + field],
        Rows(Of(DocumentType.SalesInvoice, new DocumentLine { Asset = "VAN-1", Price = 1, StockMoves = field == "shipped", StandsOn = field == "standsOn" ? "1310" : null })));

    [Fact]
    public void What_is_billed_of_a_project_stands_there_and_goods_shipped_with_it_are_its_work_in_progress()
    {
        var invoice = Of(DocumentType.ProjectInvoice, Book.Line("SEED-01", 10, 2.5m) with { StockMoves = true }, Book.Line("DELIV", 1, 5));

        Assert.Equal(["project-billed project-billed -25.00", "project-wip project-wip 8.50", "inventory inventory -8.50", "charge-income charge-income -5.00", "output-tax output-tax -2.00", "output-tax output-tax -1.00", "receivable receivable 33.00"], Rows(invoice));
        Assert.Equal(["project-billed project-billed 25.00", "project-wip project-wip -8.50", "inventory inventory 8.50", "charge-income charge-income 5.00", "output-tax output-tax 2.00", "output-tax output-tax 1.00", "receivable receivable -33.00"],
            Rows(invoice with { Type = DocumentType.ProjectCreditNote }));
        Assert.Contains("projects P-1/10 8.50", Moves(invoice));
    }

    [Fact]
    public void Billed_at_invoice_is_revenue_and_what_is_shipped_with_it_cost_of_sales() =>
        Assert.Equal(["project-revenue project-revenue -25.00", "cost-of-sales cost-of-sales 8.50", "inventory inventory -8.50", "output-tax output-tax -2.00", "receivable receivable 27.00"],
            Rows(Of(DocumentType.ProjectInvoice, Book.Line("SEED-01", 10, 2.5m) with { StockMoves = true }) with { Project = "P-3", Task = null }));

    [Fact]
    public void A_project_document_without_a_project_on_every_line_is_none() =>
        Assert.Equal(["held Invalid project"], Rows(Of(DocumentType.ProjectInvoice, Book.Line("DELIV", 1, 5) with { Project = "P-1" }, Book.Line("DELIV", 1, 5)) with { Project = null, Task = null }));

    [Fact]
    public void A_project_recognised_at_invoice_has_no_recognition() =>
        Assert.Equal(["held Invalid project"], Rows(new ProjectRecognition { Id = "R", Date = Book.Day, Project = "P-3", Cost = 1 }));

    [Fact]
    public void A_company_of_the_group_owes_on_the_accounts_between_companies_by_its_own_rule_and_alternates()
    {
        var invoice = Of(DocumentType.SalesInvoice, Book.Line("DELIV", 1, 5)) with { Party = "OURS", Project = null, Task = null };

        Assert.Equal("GROUP-2 intercompany-receivable 6.00", Rows(invoice).Last());
        Assert.Contains("intercompany OURS 6.00", Moves(invoice));
        Assert.Equal(["held ControlNotPermitted "], Rows(invoice with { Control = "1120" }));
        Assert.Equal("GROUP-2 intercompany-payable -6.00", Rows(Bill(Book.Line("DELIV", 1, 5)) with { Party = "OURS", Control = "GROUP-2" }).Last());
    }

    [Fact]
    public void Its_deposits_stay_deposits_and_settle_what_is_owed_between_companies() =>
        Assert.Equal(["customer-deposit customer-deposit 10.00", "GROUP-2 intercompany-receivable -10.00"],
            Rows(new Applied { Id = "A", Date = Book.Day, Type = AppliedType.DepositApplied, Party = "OURS", Amount = 10 }));

    [Fact]
    public void An_opening_has_only_the_fields_of_its_kind() => Assert.Equal(["held Invalid billed"],
        Rows(new OpeningItem { Id = "O", Date = Book.Day, Kind = OpeningKind.Asset, Asset = "VAN-1", Cost = 1, Billed = 1 }));
}
