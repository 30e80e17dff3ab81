using System.Buffers;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using Assignum.Core.Findings;
using Assignum.Core.Posting;
using Assignum.Formats.Rulebooks;

namespace Assignum.Formats.Events;

/// <summary>Reads and writes events of type <c>reclassification</c>, as docs/formats.md has them.</summary>
public static class ReclassificationJson
{
    internal static ReadEvent Read(ReadOnlySpan<byte> json, string id)
    {
        var findings = new List<Finding>();
        using var document = JsonDocument.Parse(json.ToArray(), new JsonDocumentOptions { AllowDuplicateProperties = false });
        var root = new JsonPlace(document.RootElement, "event", findings);
        var date = root.Date("date");
        if (date is null)
            root.Note("missing-value", "The event has no date. Give the posting date as YYYY-MM-DD.");
        var (_, _, revision) = (root.Code("id"), root.Text("type"), root.Amount("revision"));
        if (revision is { } given && (given < 1 || given % 1 != 0))
            root.Note("bad-value", $"Revision is {revision}. Revisions are whole numbers and count from 1.");
        var moved = new Reclassification
        {
            Id = id, Date = date ?? default, Revision = revision is { } known and >= 1 and < 1_000_000_000 ? (int)known : 1, Withdrawn = root.Flag("withdrawn") ?? false,
            Number = root.Text("number"), Text = root.Text("text"), From = root.Code("from"), To = root.Code("to"), Lines = root.List("lines", ReadLine),
        };
        root.Done();
        return findings is [var first, ..] ? new(id, null, HeldReason.Invalid(first.Where, first.Message)) : new(id, moved, null);
    }

    static MovedBalance ReadLine(JsonPlace place)
    {
        var dimensions = new List<KeyValuePair<string, string>>();
        if (place.Inner("dimensions") is { } values)
            foreach (var property in values.Properties())
                dimensions.Add(new(property.Name, values.Code(property.Name)));
        var amount = place.Amount("amount");
        if (amount is null)
            place.Note("missing-value", $"{place.Where} has no amount. Give what stands on the account, debit positive.");
        return new MovedBalance(amount ?? 0, place.Text("currency"), place.Amount("documentAmount"), place.Text("party"), dimensions.Count == 0 ? Dimensions.None : new Dimensions(dimensions));
    }

    /// <summary>One JSON object on one line.</summary>
    public static string Write(Reclassification moved)
    {
        var buffer = new ArrayBufferWriter<byte>();
        using (var json = new Utf8JsonWriter(buffer, new JsonWriterOptions { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping }))
        {
            json.WriteStartObject();
            json.WriteString("id", moved.Id);
            json.WriteString("type", moved.TypeName);
            json.Day("date", moved.Date);
            if (moved.Revision != 1)
                json.WriteNumber("revision", moved.Revision);
            if (moved.Withdrawn)
                json.WriteBoolean("withdrawn", true);
            json.Text("number", moved.Number);
            json.Text("text", moved.Text);
            json.WriteString("from", moved.From);
            json.WriteString("to", moved.To);
            json.WriteStartArray("lines");
            foreach (var line in moved.Lines)
                WriteLine(json, line);
            json.WriteEndArray();
            json.WriteEndObject();
        }
        return Encoding.UTF8.GetString(buffer.WrittenSpan);
    }

    static void WriteLine(Utf8JsonWriter json, MovedBalance line)
    {
        json.WriteStartObject();
        json.WriteNumber("amount", line.Amount);
        json.Text("currency", line.Currency);
        json.Amount("documentAmount", line.DocumentAmount);
        json.Text("party", line.Party);
        json.Texts("dimensions", line.Dimensions.All);
        json.WriteEndObject();
    }
}
