using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Time, material or expense that a project uses.</summary>
public sealed record UsageLine
{
    /// <summary>Code of the item; exactly one of item and item group is given.</summary>
    public string? Item { get; init; }
    /// <summary>Code of an item group, for what has no item of its own.</summary>
    public string? ItemGroup { get; init; }
    /// <summary>Kind of that; null: non-stock.</summary>
    public ItemKind? ItemKind { get; init; }
    /// <summary>Quantity, at most 6 decimals, not 0.</summary>
    public required decimal Quantity { get; init; }
    /// <summary>Cost of one unit, company currency, 0 or more, at most 6 decimals; null: the item's.</summary>
    public decimal? UnitCost { get; init; }
    /// <summary>Number of the account the stock stands on.</summary>
    public string? StandsOn { get; init; }
    /// <summary>Where the line is, and what is said of it.</summary>
    public LinePlace Place { get; init; } = LinePlace.None;
}

/// <summary>What a project uses of the company's own: hours, materials from stock, overhead.</summary>
public sealed record ProjectUsage : BusinessEvent
{
    /// <summary>A usage with no header yet.</summary>
    public ProjectUsage() { }

    /// <summary>A usage under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal ProjectUsage(EventHeader header) : base(header) { }

    /// <summary>What is used.</summary>
    public IReadOnlyList<UsageLine> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Place.Dimensions);
    /// <inheritdoc/>
    public override IEnumerable<StockPlace> StockMoved =>
        Lines.Where(line => line.Item is not null).Select(line => new StockPlace(line.Item!, line.Place.Location ?? Location));
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "project-usage";
}

/// <summary>Work in progress of the project (its cost, where it keeps none) against stock, or against what absorbs the work.</summary>
sealed class ProjectUsageRecipe(CompiledRulebook book, ProjectUsage usage) : GoodsRecipe<ProjectUsage>(book, usage)
{
    internal static EventType Type { get; } = new(ProjectUsage.Name, EventFamily.Projects,
    [
        new("lines", FieldKind.List)
        {
            Required = true,
            Inner =
            [
                new("item", FieldKind.Code), new("itemGroup", FieldKind.Code), new("itemKind", FieldKind.Word) { Words = Words<ItemKind>.All },
                new("quantity", FieldKind.Amount) { Required = true }, new("unitCost", FieldKind.Amount), StandsOn, .. LinePlace.Fields,
            ],
        },
    ], static (book, happened) => new ProjectUsageRecipe(book, (ProjectUsage)happened).Land())
    {
        Prepare = static (preparing, happened) => happened is ProjectUsage used ? used with { Lines = preparing.Goods(used.Lines) } : happened,
    };

    protected override HeldReason? ShapeFault(Shape shape) => Shape.FirstOf(Happened.Lines, (line, i) => LineFault(line, new Place("lines", i)));

    HeldReason? LineFault(UsageLine line, Place place)
    {
        if (line.Item is null == line.ItemGroup is null)
            return HeldReason.Invalid(place.ToString(), $"{place.InWords}: name an item or an item group, one of them.");
        if (line.ItemKind is not null && line.ItemGroup is null)
            return HeldReason.Invalid(place.Of("itemKind"),
                $"{place.InWords}: a kind of item goes with an item group only; an item has its own kind. Leave it out.");
        if (Happened.Project is null && line.Place.Project is null)
            return HeldReason.Invalid(Happened.Lines.Any(l => l.Place.Project is not null) ? place.Of("project") : "project",
                $"{place.InWords}: which project uses it is missing. Name the project on the event, or on every line.");
        return Shape.OfQuantity(place, line.Quantity) ?? Shape.OfCost(place, "unitCost", line.UnitCost)
            ?? Shape.OfTask(place, line.Place.Task, line.Place.Project, Happened.Project);
    }

    protected override void Write()
    {
        for (var i = 0; i < Happened.Lines.Count; i++)
            Write(Happened.Lines[i], new Place("lines", i));
    }

    void Write(UsageLine line, Place place)
    {
        var facts = Row.Facts.Copy();
        var (item, group, standsOn, row) = (default(Item), default(Group), default(Account), Row);
        var known = Matches(unknown =>
        {
            item = Matching.Code(Book.Items, line.Item, place, "item", "item", unknown);
            group = Matching.Code(Book.ItemGroups, line.ItemGroup, place, "itemGroup", "item group", unknown);
            standsOn = Matching.Code(Book.Accounts, line.StandsOn, place, "standsOn", "account", unknown);
            if (group is not null)
                SetGroup(facts, group, line.ItemKind ?? ItemKind.NonStock);
            row = OpenRow(facts, item, line.Place, place, unknown);
        });
        if (!known || CostOf(line, item, group) is not { } cost)
            return;
        var purpose = ProjectPlace.IsAtInvoice(Book, facts) ? Purpose.ProjectCost : Purpose.ProjectWip;
        Entry.PostCompany(purpose, row, cost);
        if (ProjectPlace.Movement(Book, purpose, facts, CompanyAmount(cost)) is { } movement)
            Entry.Move(movement);
        if ((item?.Kind ?? line.ItemKind) != ItemKind.Stock || !Posting.Options.PerpetualStock)
        {
            Entry.PostCompany(Purpose.ProjectAbsorbed, row, -cost);
            return;
        }
        Entry.PostCompany(Purpose.Inventory, row, -cost, standsOn);
        Entry.Move(new StockMovement(Subledger.Inventory, item, group?.Code, row.Location, -line.Quantity, CompanyAmount(-cost)));
    }

    void SetGroup(Facts facts, Group group, ItemKind kind) => (facts[Fact.ItemGroup], facts[Fact.ItemTaxGroup], facts[Fact.ItemKind]) =
        (Book.ItemGroups.IdOf(group.Code), Book.ItemTaxGroups.IdOf(group.TaxGroup), (int)kind + 1);

    decimal? CostOf(UsageLine line, Item? item, Group? group)
    {
        if ((line.UnitCost ?? item?.Cost) is { } cost)
            return Posting.Worth(line.Quantity, cost);
        Refuse(new HeldReason(HeldCause.NoCost, item is not null
            ? $"Item {item.Code} {item.Name} is used and has no cost. Give unitCost on the line, or a cost on the item."
            : $"Goods of group {group!.Code} are used and have no cost. Give unitCost on the line.") { Item = item?.Code });
        return null;
    }
}
