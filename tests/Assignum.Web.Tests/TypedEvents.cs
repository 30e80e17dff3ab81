using System.Text;
using Assignum.Formats.Events;
using Assignum.Storage.Companies;
using Assignum.Storage.People;
using Assignum.Storage.Posting;
using Microsoft.Extensions.DependencyInjection;

namespace Assignum.Web.Tests;

/// <summary>Events as somebody typed them, posted below the pages.</summary>
static class TypedEvents
{
    /// <summary>Posts them by ines; all of them land.</summary>
    internal static async Task Post(IServiceProvider services, string company, params string[] events)
    {
        T The<T>() where T : notnull => services.GetRequiredService<T>();
        var (id, ines) = ((await The<CompanyStore>().Find(company, default))!.Id, (await The<PersonStore>().Find("ines", default))!.Id);
        Assert.All(await The<PostingStore>().Post(id, ines, [.. events.Select(Of)], default), p => Assert.True(p.Fate == PostingFate.Landed, p.WhyNot));
    }

    static PostableEvent Of(string json)
    {
        var happened = new EventReader().Read(Encoding.UTF8.GetBytes(json), 1).Event!;
        return new PostableEvent(happened, PostableEvent.Own, json, EventWriter.Write(happened), CanonicalJson.Digest(json));
    }
}
