using System.Globalization;
using System.Text.Json.Nodes;
using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Events;

/// <summary>A field that a column of a sheet of events can be.</summary>
/// <param name="Name">"date", or "lines.item" for a field of a line.</param>
/// <param name="Title">As it is offered: "Date", "Line: item".</param>
/// <param name="Field">The field.</param>
/// <param name="List">The list it is in; null for a field of the event.</param>
public sealed record SheetField(string Name, string Title, EventField Field, string? List);

/// <summary>An event of a sheet, with the rows it is made of.</summary>
/// <param name="Id">Its id, or "line N".</param>
/// <param name="Rows">Its rows.</param>
/// <param name="Json">It as one line of an events file; null where a cell can't be read.</param>
/// <param name="Why">Why it is none, or null.</param>
public sealed record SheetEvent(string Id, IReadOnlyList<SheetRow> Rows, string? Json, string? Why);

/// <summary>Events as a sheet: one row for each line, rows of the same id together, columns for the fields of the event and of its lines.</summary>
public static class EventSheet
{
    // What columns are called elsewhere.
    static readonly (string Name, string[] Called)[] Words =
    [
        ("id", ["event", "event id", "document id", "document no", "invoice no", "invoice number", "document number", "invoice"]),
        ("type", ["event type", "kind of event", "kind"]), ("date", ["posting date", "day", "booked on"]),
        ("number", ["document", "document number", "document no", "invoice", "invoice number", "invoice no"]),
        ("party", ["customer", "supplier", "party code", "account holder"]), ("dueDate", ["due", "due date", "payable by"]),
        ("location", ["place", "warehouse", "from"]), ("currency", ["document currency"]), ("rate", ["exchange rate"]),
        ("connection", ["through", "source", "channel"]), ("refersTo", ["reference", "refers to"]), ("moneyAccount", ["money account", "bank", "into"]),
        ("lines.item", ["item", "item code", "article", "product", "goods"]), ("lines.quantity", ["quantity", "qty", "pieces", "count"]),
        ("lines.price", ["price", "unit price", "price each"]), ("lines.discountPercent", ["discount", "discount %", "discount percent"]),
        ("lines.taxCode", ["tax code", "tax"]), ("lines.account", ["account", "ledger account"]), ("lines.debit", ["debit"]), ("lines.credit", ["credit"]),
        ("lines.shipped", ["ships", "shipped"]), ("amount", ["amount", "paid", "total paid"]),
    ];

    /// <summary>The fields that columns of a type can be: those of the event, and those of its first list.</summary>
    /// <param name="type">The type; null where each row says its own: then those that any type has.</param>
    public static IReadOnlyList<SheetField> Fields(EventType? type)
    {
        var types = type is null ? EventTypes.All : [type];
        var own = types.SelectMany(t => t.Fields).Where(f => f.Kind != FieldKind.List).DistinctBy(f => f.Name).ToList();
        var ofLines = types.SelectMany(t => t.Fields.Where(f => f.Kind == FieldKind.List).Take(1)).SelectMany(list => list.Inner.Select(f =>
            new SheetField($"{list.Name}.{f.Name}", $"{(list.Name == "lines" ? "Line" : "Part")}: {InWords(f.Name).ToLowerInvariant()}", f, list.Name)))
            .Where(f => f.Field.Kind != FieldKind.List).DistinctBy(f => f.Name);
        SheetField OfEvent(EventField field) => new(field.Name, InWords(field.Name), field, null);
        // Where any type may come, an item is more often one of a line than one of the whole event.
        return type is null ? [.. EventFields.Header.Select(OfEvent), .. ofLines, .. own.Except(EventFields.Header).Select(OfEvent)]
            : [.. EventFields.Header.Concat(own).DistinctBy(f => f.Name).Select(OfEvent), .. ofLines];
    }

    /// <summary>"Due date" for "dueDate".</summary>
    public static string InWords(string name)
    {
        var spaced = string.Concat(name.Select(c => char.IsUpper(c) ? " " + char.ToLowerInvariant(c) : c.ToString()));
        return char.ToUpperInvariant(spaced[0]) + spaced[1..];
    }

    /// <summary>Which field each heading most likely is; null where none is like it.</summary>
    /// <param name="headings">The headings.</param>
    /// <param name="fields">The fields on offer.</param>
    public static IReadOnlyList<string?> Propose(IReadOnlyList<string> headings, IReadOnlyList<SheetField> fields)
    {
        var taken = new HashSet<string>(StringComparer.Ordinal);
        return [.. headings.Select(heading => fields.FirstOrDefault(f => IsCalled(f, heading) && taken.Add(f.Name))?.Name)];
    }

    static bool IsCalled(SheetField field, string heading)
    {
        var asked = Plain(heading);
        return asked.Length > 0 && (Plain(field.Name) == asked || Plain(field.Title) == asked || (field.List is not null && Plain(field.Field.Name) == asked)
            || Words.Any(w => w.Name == field.Name && w.Called.Any(c => Plain(c) == asked)));
    }

    static string Plain(string text) => new([.. Fold.Of(text).Where(char.IsLetterOrDigit)]);

