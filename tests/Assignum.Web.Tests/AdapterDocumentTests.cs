extern alias outside;

using System.Net.Http.Headers;
using System.Text;
using System.Text.Json.Nodes;
using NJsonSchema;
using outside::Assignum.Simulators;

namespace Assignum.Web.Tests;

/// <summary>The stand-ins answer as the document for adapters says, so that one can be written against the document alone.</summary>
public sealed class AdapterDocumentTests
{
    static readonly JsonNode Document = JsonNode.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "adapter.openapi.json")))!;

    static async Task Holds(HttpClient client, string system, string method, string path, string at, object? body = null)
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), $"{system}{at}");
        if (body is not null)
            request.Content = new StringContent(System.Text.Json.JsonSerializer.Serialize(body), Encoding.UTF8, new MediaTypeHeaderValue("application/json"));
        using var answer = await client.SendAsync(request);
        var text = await answer.Content.ReadAsStringAsync();
        var said = Document["paths"]![path]![method.ToLowerInvariant()]!["responses"]![((int)answer.StatusCode).ToString(System.Globalization.CultureInfo.InvariantCulture)];
        Assert.True(said is not null, $"{method} {at} of {system} answered {answer.StatusCode}: {text}");
        var schema = JsonNode.Parse(said["content"]!.AsObject().First().Value!["schema"]!.ToJsonString())!.AsObject();
        schema["definitions"] = JsonNode.Parse(Document["components"]!["schemas"]!.ToJsonString());
        var faults = (await JsonSchema.FromJsonAsync(schema.ToJsonString().Replace("#/components/schemas/", "#/definitions/", StringComparison.Ordinal))).Validate(text);
        Assert.True(faults.Count == 0, $"{method} {at} of {system}: {string.Join("; ", faults)} in {text[..Math.Min(text.Length, 300)]}");
    }

    [Fact]
    public async Task Every_stand_in_answers_every_operation_as_it_is_documented_well_or_not()
    {
        await using var outside = await Outside.Start(days: 20);
        foreach (var (name, system) in outside.Systems)
        {
            using var client = new HttpClient { BaseAddress = new Uri(outside.AddressOf("")) };
            client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", system.Secret);
            var list = system.Lists.Keys.First();
            object entries = new { entries = new[] { new { code = "NEW-1", name = "A new one" } } };
            await Holds(client, name, "GET", "/health", "/health");
            await Holds(client, name, "GET", "/lists/{list}", $"/lists/{list}");
            await Holds(client, name, "GET", "/lists/{list}", $"/lists/{list}?since=1");
            await Holds(client, name, "GET", "/lists/{list}", "/lists/nothing");
            await Holds(client, name, "POST", "/lists/{list}", $"/lists/{list}", entries);
            await Holds(client, name, "POST", "/lists/{list}", $"/lists/{list}", entries);
            await Holds(client, name, "PUT", "/ours/{list}", $"/ours/{list}", entries);
            await Holds(client, name, "PUT", "/settings/{setting}", "/settings/nothing", new { code = "4050" });
            await Holds(client, name, "GET", "/events", "/events?limit=5");
            await Holds(client, name, "GET", "/events", "/events?after=3");
            await Holds(client, name, "GET", "/events", "/events?after=nowhere");
            await Holds(client, name, "POST", "/batches", "/batches", new { format = "assignum-batch/1", from = "QN", number = 1, form = "whole", lines = new[] { new { line = 1, date = "2026-10-01", account = "x", amount = 1 } } });
            system.Behave(Misbehaviour.MissingAccount);
            await Holds(client, name, "GET", "/health", "/health");
            await Holds(client, name, "GET", "/events", "/events");
            system.Behave(Misbehaviour.Down);
            await Holds(client, name, "GET", "/health", "/health");
            system.Behave(Misbehaviour.WrongSecret);
            await Holds(client, name, "GET", "/health", "/health");
        }
    }
}
