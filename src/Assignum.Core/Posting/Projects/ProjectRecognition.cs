using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>What of a project's cost and revenue counts on a day; the application works the amounts out.</summary>
public sealed record ProjectRecognition : BusinessEvent
{
    /// <summary>A recognition with no header yet.</summary>
    public ProjectRecognition() { }

    /// <summary>A recognition under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal ProjectRecognition(EventHeader header) : base(header) { }

    /// <summary>Cost that leaves work in progress, company currency, signed.</summary>
    public decimal Cost { get; init; }
    /// <summary>Revenue that counts, company currency, signed.</summary>
    public decimal Revenue { get; init; }
    /// <summary>How much of the revenue had been billed, company currency, signed; the rest is accrued.</summary>
    public decimal FromBilled { get; init; }

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "project-recognition";
}

/// <summary>Work in progress becomes cost; what was billed, and what is accrued beyond it, becomes revenue.</summary>
sealed class ProjectRecognitionRecipe(CompiledRulebook book, ProjectRecognition recognition) : Recipe<ProjectRecognition>(book, recognition)
{
    internal static EventType Type { get; } = new(ProjectRecognition.Name, EventFamily.Projects,
        [new("cost", FieldKind.Amount), new("revenue", FieldKind.Amount), new("fromBilled", FieldKind.Amount)],
        static (book, happened) => new ProjectRecognitionRecipe(book, (ProjectRecognition)happened).Land());

    protected override HeldReason? ShapeFault(Shape shape)
    {
        if (Happened.Project is null)
            return HeldReason.Invalid("project", "Which project is recognised is missing. Name the project.");
        return shape.OfCompanyMoney(null, "cost", Happened.Cost) ?? shape.OfCompanyMoney(null, "revenue", Happened.Revenue)
            ?? shape.OfCompanyMoney(null, "fromBilled", Happened.FromBilled);
    }

    protected override HeldReason? Open() => !ProjectPlace.IsAtInvoice(Book, Row.Facts) ? null
        : HeldReason.Invalid("project", $"Project {Happened.Project} is recognised when it is invoiced and keeps no work in progress. " +
            "Leave it out, or give the project another method.");

    protected override void Write()
    {
        Entry.PostCompany(Purpose.ProjectCost, Row, Happened.Cost);
        Write(Purpose.ProjectWip, -Happened.Cost);
        Write(Purpose.ProjectBilled, Happened.FromBilled);
        Write(Purpose.ProjectAccruedRevenue, Happened.Revenue - Happened.FromBilled);
        Entry.PostCompany(Purpose.ProjectRevenue, Row, -Happened.Revenue);
    }

    void Write(Purpose purpose, decimal amount)
    {
        Entry.PostCompany(purpose, Row, amount);
        Entry.Move(ProjectPlace.Movement(Book, purpose, Row.Facts, CompanyAmount(amount))!);
    }
}
