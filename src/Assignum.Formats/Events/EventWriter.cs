using System.Buffers;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>Writes an event as JSON, as <see cref="EventReader"/> reads it; what is absent or default is left out.</summary>
public static class EventWriter
{
    static readonly JsonWriterOptions Options = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>One JSON object on one line.</summary>
    public static string Write(BusinessEvent happened)
    {
        var buffer = new ArrayBufferWriter<byte>();
        using (var json = new Utf8JsonWriter(buffer, Options))
        {
            json.WriteStartObject();
            WriteHeader(json, happened);
            EventFormats.Of(happened).Write(json, happened);
            json.WriteEndObject();
        }
        return Encoding.UTF8.GetString(buffer.WrittenSpan);
    }

    static void WriteHeader(Utf8JsonWriter json, BusinessEvent happened)
    {
        json.Text("id", happened.Id);
        json.Text("type", happened.TypeName);
        json.Day("date", happened.Date);
        json.Day("documentDate", happened.DocumentDate);
        json.Day("taxDate", happened.TaxDate);
        json.Day("dueDate", happened.DueDate);
        json.Text("number", happened.Number);
        if (happened.Revision != 1)
            json.WriteNumber("revision", happened.Revision);
        if (happened.Withdrawn)
            json.WriteBoolean("withdrawn", true);
        json.Text("refersTo", happened.RefersTo);
        json.Text("party", happened.Party);
        json.Text("currency", happened.Currency);
        json.Amount("rate", happened.Rate);
        json.Text("location", happened.Location);
        json.Text("project", happened.Project);
        json.Text("task", happened.Task);
        json.Text("taxArea", happened.TaxArea);
        json.Text("connection", happened.Connection);
        json.Text("method", happened.Method);
        json.Text("text", happened.Text);
        json.Text("control", happened.Control);
        json.Texts("dimensions", happened.Dimensions.All);
    }
}
