using System.Globalization;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using Assignum.Formats.Events;

namespace Assignum.Formats.Connections;

/// <summary>A code of another system that has no match here.</summary>
/// <param name="List">The list it stands in: "items".</param>
/// <param name="Code">The code there.</param>
public readonly record struct Unmatched(string List, string Code);

/// <summary>How codes and moments of a connection become ours.</summary>
/// <param name="Connection">Code of the connection; every event names it.</param>
/// <param name="Ours">Our code for one of theirs, by list and code; null: it is not matched.</param>
/// <param name="Keeps">Whether a list of theirs is kept here. Codes of a list that is not kept are ours already.</param>
/// <param name="Zone">The time zone in which the other system's days are counted.</param>
/// <param name="DayEnd">When a day ends there: what happens before this time of night belongs to the day before.</param>
/// <param name="LandByCategory">An item without a match lands by the item group of its category, where that is matched.</param>
/// <param name="Collective">Party for what names one without a match; null: it is held.</param>
public sealed record SentReading(string Connection, Func<string, string, string?> Ours, Func<string, bool> Keeps, TimeZoneInfo Zone, TimeOnly DayEnd,
    bool LandByCategory, string? Collective);

/// <summary>
/// An event as another system sends it, with its own codes. It is an event of docs/formats.md that may give a moment, <c>at</c>, in place of its date, and a
/// <c>category</c> and <c>name</c> beside an item.
/// </summary>
public sealed class SentEvent
{
    static readonly JsonSerializerOptions Plain = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };
    static readonly JsonDocumentOptions Once = new() { AllowDuplicateProperties = false };

    // Which list a property's codes stand in. Lists later in the row are asked where those before do not know the code.
    static readonly Dictionary<string, string[]> Lists = new(StringComparer.Ordinal)
    {
        ["party"] = ["customers", "suppliers"], ["item"] = ["items"], ["account"] = ["accounts"], ["taxCode"] = ["tax-codes"],
        ["itemGroup"] = ["categories"], ["standsOn"] = ["accounts"],
    };

    readonly List<Unmatched> unmatched = [];

    /// <summary>The event with our codes, JSON; null where it can't be read.</summary>
    public string? Translated { get; private set; }
    /// <summary>Why it can't be read; null where it can.</summary>
    public string? Fault { get; private init; }
    /// <summary>Its id there, or null.</summary>
    public string? Id { get; private init; }
    /// <summary>Its type, or null.</summary>
    public string? Type { get; private init; }
    /// <summary>Its revision, from 1.</summary>
    public int Revision { get; private init; } = 1;
    /// <summary>It takes an earlier revision back.</summary>
    public bool Withdrawn { get; private init; }
    /// <summary>Its day here, or null.</summary>
    public DateOnly? Date { get; private init; }
    /// <summary>Codes that have no match; they stand in the event as "code@connection", so that it is held.</summary>
    public IReadOnlyList<Unmatched> Unmatched => unmatched;
    /// <summary>How many lines land by their category.</summary>
    public int ByCategory { get; private set; }

    /// <summary>Digest by which two deliveries are known to say the same; of what is no JSON, of its text.</summary>
    public static byte[] DigestOf(string raw)
    {
        try
        {
            return CanonicalJson.Digest(raw);
        }
        catch (Exception fault) when (fault is JsonException or InvalidOperationException)
        {
            return System.Security.Cryptography.SHA256.HashData(Encoding.UTF8.GetBytes(raw));
        }
    }

    /// <summary>Reads an event as it was sent.</summary>
    /// <param name="raw">A JSON object; anything else is kept and said to be unreadable.</param>
    /// <param name="reading">How its codes and moments become ours.</param>
    public static SentEvent Read(string raw, SentReading reading)
    {
        try
        {
            return JsonNode.Parse(raw, documentOptions: Once) is JsonObject sent ? Of(sent, reading)
                : new() { Fault = "It is no event: an event is one JSON object. Send it again as docs/adapter.md shows." };
        }
        catch (Exception fault) when (fault is JsonException or ArgumentException or InvalidOperationException or FormatException)
        {
            return new() { Fault = $"It can't be read as JSON: {fault.Message.Split(". ")[0].TrimEnd('.')}. Send it again, whole." };
        }
    }

    static SentEvent Of(JsonObject sent, SentReading reading)
    {
        var day = Text(sent, "date");
        if (Text(sent, "at") is { } at)
        {
            if (!DateTimeOffset.TryParse(at, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var moment))
                return new() { Id = Text(sent, "id"), Fault = $"Its moment, at, is “{at}”. Write it as 2026-11-27T18:05:00Z, with its offset." };
            day ??= DayOf(moment, reading).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
            sent.Remove("at");
            sent["date"] = day;
        }
        sent["connection"] = reading.Connection;
        var read = new SentEvent
        {
            Id = Text(sent, "id"), Type = Text(sent, "type"), Withdrawn = sent["withdrawn"]?.GetValueKind() == JsonValueKind.True,
            Revision = sent["revision"] is JsonValue value && value.TryGetValue(out int revision) ? revision : 1,
            Date = DateOnly.TryParseExact(day, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date) ? date : null,
        };
        if (read.Id is null)
            return new() { Fault = "It has no id, so that it could not be told from another. Send it again with its id." };
        read.Translate(sent, reading, read.Type is "sales-invoice" or "sales-credit-note" or "takings" or "purchase-invoice" or "purchase-credit-note"
            or "project-invoice" or "project-credit-note");
        read.Translated = sent.ToJsonString(Plain);
        return read;
    }

    /// <summary>The day a moment belongs to at the other system.</summary>
    public static DateOnly DayOf(DateTimeOffset moment, SentReading reading)
    {
        var local = TimeZoneInfo.ConvertTime(moment, reading.Zone);
        var day = DateOnly.FromDateTime(local.DateTime);
        return TimeOnly.FromDateTime(local.DateTime) < reading.DayEnd ? day.AddDays(-1) : day;
    }

    void Translate(JsonObject of, SentReading reading, bool document)
    {
        if (document && reading.LandByCategory && of["item"] is not null)
            ByItsCategory(of, reading);
        foreach (var name in new[] { "category", "name", "partyName" })
            of.Remove(name);
        foreach (var (name, lists) in Lists)
            if (Text(of, name) is { } code && Array.Exists(lists, l => reading.Keeps(l)))
                of[name] = Code(lists, code, reading, name == "party" ? reading.Collective : null);
        if (Text(of, "project") is { } project && reading.Keeps("projects"))
            ItsProject(of, project, reading);
        if (Text(of, "person") is { } person)
        {
            of["item"] = reading.Keeps("people") ? Code(["people"], person, reading, null) : person;
            of.Remove("person");
        }
        foreach (var inner in of.Where(p => p.Value is JsonArray).Select(p => (JsonArray)p.Value!).ToList())
            foreach (var one in inner.OfType<JsonObject>())
                Translate(one, reading, document);
    }

    // A project with its task is one code of their list, and may be a task of one of ours.
    void ItsProject(JsonObject of, string project, SentReading reading)
    {
        var whole = Text(of, "task") is { } task ? $"{project}/{task}" : project;
        var ours = reading.Ours("projects", whole);
        // Where only the project is matched, its tasks are called as ours.
        if (ours is null && whole != project && reading.Ours("projects", project) is { } known && !known.Contains('/'))
        {
            of["project"] = known;
            return;
        }
        of.Remove("task");
        string[] parts = ours is null ? [Code(["projects"], whole, reading, null)] : ours.Split('/', 2);
        of["project"] = parts[0];
        if (parts.Length > 1)
            of["task"] = parts[1];
    }

    void ByItsCategory(JsonObject line, SentReading reading)
    {
        if (Text(line, "item") is not { } item || !reading.Keeps("items") || reading.Ours("items", item) is not null
            || Text(line, "category") is not { } category || reading.Ours("categories", category) is null)
            return;
        line.Remove("item");
        line["itemGroup"] = category;
        ByCategory++;
    }

    string Code(string[] lists, string code, SentReading reading, string? otherwise)
    {
        foreach (var list in lists)
            if (reading.Ours(list, code) is { } ours)
                return ours;
        if (otherwise is not null)
            return otherwise;
        unmatched.Add(new(Array.Find(lists, l => reading.Keeps(l)) ?? lists[0], code));
        return $"{code}@{reading.Connection}";
    }

    static string? Text(JsonObject of, string name) => of[name] is JsonValue value && value.TryGetValue(out string? text) ? text : null;
}
