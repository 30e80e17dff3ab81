using Assignum.Core.Posting;

namespace Assignum.Core.Preparation;

/// <summary>Invoices that credit notes refer to, and the credit notes, in posting order.</summary>
public sealed class Invoices
{
    readonly Dictionary<string, Document> known = new(StringComparer.Ordinal);

    /// <summary>Ids of events that were asked for.</summary>
    public HashSet<string> Asked { get; } = new(StringComparer.Ordinal);

    /// <summary>Lays down a document that the books have, as it was prepared. Of several revisions the last holds.</summary>
    public void Set(Document document) => known[document.Id] = document;

    /// <summary>What has landed stands there from now on; what was withdrawn, no more.</summary>
    internal void Apply(BusinessEvent happened)
    {
        if (happened.Withdrawn)
            known.Remove(happened.Id);
        else if (happened is Document document)
            Set(document);
    }

    /// <summary>The document of an id; null where it is not known.</summary>
    internal Document? Find(string id)
    {
        Asked.Add(id);
        return known.GetValueOrDefault(id);
    }

    /// <summary>The credit notes that refer to a document, but for one.</summary>
    internal IEnumerable<Document> CreditsOf(string id, string but) =>
        known.Values.Where(document => document.RefersTo == id && document.Id != but && DocumentTraits.Of(document.Type).IsReturn);
}
