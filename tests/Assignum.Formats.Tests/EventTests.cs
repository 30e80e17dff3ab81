using System.Text;
using Assignum.Core.Posting;
using Assignum.Formats.Events;
using CsCheck;

namespace Assignum.Formats.Tests;

public class EventReaderTests
{
    static ReadEvent Read(string json) => new EventReader().Read(Encoding.UTF8.GetBytes(json), 7);

    [Fact]
    public void The_example_of_the_formats_is_read()
    {
        var read = Read("""
            {"id":"INV-1","type":"sales-invoice","date":"2026-03-14","party":"C-10","currency":"EUR","rate":1,"location":"NORTH","connection":"web-shop","text":"Spring order","control":null,
             "lines":[{"item":"SEED-01","quantity":10,"price":2.50,"discountPercent":5,"unitCost":"0.85","shipped":true,"location":"NORTH","account":null,"taxCode":null,"text":""}]}
            """);
        var line = Assert.IsType<Document>(read.Event).Lines[0];

        Assert.Equal(("SEED-01", 10m, 2.50m, 0.85m, true), (line.Item, line.Quantity, line.Price, line.UnitCost, line.StockMoves));
    }

    [Theory]
    [InlineData("""{"id":"A","type":"sales-invoice","date":"2026-03-14","lines":[],"colour":1}""", "A", "colour")]
    [InlineData("""{"id":"A","type":"sales-invoice","date":"2026-03-14","lines":[{"colour":1}]}""", "A", "lines[0].colour")]
    [InlineData("""{"id":"A","type":"sales-invoice","date":"14.3.2026","lines":[]}""", "A", "date")]
    [InlineData("""{"id":"A","type":"sales-invoice","lines":[]}""", "A", "date")]
    [InlineData("""{"id":"A","type":"barter","date":"2026-03-14"}""", "A", "type")]
    [InlineData("""{"id":"A","type":"barter","date":"2026-03-14","goats":3}""", "A", "type")]
    [InlineData("""{"type":"sales-invoice","date":"2026-03-14","lines":[]}""", "line 7", "id")]
    [InlineData("""{"id":"A","type":"sales-invoice","date":"2026-03-14","lines":[{"price":true}]}""", "A", "lines[0].price")]
    [InlineData("""{"id":"A","type":"sales-invoice","date":"2026-03-14","lines":[{"price":1,"returned":true}]}""", "A", "lines[0].returned")]
    [InlineData("""{"id":"A","type":"takings","date":"2026-03-14","lines":[]}""", "A", "tenders")]
    [InlineData("""{"id":"A","type":"purchase-invoice","date":"2026-03-14","lines":[{"price":1,"shipped":true}]}""", "A", "lines[0].shipped")]
    [InlineData("""{"id":"A","type":"purchase-credit-note","date":"2026-03-14","lines":[{"price":1,"received":true}]}""", "A", "lines[0].received")]
    [InlineData("""{"id":"A","type":"purchase-credit-note","date":"2026-03-14","lines":[{"price":1,"receivedCost":1}]}""", "A", "lines[0].receivedCost")]
    [InlineData("""{"id":"A","type":"sales-invoice","date":"2026-03-14","lines":[{"price":1,"receivedAmount":1}]}""", "A", "lines[0].receivedAmount")]
    [InlineData("""{"id":"A","type":"purchase-invoice","date":"2026-03-14","lines":[{"price":1}],"tenders":[]}""", "A", "tenders")]
    [InlineData("""{"id":"A","id":"B","type":"sales-invoice","date":"2026-03-14","lines":[]}""", "B", "id")]
    public void What_is_malformed_names_event_and_field(string json, string id, string field)
    {
        var read = Read(json);

        Assert.Null(read.Event);
        Assert.Equal((id, HeldCause.Invalid, field), (read.Id, read.Fault!.Cause, read.Fault.Field));
    }

    [Theory]
    [InlineData("{")]
    [InlineData("[]")]
    [InlineData("""{"id":"A"} {"id":"B"}""")]
    [InlineData("\u0001\u0002")]
    public void A_line_that_is_no_json_is_held_as_line_n(string json) => Assert.Equal(("line 7", ""), (Read(json).Id, Read(json).Fault!.Field));

