using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.Mvc.Testing.Handlers;

namespace Assignum.Web.Tests;

/// <summary>A browser without scripts: follows no redirect by itself, keeps cookies, and fills in forms as they stand on the page.</summary>
sealed class Visitor
{
    readonly CookieContainer jar = new();
    readonly HttpClient client;

    internal Visitor(WebApplicationFactory<Program> app) => client = app.CreateDefaultClient(new CookieContainerHandler(jar));

    /// <summary>The cookies it has; somebody may have kept them.</summary>
    internal string Cookies
    {
        get => jar.GetCookieHeader(client.BaseAddress!);
        set => value.Split("; ").ToList().ForEach(cookie => jar.SetCookies(client.BaseAddress!, cookie + "; path=/"));
    }

    internal HttpResponseMessage Last { get; private set; } = null!;
    internal IHtmlDocument Page { get; private set; } = null!;
    internal string Text => Page.Body!.TextContent;

    internal static async Task<Visitor> SignedIn(WebApplicationFactory<Program> app, string name)
    {
        var visitor = new Visitor(app);
        await visitor.Get("/sign-in");
        await visitor.Submit("form", ("name", name), ("password", App.Password));
        Assert.Equal(HttpStatusCode.Redirect, visitor.Last.StatusCode);
        return visitor;
    }

    internal async Task<Visitor> Get(string address)
    {
        await Take(await client.GetAsync(address));
        return this;
    }

    /// <summary>Goes where the last answer sent it, and waits there for a file that is being read.</summary>
    internal async Task<Visitor> Follow()
    {
        await Get(Last.Headers.Location!.OriginalString);
        for (var address = Last.RequestMessage!.RequestUri!.PathAndQuery; address.Contains("chart/import?handler=job", StringComparison.Ordinal)
            && Page.QuerySelector("#job[hx-get]") is not null; await Get(address))
            await Task.Delay(50);
        return Last.StatusCode == HttpStatusCode.Redirect && Last.Headers.Location!.OriginalString.Contains("chart/import?file=", StringComparison.Ordinal)
            ? await Get(Last.Headers.Location.OriginalString) : this;
    }

    /// <summary>Sends a form of the page, with some of its fields filled in.</summary>
    internal async Task<Visitor> Submit(string selector, params (string Name, string? Value)[] filled)
    {
        var form = Page.QuerySelector<IHtmlFormElement>(selector) ?? throw new InvalidOperationException($"There is no {selector} on {Last.RequestMessage!.RequestUri}.");
        var fields = form.QuerySelectorAll("input[name], select[name], textarea[name]")
            .Where(f => f is not IHtmlInputElement { Type: "checkbox" or "radio" } box || box.IsChecked)
            .Where(f => filled.All(x => x.Name != f.GetAttribute("name")))
            .Select(f => new KeyValuePair<string, string?>(f.GetAttribute("name")!, f is IHtmlSelectElement select ? select.Value : f is IHtmlTextAreaElement area ? area.Value : f.GetAttribute("value") ?? ""))
            .Concat(filled.Where(f => f.Value is not null).Select(f => new KeyValuePair<string, string?>(f.Name, f.Value)));
        using var content = new FormUrlEncodedContent(fields);
        await Take(await client.PostAsync(form.GetAttribute("action") is { Length: > 0 } action ? action : Last.RequestMessage!.RequestUri!.PathAndQuery, content));
        return this;
    }

    /// <summary>Presses a button that sends its form elsewhere than the form itself would.</summary>
    internal async Task<Visitor> Press(string selector)
    {
        var button = Page.QuerySelector<IHtmlButtonElement>(selector) ?? throw new InvalidOperationException($"There is no {selector} on {Last.RequestMessage!.RequestUri}.");
        var fields = button.Form!.QuerySelectorAll("input[name], select[name], textarea[name]").Where(f => f is not IHtmlInputElement { Type: "checkbox" or "radio" } box || box.IsChecked)
            .Select(f => new KeyValuePair<string, string?>(f.GetAttribute("name")!, f is IHtmlSelectElement select ? select.Value : f is IHtmlTextAreaElement area ? area.Value : f.GetAttribute("value") ?? ""));
        using var content = new FormUrlEncodedContent(button.GetAttribute("name") is { } own ? fields.Append(new(own, button.GetAttribute("value"))) : fields);
        await Take(await client.PostAsync(button.GetAttribute("formaction") ?? button.Form.GetAttribute("action"), content));
        return this;
    }

    internal async Task<Visitor> Upload(string selector, string name, byte[] bytes)
    {
        var form = Page.QuerySelector<IHtmlFormElement>(selector)!;
        using var content = new MultipartFormDataContent { { new StringContent(form.QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!), "__RequestVerificationToken" }, { new ByteArrayContent(bytes), "file", name } };
        await Take(await client.PostAsync(Last.RequestMessage!.RequestUri!.PathAndQuery, content));
        return this;
    }

    internal async Task<byte[]> Download(string address) => await client.GetByteArrayAsync(address);

    /// <summary>Sends fields by hand, with the page's token.</summary>
    internal async Task<HttpResponseMessage> Post(string address, params (string Name, string Value)[] fields) =>
        await client.PostAsync(address, new FormUrlEncodedContent(fields.Append(("__RequestVerificationToken", Token)).Select(f => new KeyValuePair<string, string>(f.Item1, f.Item2))));

    /// <summary>Sends JSON as the grid does, and reads what comes back.</summary>
    internal async Task<JsonElement> Send(string address, object body)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, address) { Content = JsonContent.Create(body) };
        request.Headers.Add("RequestVerificationToken", Token);
        using var answer = await client.SendAsync(request);
        answer.EnsureSuccessStatusCode();
        return (await answer.Content.ReadFromJsonAsync<JsonElement>()).Clone();
    }

    /// <summary>Sends a body of JSON as it stands.</summary>
    internal async Task<HttpStatusCode> SendBare(string address, string body)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post,
            address) { Content = new StringContent(body, System.Text.Encoding.UTF8, "application/json") };
        request.Headers.Add("RequestVerificationToken", Token);
        return (await client.SendAsync(request)).StatusCode;
    }

    /// <summary>Sends fields with headers of one's own.</summary>
    internal async Task<HttpStatusCode> SendBare(HttpRequestMessage request, params (string Name, string Value)[] fields)
    {
        request.Content = new FormUrlEncodedContent(fields.Append(("__RequestVerificationToken", Token)).Select(f => new KeyValuePair<string,
            string>(f.Item1, f.Item2)));
        return (await client.SendAsync(request)).StatusCode;
    }

    internal async Task<JsonElement> Read(string address) => (await client.GetFromJsonAsync<JsonElement>(address)).Clone();

    internal Task<HttpResponseMessage> Send(HttpRequestMessage request) => client.SendAsync(request);

    internal async Task<HttpResponseMessage> GetBare(string address) => await client.GetAsync(address);

    string Token => Page.Body!.GetAttribute("hx-headers") is { } headers
        ? JsonDocument.Parse(headers).RootElement.GetProperty("RequestVerificationToken").GetString()!
        : Page.QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!;

    internal async Task<HttpResponseMessage> PostBare(string address) => await client.PostAsync(address, new FormUrlEncodedContent([]));

    internal string[] Rows(string selector = "main tbody tr") => [.. Page.QuerySelectorAll(selector).Select(r => string.Join(' ', string.Join(' ', r.Children.Select(c => c.TextContent)).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)))];

    async Task Take(HttpResponseMessage answer)
    {
        Last = answer;
        Page = new HtmlParser().ParseDocument(await answer.Content.ReadAsStringAsync());
    }
}
