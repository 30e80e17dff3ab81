using System.Security.Cryptography;
using System.Text;
using Assignum.Core.Posting;
using Assignum.Storage.Posting;
using Assignum.Storage.Proving;
using Npgsql;

namespace Assignum.Storage.Tests;

/// <summary>Books prove themselves: whoever alters a posted row, with the rights of the database's owner, is found.</summary>
public sealed class BooksProvingTests(Nursery nursery) : IClassFixture<Nursery>
{
    BooksVerifying Verifying => new(nursery.Source);

    async Task<VerifiedBooks> Verify(int company, params ChainHead[] kept) => await Verifying.Verify(company, "QN", kept, default);

    // Three invoices, the second of them revised, a payment, and goods that came in.
    async Task<int> Books(string code)
    {
        var company = await nursery.OpenCompany(code);
        PostableEvent[] all =
        [
            Nursery.Invoice("A"), Nursery.Invoice("B"), Nursery.Invoice("C"), Nursery.Invoice("B", 3, "\"revision\":2,"),
            Nursery.Event("""{"id":"PAID","type":"customer-payment","date":"2026-04-02","party":"C-10","moneyAccount":"MAIN","amount":5,"settles":[{"event":"A","amount":5}]}"""),
            Nursery.Event("""{"id":"CAME","type":"purchase-receipt","date":"2026-04-03","party":"S-40","lines":[{"item":"SEED-01","quantity":4,"unitCost":0.85}]}"""),
            Nursery.Event("""{"id":"SAYS","type":"balance-statement","date":"2026-04-30","lines":[]}"""),
        ];
        Assert.All(await nursery.Posting.Post(company, nursery.User, all, default), p => Assert.True(p.Fate == PostingFate.Landed, p.WhyNot));
        return company;
    }

    async Task AsOwner(int company, string sql)
    {
        await using var connection = new NpgsqlConnection(nursery.Owner);
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand("set session_replication_role = replica; " + sql.Replace("$C", company.ToString(System.Globalization.CultureInfo.InvariantCulture), StringComparison.Ordinal), connection);
        Assert.True(await command.ExecuteNonQueryAsync() > 0);
    }

    [Fact]
    public async Task Untouched_books_are_sound_and_count_every_posted_event()
    {
        var books = await Verify(await Books("SOUND"));
        Assert.True(books.Sound, string.Join("\n", books.Faults));
        Assert.Equal((7, 7, 7), (books.Events, books.Entries, books.Heads.Single().Place));
    }

    [Theory]
    [InlineData("an amount", "update line set amount = amount + 1 where (company_id, entry_id, line_no) = ($C, 2, 1)", "Event B (2)")]
    [InlineData("an account", "update line set account_id = (select max(account_id) from line where company_id = $C and entry_id = 2) where (company_id, entry_id, line_no) = ($C, 2, 1)", "Event B (2)")]
    [InlineData("a date", "update entry set date = '2026-03-15' where (company_id, id) = ($C, 3)", "Event C (3)")]
    [InlineData("the date of an event", "update event set date = '2026-03-15' where (company_id, id) = ($C, 3)", "Event C (3)")]
    [InlineData("a movement", "update party_movement set party_id = party_id + 1 where (company_id, event_id) = ($C, 1)", "Event A (1)")]
    [InlineData("the value of stock", "update stock_movement set amount = amount * 2 where (company_id, event_id) = ($C, 6)", "Event CAME (6)")]
    [InlineData("what was paid", "update money_movement set amount = amount - 1 where (company_id, event_id) = ($C, 5)", "Event PAID (5)")]
    [InlineData("a base of tax", "update tax_movement set base = base + 1 where (company_id, event_id) = ($C, 1)", "Event A (1)")]
    [InlineData("what was received", "update event set digest = sha256('other') where (company_id, id) = ($C, 1)", "Event A (1)")]
    [InlineData("an event without an entry", "delete from event where (company_id, id) = ($C, 7)", "Event 7")]
    public async Task Whoever_alters_one_row_is_found_at_its_event(string what, string sql, string found)
    {
        var company = await Books("ALTER" + Guid.NewGuid().ToString("N")[..8]);
        await AsOwner(company, sql);
        var fault = Assert.Single((await Verify(company)).Faults, f => f.Step == ProvingStep.Chain);
        Assert.True(fault.Message.StartsWith(found, StringComparison.Ordinal), $"{what}: {fault.Message}");
    }

    [Fact]
    public async Task Two_entries_that_have_changed_places_are_both_found()
    {
        var company = await Books("SWAP");
        await AsOwner(company, "update entry set event_id = 4 - event_id where company_id = $C and event_id in (1, 3)");
        Assert.Equal(["Event A (1)", "Event C (3)"], (await Verify(company)).Faults.Select(f => f.Message[..11]).Distinct());
    }

    [Theory]
    [InlineData("event_id")]
    [InlineData("number")]
    public async Task Two_events_that_have_changed_places_in_everything_are_found(string by)
    {
        var company = await Books("SWAPPED" + by.Length);
        await AsOwner(company, by == "number" ? "update entry set number = 100 + 3 - number where company_id = $C and number in (1, 2); update entry set number = number - 100 where company_id = $C and number > 100"
            : "update posted_digest set place = 100 + 3 - place where company_id = $C and place in (1, 2); update posted_digest set place = place - 100 where company_id = $C and place > 100");
        Assert.Contains((await Verify(company)).Faults, f => f.Step == ProvingStep.Chain);
    }