    [Fact]
    public void Amounts_are_never_floats()
    {
        var line = Assert.IsType<Document>(Read("""{"id":"A","type":"sales-invoice","date":"2026-03-14","lines":[{"price":0.1},{"price":"0.2"},{"price":2.5e3},{"price":1234567890123.123456}]}""").Event).Lines;

        Assert.Equal([0.1m, 0.2m, 2500m, 1234567890123.123456m], line.Select(l => l.Price!.Value));
    }

    [Fact]
    public void Bytes_of_any_kind_give_an_event_or_a_reason_and_never_a_fault_of_ours() => Gen.Byte.Array[0, 60].Sample(bytes =>
    {
        var read = new EventReader().Read(bytes, 1);
        Assert.True(read.Event is not null ^ read.Fault is not null);
    }, iter: 3000);
}

public class EventWriterTests
{
    static readonly Gen<string?> AnyText = Gen.String[0, 8].Select(s => s.Any(char.IsSurrogate) || string.IsNullOrWhiteSpace(s) ? null : s);
    static readonly Gen<decimal?> AnyAmount = Gen.Int[-1_000_000, 1_000_000].Select(i => i % 7 == 0 ? (decimal?)null : i / 1000m);

    static readonly Gen<DocumentLine> AnyLine =
        from texts in AnyText.Array[9]
        from amounts in AnyAmount.Array[5]
        from ships in Gen.Bool
        select new DocumentLine
        {
            Item = texts[0], Account = texts[1], TaxCode = texts[2], StandsOn = texts[3], Location = texts[4], Project = texts[5], Task = texts[6], TaxArea = texts[7], Text = texts[8],
            Quantity = amounts[0] ?? 1, Price = amounts[1], DiscountPercent = amounts[2], DiscountAmount = amounts[3], UnitCost = amounts[4], StockMoves = ships,
        };

    static readonly Gen<Document> AnyDocument =
        from type in Gen.Int[0, Enum.GetValues<DocumentType>().Length - 1].Select(i => (DocumentType)i)
        from texts in AnyText.Array[12]
        from lines in AnyLine.Array[0, 4]
        from rate in AnyAmount
        from tender in AnyAmount
        from inclusive in Gen.Bool
        select new Document
        {
            Id = texts[0] ?? "A", Type = type, Date = new DateOnly(2026, 3, 14), TaxDate = rate is null ? null : new DateOnly(2026, 3, 1), Number = texts[1], Party = texts[2], Currency = texts[3], Location = texts[4], Project = texts[5],
            Task = texts[6], Connection = texts[7], Method = texts[8], Text = texts[9], Control = texts[10], TaxArea = texts[11], Rate = rate, Total = rate, PricesIncludeTax = inclusive,
            Lines = [.. lines.Select(line => Laid(line, DocumentTraits.Of(type)))],
            Tax = rate is { } amount ? [new ChargedTax("R8", texts[1], amount)] : [], Tenders = !DocumentTraits.Of(type).TakesTenders ? [] : [new Tender(texts[2], texts[3], inclusive, tender ?? 0)],
        };

    // A line has what lines of its type have.
    static DocumentLine Laid(DocumentLine line, DocumentTraits traits) => line with
    {
        ReceivedCost = traits.TakesReceipt ? line.Price : null, ReceivedAmount = traits.TakesReceipt ? line.UnitCost : null, Account = traits.OfProject ? null : line.Account,
        Asset = traits.OfProject ? null : line.Text, ToProject = traits.Buys && line.StockMoves,
    };

    [Fact]
    public void What_is_written_is_read_again_as_it_was() => AnyDocument.Sample(document =>
    {
        var json = EventWriter.Write(document);
        var read = new EventReader().Read(Encoding.UTF8.GetBytes(json), 1);

        Assert.True(read.Event is not null, read.Fault?.Message + json);
        Assert.Equal(json, EventWriter.Write((Document)read.Event!));
        Assert.Equal(document with { Lines = [], Tax = [], Tenders = [] }, (Document)read.Event with { Lines = [], Tax = [], Tenders = [] });
        Assert.Equal(document.Lines, ((Document)read.Event).Lines);
    }, iter: 500);

    [Fact]
    public void Two_spellings_of_one_event_have_one_digest()
    {
        Assert.Equal(CanonicalJson.Digest("""{"a":1.50,"b":[{"c":null,"d":"x"}]}"""), CanonicalJson.Digest("""{ "b": [ { "d": "x" } ], "a": 1.5 }"""));
        Assert.NotEqual(CanonicalJson.Digest("""{"a":1.5}"""), CanonicalJson.Digest("""{"a":1.51}"""));
        Assert.NotEqual(CanonicalJson.Digest("""{"a":[1,2]}"""), CanonicalJson.Digest("""{"a":[2,1]}"""));
    }
}

