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
/// <param name="list">Name of the list its lines are, in files.</param>
public sealed class FieldsForm(EventType type, IReadOnlyList<FormField> head, IReadOnlyList<FormField> columns, string begin, string list = "lines") : EventForm
{
    // What a line lands on stands behind it.
    readonly IReadOnlyList<FormField> shown = columns.Count == 0 ? columns : [.. columns, new("lands", "Lands on", Typing.Said)];

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
    public override IReadOnlyList<FormField> Columns => shown;

    /// <inheritdoc/>
    public override bool IsBegun(IReadOnlyDictionary<string, string?> line) =>
        // What is open stands in the form whether it is settled or not.
        SettlingTable.Takes(type.Name) ? !string.IsNullOrWhiteSpace(line.GetValueOrDefault("amount"))
            : columns.Any(column => column.Start is null && !string.IsNullOrWhiteSpace(line.GetValueOrDefault(column.Name)));

    /// <inheritdoc/>
    public override Typed Read(TryOutForm form, Rulebook book, DateOnly today)
    {
        var reading = new FormReading();
        if (type.Name == ManualJournal.Name)
            JournalBalance.Fill(form);
        var made = new JsonObject { ["id"] = form.Id, ["type"] = Name,
            ["date"] = (form.Date ?? today).ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture) };
        Add(made, head, field => form[field], "", book, reading);
        var places = form.Begun;
        if (columns.Count > 0 && (places.Count > 0 || list == "lines"))
            made[list] = new JsonArray([.. places.Select(place =>
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
        Typing.Word => Words(field, text),
        Typing.Dimensions => new JsonObject(reading.Dimensions(at, text).All.Select(d => KeyValuePair.Create(d.Key, (JsonNode?)d.Value))),
        Typing.Chosen => reading.Picked(at,
            Pick.One(text, (Choices.Of(book, field.List!) ?? []).Select(c => new Chosen(c.Code, c.Name)), c => c.Code, c => c.Name,
            field.Label.ToLowerInvariant()))?.Code,
        _ => text,
    };

    // A browser sends what a list offers; anything else is no word of it.
    static string? Words(FormField field, string text) => field.Words.Contains(text) ? text : null;

    /// <inheritdoc/>
    public override void Fill(TryOutForm form, BusinessEvent sample, Rulebook book)
    {
        var written = JsonNode.Parse(EventWriter.Write(sample))!.AsObject();
        foreach (var field in head)
            form[field.Name] = Shown(field, written[field.Name], book);
        form.Lines.Clear();
        foreach (var line in written[list] is JsonArray lines && columns.Count > 0 ? lines : [])
            form.Lines.Add(columns.ToDictionary(c => c.Name, c => Shown(c, line![c.Name], book)));
        if (columns.Count > 0)
            form.AddLine();
    }

    /// <summary>Begins it with what an address says of its head: codes, and texts as somebody would type them.</summary>
    internal void Begun(TryOutForm form, Func<string, string?> said, Rulebook book)
    {
        foreach (var field in head)
            if (said(field.Name) is { Length: > 0 } text)
                form[field.Name] = field.Typing == Typing.Chosen ? Shown(field, JsonValue.Create(text), book) : text;
    }

    static string? Shown(FormField field, JsonNode? value, Rulebook book)
    {
        if (value is null || field.Typing is Typing.Day or Typing.Said)
            return null;
        var text = value is JsonObject of ? string.Join("; ", of.Select(d => $"{d.Key}={d.Value}")) : value.ToString();
        return field.Typing switch
        {
            Typing.Number => decimal.Parse(text, System.Globalization.CultureInfo.InvariantCulture).ToString("0.############", Written.Now),
            Typing.Chosen => (Choices.Of(book, field.List!) ?? []).Where(c => Fold.Same(c.Code, text)).Select(c => Pick.Written(c.Code,
                c.Name)).FirstOrDefault(),
            _ => text,
        };
    }

    /// <inheritdoc/>
    public override IEnumerable<Beside> BesideLine(TryOutResult result, int line)
    {
        if (line < 0 && result.Happened is ManualJournal journal)
        {
            yield return new("lands", null, JournalBalance.Missing(journal, result.Page.Decimals));
            yield break;
        }
        var rows = line < 0 ? [] : result.Sofar?.Rows.Where(r => r.Context.Line == line).ToList() ?? [];
        yield return rows.Count == 0 ? new("lands", null, null)
            : new("lands", string.Join(" ", rows.Select(r => r.Account.Number).Distinct().Take(3)), Show.Amount(Math.Abs(rows[0].Amount),
                result.Page.Decimals));
    }

    sealed record Chosen(string Code, string Name);
}
