using System.Buffers;
using System.Text.Encodings.Web;
using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Findings;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Formats.Landing;

/// <summary>Reasons, warnings and findings as NDJSON, one object a line.</summary>
public static class HeldJson
{
    static readonly JsonWriterOptions Options = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>Writes the reasons of a held event, a line each.</summary>
    public static void Write(Utf8Text text, string id, IEnumerable<HeldReason> reasons)
    {
        foreach (var reason in reasons)
            Line(text, json =>
            {
                json.WriteString("event", id);
                json.WriteString("reason", Words<HeldCause>.Of(reason.Cause));
                if (reason.Purpose is { } purpose)
                    json.WriteString("purpose", purpose.Name);
                if (reason.Cause is HeldCause.NoRule or HeldCause.NoTaxRule)
                    WriteFacts(json, reason.Facts);
                WriteIfThere(json, "account", reason.Account);
                WriteIfThere(json, "rule", reason.Rule);
                WriteIfThere(json, "field", reason.Field);
                json.WriteString("message", reason.Message);
            });
    }

    /// <summary>Writes the warnings of an event, a line each.</summary>
    public static void WriteWarnings(Utf8Text text, string id, IEnumerable<Warning> warnings)
    {
        foreach (var warning in warnings)
            Line(text, json =>
            {
                json.WriteString("event", id);
                json.WriteString("severity", "warning");
                WriteIfThere(json, "purpose", warning.Purpose?.Name);
                json.WriteString("account", warning.Account);
                json.WriteString("message", warning.Message);
            });
    }

    /// <summary>Writes findings, a line each.</summary>
    public static void Write(Utf8Text text, IEnumerable<Finding> findings)
    {
        foreach (var finding in findings)
            Line(text, json =>
            {
                json.WriteString("check", finding.Check);
                json.WriteString("severity", Words<Severity>.Of(finding.Severity));
                json.WriteString("where", finding.Where);
                json.WriteString("message", finding.Message);
                WriteIfThere(json, "account", finding.Account);
            });
    }

    static void WriteFacts(Utf8JsonWriter json, IEnumerable<FactValue> facts)
    {
        json.WriteStartObject("facts");
        foreach (var (fact, code) in facts)
            json.WriteString(fact.Name(), code);
        json.WriteEndObject();
    }

    static void WriteIfThere(Utf8JsonWriter json, string name, string? value)
    {
        if (value is not null)
            json.WriteString(name, value);
    }

    internal static void Line(Utf8Text text, Action<Utf8JsonWriter> write)
    {
        var buffer = new ArrayBufferWriter<byte>();
        using (var json = new Utf8JsonWriter(buffer, Options))
        {
            json.WriteStartObject();
            write(json);
            json.WriteEndObject();
        }
        text.Add(buffer.WrittenSpan).Add((byte)'\n');
    }
}