    [Fact]
    public async Task The_last_event_taken_away_with_everything_of_it_is_missed_by_the_numbers_and_by_the_head_that_was_kept()
    {
        var company = await Books("LAST");
        var head = Assert.Single(await Verifying.Heads(company, default));
        const string Gone = "delete from event where company_id = $C and id >= 6; delete from entry where company_id = $C and event_id >= 6; delete from line where company_id = $C and entry_id >= 7; " +
            "delete from stock_movement where company_id = $C and event_id >= 6; delete from posted_digest where company_id = $C and event_id >= 6; delete from receipt_standing where company_id = $C";
        await AsOwner(company, Gone);
        var faults = (await Verify(company)).Faults;
        Assert.Contains(faults, f => f.Step == ProvingStep.Numbers && f.Message.StartsWith("Number 7", StringComparison.Ordinal));
        Assert.Contains(faults, f => f.Step == ProvingStep.Balances);

        // Whoever turns back everything that counts is still found by the head.
        await AsOwner(company, "update fiscal_year set last_number = 6 where company_id = $C; update posting_row set last_event = 5, last_entry = 6 where company_id = $C; " +
            "update balance b set debit = s.debit, credit = s.credit from (select l.account_id, n.period_id, sum(greatest(amount, 0)) as debit, sum(greatest(-amount, 0)) as credit from line l join entry n on n.company_id = l.company_id " +
            "and n.id = l.entry_id where l.company_id = $C group by 1, 2) s where b.company_id = $C and b.account_id = s.account_id and b.period_id = s.period_id; " +
            "delete from balance b where company_id = $C and not exists (select from line l join entry n on n.company_id = l.company_id and n.id = l.entry_id where l.company_id = $C and l.account_id = b.account_id and n.period_id = b.period_id); " +
            "update stock_standing k set quantity = s.quantity, amount = s.amount from (select item_id, sum(quantity) as quantity, sum(amount) as amount from stock_movement where company_id = $C and subledger = 'inventory' group by 1) s " +
            "where k.company_id = $C and k.item_id = s.item_id");
        Assert.Equal([ProvingStep.Heads], (await Verify(company, head)).Faults.Select(f => f.Step));
    }

    [Fact]
    public async Task What_is_put_in_beside_posting_is_found()
    {
        var company = await Books("BESIDE");
        await AsOwner(company, "insert into entry (company_id, id, fiscal_year_id, number, date, period_id, event_id, edition, total) select company_id, 900, fiscal_year_id, 900, date, period_id, 7, edition, 0 from entry where company_id = $C and id = 1; " +
            "insert into event (company_id, id, connection, source, source_id, type, revision, date, document_date, tax_date, due_date, digest, received, prepared, outcome, edition, came) " +
            "select company_id, 800, connection, source, 'ROGUE', type, 1, date, date, date, date, digest, received, prepared, 'landed', edition, 800 from event where company_id = $C and id = 1");
        var faults = (await Verify(company)).Faults;
        Assert.Contains(faults, f => f.Message.StartsWith("Event ROGUE (800) is in the books and in no chain", StringComparison.Ordinal));
        Assert.Contains(faults, f => f.Message.StartsWith("Event SAYS (7) is not as it was posted", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_chain_written_again_from_an_altered_event_on_is_found_by_a_head_that_was_kept()
    {
        var company = await Books("AGAIN");
        var head = Assert.Single(await Verifying.Heads(company, default));
        Assert.Contains("another digest", Assert.Single((await Verify(company, head with { Digest = new string('0', 64) })).Faults).Message, StringComparison.Ordinal);
        Assert.True((await Verify(company, head)).Sound);
    }

    // docs/formats.md, "Chain of digests", followed by hand for one event.
    [Fact]
    public async Task The_digest_of_an_event_is_that_of_the_one_before_and_its_canonical_rows()
    {
        var company = await nursery.OpenCompany("FORM");
        var journal = """{"id":"J","type":"manual-journal","date":"2026-04-30","lines":[{"account":"6140","debit":50},{"account":"2490","credit":50}]}""";
        Assert.Equal(PostingFate.Landed, (await nursery.Posting.Post(company, nursery.User, [Nursery.Event(journal), Nursery.Event(journal.Replace("\"J\"", "\"K\"", StringComparison.Ordinal))], default))[1].Fate);
        var labels = (await nursery.Rulebooks.Load(company, null, default)).Labels;
        var year = await nursery.Ask<int>($"select id from fiscal_year where company_id = {company}");
        var period = await nursery.Ask<int>($"select id from period where company_id = {company} and number = 4");
        var before = Array.Empty<byte>();
        for (var i = 1; i <= 2; i++)
        {
            var received = await nursery.Ask<string>($"select encode(digest, 'hex') from event where company_id = {company} and id = {i}");
            string[] rows =
            [
                $"event\t{i}\t1\t1\t0\tmanual-journal\t2026-04-30\t{received}",
                $"entry\t{i}\t{year}\t{i}\t2026-04-30\t{period}\t\\N",
                $"line\t{i}\t1\t2026-04-30\t{labels.Account("6140")}\t50.0000\tEUR\t50.0000\t\\N\t\\N\t\\N\t\\N\t\\N",
                $"line\t{i}\t2\t2026-04-30\t{labels.Account("2490")}\t-50.0000\tEUR\t-50.0000\t\\N\t\\N\t\\N\t\\N\t\\N",
            ];
            before = SHA256.HashData([.. before, .. Encoding.UTF8.GetBytes(string.Concat(rows.Select(r => r + "\n")))]);
        }
        Assert.Equal((2, Convert.ToHexStringLower(before)), (await Verifying.Heads(company, default)).Select(h => (h.Place, h.Digest)).Single());
    }
}
