using System.Text;
using System.Text.Json.Nodes;
using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Events;
using Assignum.Web.Showing;

namespace Assignum.Web.Pages.TryOut;

/// <summary>The form of an event whose fields are typed one by one, as files have them: it is described, and needs no reading of its own.</summary>
/// <param name="type">The type.</param>
/// <param name="head">Fields of the head, named as in files; the day is among them.</param>
/// <param name="columns">Columns of a line, named as in files.</param>
/// <param name="begin">What to type first.</param>
public sealed class FieldsForm(EventType type, IReadOnlyList<FormField> head, IReadOnlyList<FormField> columns, string begin) : EventForm
{
    /// <inheritdoc/>
    public override string Name => type.Name;
    /// <inheritdoc/>
    public override string Begin => begin;
    /// <inheritdoc/>
    public override string WhatAsked => $"{Show.Title(begin)}?";
    /// <inheritdoc/>
    public override string Begins => head[0].Name;
    /// <inheritdoc/>
    public override IReadOnlyList<FormField> Head => head;
    /// <inheritdoc/>
    public override IReadOnlyList<FormField> Columns => columns;

    /// <inheritdoc/>
    public override bool IsBegun(IReadOnlyDictionary<string, string?> line) =>
        columns.Any(column => column.Start is null && !string.IsNullOrWhiteSpace(line.GetValueOrDefault(column.Name)));

    /// <inheritdoc/>
    public override Typed Read(TryOutForm form, Rulebook book, DateOnly today)
    {
        var reading = new FormReading();
        var made = new JsonObject { ["id"] = form.Id, ["type"] = Name,
            ["date"] = (form.Date ?? today).ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture) };
        Add(made, head, field => form[field], "", book, reading);
        var places = form.Begun;
        if (columns.Count > 0)
            made["lines"] = new JsonArray([.. places.Select(place =>
                (JsonNode)Add([], columns, field => form[place, field], $"lines[{place}].", book, reading))]);
        var read = new EventReader().Read(Encoding.UTF8.GetBytes(made.ToJsonString()), 1);
        if (read.Fault is { } fault)
            reading.Faults.TryAdd(fault.Field ?? "", fault.Message);
        return new(read.Event ?? new EventHeader { Id = form.Id, Type = Name, Date = form.Date ?? today }, reading.Faults, places, read.Event is not null
            && reading.Faults.Count == 0);
    }

    static JsonObject Add(JsonObject made, IReadOnlyList<FormField> fields, Func<string, string?> typed, string place, Rulebook book, FormReading reading)
    {
        foreach (var field in fields.Where(f => f.Typing is not (Typing.Day or Typing.Said)))
        {
            if (typed(field.Name) is { } text)
                made[field.Name] = Value(field, text, place + field.Name, book, reading);
            else if (field.Needed)
                reading.Faults[place + field.Name] = $"{field.Label} is missing. Type it.";
        }
        return made;
    }

    static JsonNode? Value(FormField field, string text, string at, Rulebook book, FormReading reading) => field.Typing switch
    {
        Typing.Number => reading.Number(at, text) is { } number ? JsonValue.Create(number) : null,
        Typing.Tick => true,
        Typing.Dimensions => new JsonObject(reading.Dimensions(at, text).All.Select(d => KeyValuePair.Create(d.Key, (JsonNode?)d.Value))),
        Typing.Chosen => reading.Picked(at,
            Pick.One(text, (Choices.Of(book, field.List!) ?? []).Select(c => new Chosen(c.Code, c.Name)), c => c.Code, c => c.Name,
            field.Label.ToLowerInvariant()))?.Code,
        _ => text,
    };

    sealed record Chosen(string Code, string Name);
}
