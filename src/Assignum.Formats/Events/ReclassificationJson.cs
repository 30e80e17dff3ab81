using System.Text.Json;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>Events of type <c>reclassification</c> in files, as docs/formats.md has them.</summary>
sealed class ReclassificationJson : OwnFields
{
    string? from, to;
    bool adjustment;
    List<MovedBalance>? lines;

    internal static EventFormat Format { get; } = new(Reclassification.Name, () =>
        new ReclassificationJson(), static (json, happened) => Write(json, (Reclassification)happened));

    internal override bool Read(ref EventParser parser, string name)
    {
        switch (name)
        {
            case "adjustment": adjustment = parser.Flag(name) ?? false; break;
            case "from": from = parser.Code(name); break;
            case "to": to = parser.Code(name); break;
            case "lines": lines = parser.List(name, ReadLine); break;
            default: return false;
        }
        return true;
    }

    internal override BusinessEvent? Make(ref EventParser parser, EventHeader header)
    {
        if (from is null)
            return parser.Missing("from", "Give the number of the account the balance leaves.");
        if (to is null)
            return parser.Missing("to", "Give the number of the account the balance goes to.");
        if (lines is null)
            return parser.Missing("lines", "Give each part of the balance a line.");
        return new Reclassification(header with { Adjustment = adjustment }, from, to) { Lines = lines };
    }

    static MovedBalance ReadLine(ref EventParser parser, string place)
    {
        var seen = new EventParser.Seen();
        decimal? amount = null, documentAmount = null;
        string? currency = null, party = null;
        Dimensions? dimensions = null;
        while (parser.Next(ref seen, place, out var name))
        {
            switch (name)
            {
                case "amount": amount = parser.Amount(name, place); break;
                case "currency": currency = parser.Code(name, place); break;
                case "documentAmount": documentAmount = parser.Amount(name, place); break;
                case "party": party = parser.Code(name, place); break;
                case "dimensions": dimensions = parser.ReadDimensions(place + ".dimensions"); break;
                default: parser.Unknown(name, place + "." + name, "a line"); break;
            }
        }
        if (parser.Fault is null && amount is null)
            parser.Refuse(place + ".amount", $"{place} has no amount. Give what stands on the account, debit positive.");
        return new MovedBalance(amount ?? 0, currency, documentAmount, party, dimensions ?? Dimensions.None);
    }

    static void Write(Utf8JsonWriter json, Reclassification moved)
    {
        json.Adjustment(moved);
        json.Text("from", moved.From);
        json.Text("to", moved.To);
        json.List("lines", moved.Lines, line =>
        {
            json.WriteNumber("amount", line.Amount);
            json.Text("currency", line.Currency);
            json.Amount("documentAmount", line.DocumentAmount);
            json.Text("party", line.Party);
            json.Texts("dimensions", line.Dimensions.All);
        });
    }
}
