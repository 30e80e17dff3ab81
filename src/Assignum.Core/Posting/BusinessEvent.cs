namespace Assignum.Core.Posting;

/// <summary>One business act, as received, with what every event has. Codes are as written; nothing is looked up yet.</summary>
public abstract record BusinessEvent
{
    /// <summary>Its id within its connection.</summary>
    public required string Id { get; init; }
    /// <summary>Revision, from 1; read by the application.</summary>
    public int Revision { get; init; } = 1;
    /// <summary>Taken back by its source; read by the application.</summary>
    public bool Withdrawn { get; init; }
    /// <summary>Posting date; account rules go by it.</summary>
    public required DateOnly Date { get; init; }
    /// <summary>Date of the document; null: the posting date.</summary>
    public DateOnly? DocumentDate { get; init; }
    /// <summary>Date by which tax rules and rates go; null: the posting date.</summary>
    public DateOnly? TaxDate { get; init; }
    /// <summary>Date it is due; null: the posting date.</summary>
    public DateOnly? DueDate { get; init; }
    /// <summary>What the document shows.</summary>
    public string? Number { get; init; }
    /// <summary>Id of an event it refers to.</summary>
    public string? RefersTo { get; init; }
    /// <summary>Code of the party.</summary>
    public string? Party { get; init; }
    /// <summary>ISO 4217 code; null: the company's.</summary>
    public string? Currency { get; init; }
    /// <summary>Company currency for one unit of the document's, above 0, at most 12 decimals.</summary>
    public decimal? Rate { get; init; }
    /// <summary>Code of the location.</summary>
    public string? Location { get; init; }
    /// <summary>Code of the project.</summary>
    public string? Project { get; init; }
    /// <summary>Code of the task within the project.</summary>
    public string? Task { get; init; }
    /// <summary>The place that decides tax.</summary>
    public string? TaxArea { get; init; }
    /// <summary>Code of the connection it came through.</summary>
    public string? Connection { get; init; }
    /// <summary>Payment method.</summary>
    public string? Method { get; init; }
    /// <summary>Text of the document.</summary>
    public string? Text { get; init; }
    /// <summary>Number of the control account the document chooses.</summary>
    public string? Control { get; init; }
    /// <summary>Dimensions of the document.</summary>
    public Dimensions Dimensions { get; init; } = Dimensions.None;

    /// <summary>It belongs into the adjustment period of its date; read by the application.</summary>
    public bool Adjustment { get; init; }

    /// <summary>Its type, as the formats spell it.</summary>
    public abstract string TypeName { get; }
    /// <summary>The dimensions of its lines, in their order.</summary>
    public virtual IEnumerable<Dimensions> LineDimensions => [];
    /// <summary>Items and places whose stock it may move; the books are asked for them.</summary>
    public virtual IEnumerable<StockPlace> StockMoved => [];
    /// <summary>The same anew on a day: what belongs to one document alone is left off.</summary>
    public BusinessEvent On(DateOnly day) =>
        this with { Date = day, DocumentDate = null, TaxDate = null, DueDate = null, Number = null, Adjustment = false, Revision = 1 };
    /// <summary>The date by which tax goes.</summary>
    public DateOnly EffectiveTaxDate => TaxDate ?? Date;
}

/// <summary>What every event has, read before what only its type has; an event is made on top of it.</summary>
public sealed record EventHeader : BusinessEvent
{
    /// <summary>The type it announces.</summary>
    public required string Type { get; init; }
    /// <inheritdoc/>
    public override string TypeName => Type;
}