/// <summary>What is read digit by digit is what the framework reads.</summary>
public class DigitTests
{
    static readonly Gen<string> Numberish = Gen.OneOf(
        Gen.Select(Gen.Long, Gen.Int[0, 12]).Select((units, scale) => new decimal((int)units, (int)(units >> 32) & 0x7FFFFFF, 0, units < 0, (byte)scale).ToString(System.Globalization.CultureInfo.InvariantCulture)),
        Gen.Char["0123456789.-+"].Array[0, 24].Select(c => new string(c)));

    [Fact]
    public void Amounts_are_read_as_the_framework_reads_them() => Numberish.Sample(text =>
    {
        const System.Globalization.NumberStyles styles = System.Globalization.NumberStyles.AllowLeadingSign | System.Globalization.NumberStyles.AllowDecimalPoint | System.Globalization.NumberStyles.AllowExponent;
        var isNumber = decimal.TryParse(text, styles, System.Globalization.CultureInfo.InvariantCulture, out var expected);
        if (text.Length > 20)
            return;
        Assert.Equal(isNumber, Decimals.TryParse(Encoding.UTF8.GetBytes(text), out var amount));
        Assert.Equal(isNumber ? expected : 0, amount);
        Assert.Equal(isNumber ? expected.Scale : 0, amount.Scale);
    }, iter: 20_000);

    [Fact]
    public void Days_are_read_and_written_as_the_framework_does() => Gen.OneOf(
        Gen.Int[0, DateOnly.MaxValue.DayNumber].Select(n => DateOnly.FromDayNumber(n).ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture)),
        Gen.Select(Gen.Int[0, 9999], Gen.Int[0, 14], Gen.Int[0, 33]).Select((y, m, d) => $"{y:0000}-{m:00}-{d:00}"),
        Gen.Char["0123456789-x"].Array[8, 11].Select(c => new string(c))).Sample(text =>
    {
        var isDay = DateOnly.TryParseExact(text, "yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture, System.Globalization.DateTimeStyles.None, out var expected);
        Assert.Equal(isDay, Days.TryParse(Encoding.UTF8.GetBytes(text), out var day));
        if (!isDay)
            return;
        var written = new byte[Days.Length];
        Days.Write(day, written);
        Assert.Equal((expected, text), (day, Encoding.UTF8.GetString(written)));
    }, iter: 20_000);
}

public class EventBlocksTests
{
    [Theory]
    [InlineData("a\nb\nc")]
    [InlineData("a\nb\nc\n")]
    [InlineData("\uFEFFa\nb\nc\n")]
    [InlineData("a\n\n\nb\r\nc")]
    public void Blocks_hold_all_lines_and_no_mark(string text)
    {
        using var stream = new MemoryStream(Encoding.UTF8.GetBytes(text));
        var lines = string.Concat(EventBlocks.Read(stream).Select(b => Encoding.UTF8.GetString(b.Bytes)));

        Assert.Equal(text.TrimStart('\uFEFF'), lines);
    }

    [Fact]
    public void Lines_longer_than_a_block_and_streams_that_trickle_are_read_whole()
    {
        var text = string.Concat(Enumerable.Range(0, 40).Select(i => new string((char)('a' + i % 26), 1 + i * 31_337) + "\n"));
        using var stream = new Trickle(Encoding.UTF8.GetBytes(text));
        var read = new StringBuilder();
        var line = 1L;
        foreach (var block in EventBlocks.Read(stream))
        {
            Assert.Equal(line, block.FirstLine);
            line += block.Bytes.Count((byte)'\n');
            read.Append(Encoding.UTF8.GetString(block.Bytes));
            block.Dispose();
        }
        Assert.Equal(text, read.ToString());
    }

    /// <summary>A stream that gives a few thousand bytes at a time, as a pipe does.</summary>
    sealed class Trickle(byte[] bytes) : MemoryStream(bytes)
    {
        public override int Read(Span<byte> buffer) => base.Read(buffer[..Math.Min(buffer.Length, 4099)]);

        public override bool CanSeek => false;
    }
}
