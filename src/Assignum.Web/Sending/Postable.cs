using Assignum.Core.Posting;
using Assignum.Formats.Events;
using Assignum.Storage.Posting;

namespace Assignum.Web.Sending;

/// <summary>Events as they are handed to posting.</summary>
static class Postable
{
    /// <summary>One that was received.</summary>
    /// <param name="happened">The event.</param>
    /// <param name="source">How it came.</param>
    /// <param name="received">As received, JSON.</param>
    internal static PostableEvent Of(BusinessEvent happened, string source, string received) =>
        new(happened, source, received, EventWriter.Write(happened), CanonicalJson.Digest(received));

    /// <summary>One that is made here.</summary>
    internal static PostableEvent Own(BusinessEvent happened)
    {
        var json = EventWriter.Write(happened);
        return new(happened, PostableEvent.Own, json, json, CanonicalJson.Digest(json));
    }
}
