using System.Text.Json;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>
/// Reads one event out of JSON: the header that every event has, and what is its type's own through the type's small reader. The first thing that is
/// malformed ends it, and is named with its field.
/// </summary>
ref partial struct EventParser(ReadOnlySpan<byte> json, StringPool pool)
{
    Utf8JsonReader reader = new(json);
    Seen seenHere;

    string? id, type, number, refersTo, party, currency, location, project, task, taxArea, connection, method, text, control;
    DateOnly? date, documentDate, taxDate, dueDate;
    int? revision;
    bool? withdrawn;
    decimal? rate;
    Dimensions? dimensions;
    OwnFields? own;

    internal HeldReason? Fault { get; private set; }

    /// <summary>The event, or null with <see cref="Fault"/> set.</summary>
    internal BusinessEvent? Parse()
    {
        reader.Read();
        if (reader.TokenType != JsonTokenType.StartObject)
            throw new JsonException("it is no JSON object.");
        while (Next(ref seenHere, "", out var name))
            if (!ReadHeader(name))
                ReadOwn(name);
        if (Fault is not null)
            return null;
        // Whatever follows the object is no JSON.
        while (reader.Read()) { }
        return Make();
    }

    bool ReadHeader(string name)
    {
        switch (name)
        {
            case "id": id = Text(name); break;
            case "type": type = Text(name); break;
            case "date": date = Date(name); break;
            case "documentDate": documentDate = Date(name); break;
            case "taxDate": taxDate = Date(name); break;
            case "dueDate": dueDate = Date(name); break;
            case "number": number = Text(name); break;
            case "revision": revision = Whole(name); break;
            case "withdrawn": withdrawn = Flag(name); break;
            case "refersTo": refersTo = Code(name); break;
            case "party": party = Code(name); break;
            case "currency": currency = Code(name); break;
            case "rate": rate = Amount(name); break;
            case "location": location = Code(name); break;
            case "project": project = Code(name); break;
            case "task": task = Code(name); break;
            case "taxArea": taxArea = Code(name); break;
            case "connection": connection = Code(name); break;
            case "method": method = Code(name); break;
            case "text": text = Text(name); break;
            case "control": control = Code(name); break;
            case "dimensions": dimensions = ReadDimensions(name); break;
            default: return false;
        }
        return true;
    }

    void ReadOwn(string name)
    {
        if (own is null && Begin(type ?? TypeAhead()) is { } fault)
            Fault = fault;
        else if (!own!.Read(ref this, name) && Fault is null)
            Unknown(name, name, "an event");
    }

    HeldReason? Begin(string? named)
    {
        if (named is null)
            return HeldReason.Invalid("type", "The event has no type. Say which event it is, such as sales-invoice.");
        own = EventFormats.Find(named)?.Begin();
        return own is null ? UnknownType(named) : null;
    }

    // The type may stand after fields that only it explains.
    readonly string? TypeAhead()
    {
        for (var ahead = reader; ahead.Read();)
            if (ahead is { CurrentDepth: 1, TokenType: JsonTokenType.PropertyName } && ahead.ValueTextEquals("type"u8))
                return ahead.Read() && ahead.TokenType == JsonTokenType.String ? ahead.GetString() : null;
        return null;
    }

    BusinessEvent? Make()
    {
        if (string.IsNullOrWhiteSpace(id))
            return Missing("id", "Give every event an id of its own.");
        if (own is null && Begin(type) is { } fault)
        {
            Fault = fault;
            return null;
        }
        if (date is null)
            return Missing("date", "Give the posting date as YYYY-MM-DD.");
        if (revision < 1)
        {
            Refuse("revision", $"Revision is {revision}. Revisions count from 1.");
            return null;
        }
        return own!.Make(ref this, new EventHeader
        {
            Id = id, Type = type!, Date = date.Value, DocumentDate = documentDate, TaxDate = taxDate, DueDate = dueDate, Number = number,
            Revision = revision ?? 1, Withdrawn = withdrawn ?? false, RefersTo = refersTo, Party = party, Currency = currency, Rate = rate,
            Location = location, Project = project, Task = task, TaxArea = taxArea, Connection = connection, Method = method, Text = text, Control = control,
            Dimensions = dimensions ?? Dimensions.None,
        });
    }

    internal static HeldReason UnknownType(string type) =>
        HeldReason.Invalid("type", $"Events of type {type} can't be landed. Those that can: {string.Join(", ", EventTypes.All.Select(t => t.Name))}.");

    /// <summary>Names a field that an event must have and lacks.</summary>
    internal BusinessEvent? Missing(string field, string mend)
    {
        Refuse(field, $"The event has no {field}. {mend}");
        return null;
    }

    /// <summary>Names a field that is wrong; the first one holds.</summary>
    internal void Refuse(string field, string message) => Fault ??= HeldReason.Invalid(field, message);

    /// <summary>An object of dimensions and their values.</summary>
    internal Dimensions? ReadDimensions(string place)
    {
        if (!Value())
            return null;
        if (reader.TokenType != JsonTokenType.StartObject)
        {
            Refuse(place, $"{place} must be an object of names and values, such as {{\"CC\":\"100\"}}.");
            return null;
        }
        var seen = new Seen();
        var values = new List<KeyValuePair<string, string>>();
        while (Next(ref seen, place, out var name))
            if (Code(name, place) is { } value)
                values.Add(new(name, value));
        return new Dimensions(values);
    }
}