    /// <summary>The events of a sheet.</summary>
    /// <param name="rows">Its rows below the headings.</param>
    /// <param name="columns">The field of each column, or null.</param>
    /// <param name="type">The type of all of them; null: a column says it.</param>
    public static IEnumerable<SheetEvent> Events(IEnumerable<SheetRow> rows, IReadOnlyList<string?> columns, EventType? type)
    {
        var (ids, types) = (columns.IndexOf("id"), columns.IndexOf("type"));
        var open = new List<SheetRow>();
        var known = new Dictionary<string, Dictionary<string, SheetField>>(StringComparer.Ordinal);
        Dictionary<string, SheetField> Known(EventType of) =>
            known.TryGetValue(of.Name, out var fields) ? fields : known[of.Name] = Fields(of).ToDictionary(field => field.Name);
        foreach (var row in rows)
        {
            if (open.Count > 0 && row[ids].Length > 0 && !Fold.Same(row[ids], open[0][ids]))
            {
                yield return One(open, columns, type, ids, types, Known);
                open = [];
            }
            open.Add(row);
        }
        if (open.Count > 0)
            yield return One(open, columns, type, ids, types, Known);
    }

    static int IndexOf(this IReadOnlyList<string?> columns, string name) => columns.ToList().IndexOf(name);

    static SheetEvent One(List<SheetRow> rows, IReadOnlyList<string?> columns, EventType? type, int ids, int types,
        Func<EventType, Dictionary<string, SheetField>> known)
    {
        var id = rows[0][ids] is { Length: > 0 } said ? said : $"line {rows[0].Line}";
        var own = type ?? EventTypes.Find(rows[0][types]);
        if (ids < 0 || rows[0][ids].Length == 0)
            return new(id, rows, null, $"Line {rows[0].Line} has no id. Give each document one, the same on each of its rows.");
        if (own is null)
            return new(id, rows, null, $"Line {rows[0].Line}: “{rows[0][types]}” is no type of event. Write one as the formats spell it: sales-invoice.");
        var fields = known(own);
        var made = new JsonObject { ["type"] = own.Name };
        for (var column = 0; column < columns.Count; column++)
            if (columns[column] is { } name && name != "type" && fields.TryGetValue(name, out var field) && Put(made, field, rows, column) is { } why)
                return new(id, rows, null, why);
        return new(id, rows, made.ToJsonString(), null);
    }

    // What can't be put there, or null.
    static string? Put(JsonObject made, SheetField field, List<SheetRow> rows, int column)
    {
        if (field.List is { } list)
        {
            var lines = made[list] as JsonArray;
            if (lines is null)
                made[list] = lines = new JsonArray([.. rows.Select(_ => new JsonObject())]);
            for (var i = 0; i < rows.Count; i++)
                if (rows[i][column].Length > 0 && Cell(rows[i], column, field.Field, (JsonObject)lines[i]!) is { } why)
                    return why;
            return null;
        }
        var said = rows.Where(row => row[column].Length > 0).ToList();
        if (said.Find(row => row[column] != said[0][column]) is { } other)
            return $"Line {other.Line} has {InWords(field.Field.Name).ToLowerInvariant()} {other[column]}, and line {said[0].Line} of the same document " +
                $"{said[0][column]}. Rows of one id say the same, or nothing.";
        return said.Count == 0 ? null : Cell(said[0], column, field.Field, made);
    }

    static string? Cell(SheetRow row, int column, EventField field, JsonObject to)
    {
        var text = row[column];
        string Fault(string how) => $"Line {row.Line}: {InWords(field.Name).ToLowerInvariant()} is “{text}”. {how}";
        switch (field.Kind)
        {
            case FieldKind.Flag when Flag(text) is { } flag:
                to[field.Name] = flag;
                return null;
            case FieldKind.Flag:
                return Fault("Write yes or no.");
            case FieldKind.Whole when int.TryParse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var whole):
                to[field.Name] = whole;
                return null;
            case FieldKind.Whole:
                return Fault("Write a whole number.");
            case FieldKind.Amount when decimal.TryParse(text, NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture,
                out _):
                to[field.Name] = text;
                return null;
            case FieldKind.Amount:
                return Fault("Write a number with a decimal point and nothing else: 1234.50.");
            case FieldKind.Dimensions:
                return Dimensions(text, field, to) ? null : Fault("Write dimensions as CC=100, with ; between several.");
            default:
                to[field.Name] = text;
                return null;
        }
    }

    static bool? Flag(string text) => Fold.Of(text) switch { "YES" or "TRUE" or "X" or "1" => true, "NO" or "FALSE" or "0" => false, _ => null };

    static bool Dimensions(string text, EventField field, JsonObject to)
    {
        var made = new JsonObject();
        foreach (var part in text.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var pair = part.Split('=', 2, StringSplitOptions.TrimEntries);
            if (pair.Length != 2 || pair[0].Length == 0 || pair[1].Length == 0 || made.ContainsKey(pair[0]))
                return false;
            made[pair[0]] = pair[1];
        }
        to[field.Name] = made;
        return true;
    }
}
