using System.Diagnostics;
using System.Net;
using System.Net.Http.Headers;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Assignum.Storage.Companies;
using Assignum.Storage.Connections;
using Assignum.Storage.People;
using Assignum.Web.Connections;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;
using NJsonSchema;

namespace Assignum.Web.Tests;

/// <summary>The API over real HTTP: as its document says, and as the walk-through for adapters goes.</summary>
public sealed class ApiTests : IClassFixture<ListeningApp>
{
    readonly App app;
    readonly Uri address;

    static readonly JsonNode Document = JsonNode.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "api.openapi.json")))!;

    public ApiTests(ListeningApp listening) => (app, address) = (listening.App, listening.Address);

    T Of<T>() where T : notnull => app.Services.GetRequiredService<T>();

    async Task<(HttpClient Client, string Token, Func<Task<ConnectionRow>> Row, int Company)> Signed(string code, bool running = true)
    {
        var (company, adam) = ((await Of<CompanyStore>().Find("QN", default))!.Id, (await Of<PersonStore>().Find("adam", default))!.Id);
        async Task<ConnectionRow> Row() => (await Of<ConnectionStore>().Find(company, code, default))!;
        Assert.Null(await Of<ConnectionStore>().Add(company, adam, code, code, Of<Secrets>().Close("signing"), default));
        if (running)
            Assert.Null(await Of<ConnectionStore>().SetRunning(company, adam, await Row(), true, default));
        var token = await Of<TokenStore>().Make(company, adam, await Row(), "tests", default);
        var client = new HttpClient { BaseAddress = address };
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        return (client, token, Row, company);
    }

    static StringContent Body(string text, string kind = "application/json") => new(text, Encoding.UTF8, new MediaTypeHeaderValue(kind));

    static string Order(string id, int quantity = 1, string more = "") =>
        $$"""{"id":"{{id}}","type":"sales-invoice","date":"2026-10-05","party":"C-10","lines":[{"item":"SEED-01","quantity":{{quantity}},"price":2.50}]{{more}}}""";

    [Fact]
    public void Every_operation_is_in_the_document_and_every_one_of_the_document_is_there()
    {
        var there = Of<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>().Where(e => e.RoutePattern.RawText!.StartsWith("/api/v1/", StringComparison.Ordinal)
            && !e.RoutePattern.RawText.EndsWith("openapi.json", StringComparison.Ordinal))
            .SelectMany(e => e.Metadata.GetMetadata<HttpMethodMetadata>()!.HttpMethods.Select(m => $"{m} {e.RoutePattern.RawText!["/api/v1".Length..].Replace(":int", "", StringComparison.Ordinal)}"));

        Assert.Equal(Document["paths"]!.AsObject().SelectMany(p => p.Value!.AsObject().Select(o => $"{o.Key.ToUpperInvariant()} {p.Key}")).Order(StringComparer.Ordinal),
            there.Order(StringComparer.Ordinal));
    }

    // What a schema of the document allows, with its parts beside it.
    static async Task<JsonSchema> SchemaOf(JsonNode schema)
    {
        var whole = JsonNode.Parse(schema.ToJsonString())!.AsObject();
        whole["definitions"] = JsonNode.Parse(Document["components"]!["schemas"]!.ToJsonString());
        return await JsonSchema.FromJsonAsync(whole.ToJsonString().Replace("#/components/schemas/", "#/definitions/", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Each_operation_takes_its_example_and_answers_as_the_document_says()
    {
        var (client, _, row, company) = await Signed("as-documented");
        await Of<OutgoingStore>().Make(company, (await Of<PersonStore>().Find("ines", default))!.Id, await row(), BatchForm.Summed, default);
        foreach (var (path, operations) in Document["paths"]!.AsObject())
            foreach (var (method, operation) in operations!.AsObject())
            {
                var at = path.Replace("{list}", "tax-codes", StringComparison.Ordinal).Replace("{number}", "1", StringComparison.Ordinal).Replace("{id}", "O-20417", StringComparison.Ordinal);
                using var request = new HttpRequestMessage(new HttpMethod(method), "/api/v1" + at);
                if (operation!["requestBody"]?["content"]?["application/json"]?["example"] is { } example)
                    request.Content = Body(example.ToJsonString());
                using var answer = await client.SendAsync(request);

                var said = operation["responses"]![((int)answer.StatusCode).ToString(System.Globalization.CultureInfo.InvariantCulture)];
                Assert.True(said is not null, $"{method} {path} answered {answer.StatusCode}, which the document does not have: {await answer.Content.ReadAsStringAsync()}");
                var content = said["content"]![answer.Content.Headers.ContentType!.MediaType!] ?? throw new Xunit.Sdk.XunitException($"{method} {path} answered {answer.Content.Headers.ContentType}.");
                var faults = (await SchemaOf(content["schema"]!)).Validate(await answer.Content.ReadAsStringAsync());
                Assert.True(faults.Count == 0, $"{method} {path}: {string.Join("; ", faults)}");
            }
    }

    [Theory]
    [InlineData(null)]
    [InlineData("asn_0000000000000000000000000000000000000000000000000000000000000000")]
    [InlineData("nonsense")]
    public async Task Without_a_token_that_holds_nothing_is_answered_but_why(string? token)
    {
        using var client = new HttpClient { BaseAddress = address };
        if (token is not null)
            client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);

        using var answer = await client.GetAsync("/api/v1/entries");

        Assert.Equal(HttpStatusCode.Unauthorized, answer.StatusCode);
        Assert.Equal("application/problem+json", answer.Content.Headers.ContentType!.MediaType);
    }

    [Fact]
    public async Task A_revoked_token_ends_at_once_and_its_use_is_noted()
    {
        var (client, _, row, company) = await Signed("revoked");
        (await client.GetAsync("/api/v1/batches")).EnsureSuccessStatusCode();
        var token = Assert.Single(await Of<TokenStore>().Of(company, (await row()).Id, default));
        Assert.NotNull(token.LastUsed);

        Assert.True(await Of<TokenStore>().Revoke(company, (await Of<PersonStore>().Find("adam", default))!.Id, await row(), token.Id, default));

        Assert.Equal(HttpStatusCode.Unauthorized, (await client.GetAsync("/api/v1/batches")).StatusCode);
    }

    [Fact]
    public async Task A_token_sees_the_events_of_its_own_connection_only()
    {
        var (one, other) = (await Signed("one-of-two"), await Signed("other-of-two"));
        (await one.Client.PostAsync("/api/v1/events", Body(Order("MINE-1")))).EnsureSuccessStatusCode();

        Assert.Equal(HttpStatusCode.OK, (await one.Client.GetAsync("/api/v1/events/MINE-1")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await other.Client.GetAsync("/api/v1/events/MINE-1")).StatusCode);
        // The same id through another connection is another event.
        Assert.Equal(HttpStatusCode.Created, (await other.Client.PostAsync("/api/v1/events", Body(Order("MINE-1")))).StatusCode);
    }

    [Fact]
    public async Task A_dry_run_keeps_and_posts_nothing()
    {
        var (client, _, row, company) = await Signed("dry");

        var answer = JsonNode.Parse(await (await client.PostAsync("/api/v1/events?dryRun=true", Body(Order("DRY-1")))).Content.ReadAsStringAsync())!;

        Assert.Equal("would-post", answer["outcome"]!.GetValue<string>());
        Assert.Equal(0m, answer["landings"]!.AsArray().Sum(l => l!["amount"]!.GetValue<decimal>()));
        Assert.Empty(await Of<InboxStore>().List(company, (await row()).Id, null, null, null, 10, default));
        Assert.Equal(HttpStatusCode.Created, (await client.PostAsync("/api/v1/events", Body(Order("DRY-1")))).StatusCode);
    }

    [Fact]
    public async Task A_stream_is_answered_line_by_line_in_its_order_whatever_stands_in_it()
    {
        var (client, _, _, _) = await Signed("stream");
        var lines = Enumerable.Range(0, 1200).Select(i => i % 100 == 7 ? "{broken" : Order($"N-{i}")).ToList();

        var answers = (await (await client.PostAsync("/api/v1/events", Body(string.Join('\n', lines), "application/x-ndjson"))).Content.ReadAsStringAsync())
            .Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(l => JsonNode.Parse(l)!).ToList();

        Assert.Equal(lines.Count, answers.Count);
        for (var i = 0; i < lines.Count; i++)
            Assert.Equal(i % 100 == 7 ? ("unreadable", null) : ("posted", $"N-{i}"), (answers[i]["outcome"]!.GetValue<string>(), answers[i]["id"]?.GetValue<string>()));
    }

    [Fact]
    public async Task An_event_that_is_too_long_is_refused_before_it_is_read()
    {
        var (client, _, _, _) = await Signed("long");

        using var answer = await client.PostAsync("/api/v1/events", Body(Order("LONG-1", more: $",\"text\":\"{new string('x', 2 << 20)}\"")));

        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, answer.StatusCode);
        Assert.Equal("application/problem+json", answer.Content.Headers.ContentType!.MediaType);
    }

    [Fact]
    public async Task A_batch_is_acknowledged_once_and_a_refused_one_comes_back_with_its_reasons()
    {
        var (client, _, row, company) = await Signed("ledger");
        var ines = (await Of<PersonStore>().Find("ines", default))!.Id;
        Assert.Equal(1, await Of<OutgoingStore>().Make(company, ines, await row(), BatchForm.Whole, default));
        (await client.PostAsync("/api/v1/events", Body(Order("FOR-2")))).EnsureSuccessStatusCode();
        Assert.Equal(2, await Of<OutgoingStore>().Make(company, ines, await row(), BatchForm.Summed, default));
        Assert.Null(await Of<OutgoingStore>().Make(company, ines, await row(), BatchForm.Summed, default));

        async Task<HttpStatusCode> Put(string path, string body) => (await client.PutAsync("/api/v1/batches/" + path, Body(body))).StatusCode;
        var summed = JsonNode.Parse(await client.GetStringAsync("/api/v1/batches/2"))!;
        Assert.Equal(0m, summed["lines"]!.AsArray().Sum(l => l!["amount"]!.GetValue<decimal>()));
        Assert.Equal(HttpStatusCode.OK, await Put("1/acknowledgement", """{"outsideNumber":"L-1"}"""));
        Assert.Equal(HttpStatusCode.OK, await Put("1/acknowledgement", """{"outsideNumber":"L-1"}"""));
        Assert.Equal(HttpStatusCode.Conflict, await Put("1/acknowledgement", """{"outsideNumber":"L-2"}"""));
        Assert.Equal(HttpStatusCode.Conflict, await Put("2/acknowledgement", """{"outsideNumber":"L-1"}"""));
        Assert.Equal(HttpStatusCode.Conflict, await Put("1/refusal", """{"lines":[{"line":1,"reason":"no"}]}"""));
        Assert.Equal(HttpStatusCode.OK, await Put("2/refusal", """{"lines":[{"line":2,"reason":"Account 4015 is closed."}]}"""));
        Assert.Contains("4015 is closed", (await Of<OutgoingStore>().Find(company, (await row()).Id, 2, default))!.Reasons, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK, await Put("2/acknowledgement", """{"outsideNumber":"L-2"}"""));
    }

    static HttpRequestMessage Call(string path, string body, string secret, long time) => new(HttpMethod.Post, path)
    {
        Content = Body(body),
        Headers =
        {
            { "Signature-Timestamp", time.ToString(System.Globalization.CultureInfo.InvariantCulture) },
            { "Signature", Convert.ToHexString(HMACSHA256.HashData(Encoding.UTF8.GetBytes(secret), Encoding.UTF8.GetBytes($"{time}.{body}"))).ToLowerInvariant() },
        },
    };

    [Fact]
    public async Task A_signed_call_is_kept_at_once_and_posted_by_the_worker_and_any_other_is_turned_away()
    {
        var (_, _, row, company) = await Signed("caller");
        using var client = new HttpClient { BaseAddress = address };
        var now = DateTimeOffset.UtcNow.ToUnixTimeSeconds();
        async Task<HttpStatusCode> Send(HttpRequestMessage call) => (await client.SendAsync(call)).StatusCode;

        Assert.Equal(HttpStatusCode.Accepted, await Send(Call("/hooks/qn/caller", Order("CALL-1"), "signing", now)));
        Assert.Equal(HttpStatusCode.Accepted, await Send(Call("/hooks/qn/caller", Order("CALL-1"), "signing", now)));
        Assert.Equal(HttpStatusCode.Unauthorized, await Send(Call("/hooks/qn/caller", Order("CALL-2"), "another", now)));
        Assert.Equal(HttpStatusCode.Unauthorized, await Send(Call("/hooks/qn/caller", Order("CALL-2"), "signing", now - 900)));
        Assert.Equal(HttpStatusCode.Unauthorized, await Send(Call("/hooks/qn/nobody", Order("CALL-2"), "signing", now)));

        await Of<Feeding>().SettleAll(default);
        var kept = Assert.Single(await Of<InboxStore>().List(company, (await row()).Id, null, null, null, 10, default));
        Assert.Equal(("CALL-1", InboxState.Posted, 2), (kept.SourceId, kept.State, kept.Times));
    }

    [Fact]
    public async Task The_walk_through_for_adapters_goes_as_it_is_written()
    {
        var (_, token, _, _) = await Signed("market-stall");
        var text = await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "adapter.md"));
        var parts = text.Split("```sh\n")[1..];
        Assert.Equal(9, parts.Length);
        foreach (var part in parts)
        {
            var command = part[..part.IndexOf("```", StringComparison.Ordinal)];
            var after = part[(command.Length + 4)..];
            var expected = after.StartsWith("```json\n", StringComparison.Ordinal) ? after["```json\n".Length..after.IndexOf("\n```", StringComparison.Ordinal)] : throw new Xunit.Sdk.XunitException(command);

            var lines = (await Shell(command, token)).Split('\n', StringSplitOptions.RemoveEmptyEntries);

            var wanted = expected.Split('\n');
            Assert.True(wanted.Length == lines.Length, $"{command}{string.Join('\n', lines)}");
            for (var i = 0; i < wanted.Length; i++)
                Assert.True(Has(JsonNode.Parse(lines[i]), JsonNode.Parse(wanted[i])), $"{command}answered {lines[i]}");
        }
    }

    // Everything that is written is there; "…" is whatever it is.
    static bool Has(JsonNode? answered, JsonNode? written) => (answered, written) switch
    {
        (not null, JsonValue text) when text.TryGetValue(out string? dots) && dots == "…" => true,
        (JsonObject a, JsonObject w) => w.All(p => Has(a[p.Key], p.Value)),
        (JsonArray a, JsonArray w) => a.Count >= w.Count && w.Select((x, i) => Has(a[i], x)).All(h => h),
        (JsonValue a, JsonValue w) when w.GetValueKind() == JsonValueKind.Number => a.GetValue<decimal>() == w.GetValue<decimal>(),
        _ => JsonNode.DeepEquals(answered, written),
    };

    async Task<string> Shell(string command, string token)
    {
        using var shell = Process.Start(new ProcessStartInfo("bash", ["-c", command])
        {
            RedirectStandardOutput = true, Environment = { ["ADDRESS"] = address.ToString().TrimEnd('/'), ["TOKEN"] = token },
        })!;
        var said = await shell.StandardOutput.ReadToEndAsync();
        await shell.WaitForExitAsync();
        return said;
    }
}
