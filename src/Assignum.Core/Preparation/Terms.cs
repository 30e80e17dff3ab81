using Assignum.Core.Posting;

namespace Assignum.Core.Preparation;

/// <summary>When a party pays, and what may be kept of an item.</summary>
/// <param name="Days">Days after the document on which it is due, 0 to 3650.</param>
/// <param name="DiscountPercent">Discount for early payment, 0 to 100.</param>
/// <param name="DiscountDays">Days after the document up to which it is given.</param>
/// <param name="Tolerance">A difference that is let go, in the currency of the item, 0 or more.</param>
public sealed record Terms(int Days, decimal DiscountPercent, int DiscountDays, decimal Tolerance)
{
    /// <summary>Interest for what is paid late, per cent a year, 0 to 100.</summary>
    public decimal LatePercent { get; init; }
    /// <summary>Fee for a reminder, in the currency of the item, 0 or more.</summary>
    public decimal ReminderFee { get; init; }
    /// <summary>Days after it is due in which nothing is charged, 0 to 3650.</summary>
    public int GraceDays { get; init; }
    /// <summary>Code of the group whose terms they are; null: the party's own.</summary>
    public string? OfGroup { get; init; }

    /// <summary>"within 30 days; 2 % off within 10 days; up to 0.50 is let go".</summary>
    public string InWords => (Days == 0 ? "at once" : $"within {Days} days")
        + (DiscountPercent > 0 ? $"; {Written.NumberNow(DiscountPercent)} % off within {DiscountDays} days" : "")
        + (Tolerance > 0 ? $"; up to {Tolerance.ToString("0.00##", Written.Now)} is let go" : "")
        + (LatePercent > 0 ? $"; {Written.NumberNow(LatePercent)} % a year when late" : "")
        + (ReminderFee > 0 ? $"; {ReminderFee.ToString("0.00##", Written.Now)} for a reminder" : "")
        + (GraceDays > 0 && (LatePercent > 0 || ReminderFee > 0) ? $", {GraceDays} days after it is due" : "");

    /// <summary>The day up to which the discount of a document is given; null: none is.</summary>
    public DateOnly? DiscountUntil(DateOnly document) => DiscountPercent > 0 ? document.AddDays(DiscountDays) : null;
}

/// <content>When invoices are due.</content>
public sealed partial class Preparing
{
    BusinessEvent WithDue()
    {
        if (happened is not Document { Type: DocumentType.SalesInvoice or DocumentType.PurchaseInvoice or DocumentType.ProjectInvoice,
            DueDate: null } invoice || KnownParty is not { } party
            || books.TermsOf(party) is not { Days: > 0 } terms)
            return happened;
        var due = (invoice.DocumentDate ?? invoice.Date).AddDays(terms.Days);
        Note("The document", "due", Written.DayNow(due), $"terms of {terms.OfGroup ?? party}: {terms.InWords}");
        return invoice with { DueDate = due };
    }
}
