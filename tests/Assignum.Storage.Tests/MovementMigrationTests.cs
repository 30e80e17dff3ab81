using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Testing;
using Npgsql;

namespace Assignum.Storage.Tests;

/// <summary>Books made by the version before movements had tables by subledger come over whole: books/of-migration-13.sql is a copy of such a database.</summary>
public sealed class MovementMigrationTests : IAsyncLifetime
{
    sealed record Row(long Event, int Place, long? Entry, long? Reverses, string Subledger, string Member, decimal? Quantity, decimal? Base, decimal Amount, string Currency, decimal Document);

    const int Before = 13;

    FreshDatabase database = null!;
    NpgsqlDataSource owner = null!;
    List<Row> before = [], after = [];

    public async Task InitializeAsync()
    {
        database = await FreshDatabase.Make();
        owner = NpgsqlDataSource.Create(database.Owner);
        Database.Migrate(database.Owner, number => number <= Before);
        await Run("create table line_2026 partition of line for values from ('2026-01-01') to ('2027-01-01')");
        await Run("create table subledger_line_2026 partition of subledger_line for values from ('2026-01-01') to ('2027-01-01')");
        await Run("set session_replication_role = replica; " + await File.ReadAllTextAsync("books/of-migration-13.sql") + "; reset session_replication_role");
        before = await Rows("subledger_line");
        Database.Migrate(database.Owner);
        after = await Rows("movement");
    }

    public async Task DisposeAsync()
    {
        await owner.DisposeAsync();
        await database.DisposeAsync();
    }

    [Fact]
    public async Task What_was_posted_before_there_was_a_chain_is_chained_as_it_stands()
    {
        await using var source = Database.Open(database.Owner);
        foreach (var company in await Texts("select id::text from company"))
            Assert.DoesNotContain((await new Proving.BooksVerifying(source).Verify(int.Parse(company, System.Globalization.CultureInfo.InvariantCulture), company, [], default)).Faults, f => f.Step == Proving.ProvingStep.Chain);
        Assert.NotEmpty(await Texts("select digest::text from posted_digest"));
    }

    [Fact]
    public void Every_movement_is_there_with_its_place_its_amounts_and_its_name()
    {
        Assert.Equal(61, before.Count);
        // The item group took another code since; the rows follow it by its id.
        Assert.Equal(before.Select(r => r with { Member = r.Member == "SEEDS@SHOP" ? "SEED@SHOP" : r.Member }), after);
    }

    [Fact]
    public async Task A_party_s_movement_knows_its_item_and_when_that_is_due_also_where_it_is_taken_back()
    {
        Assert.Equal(["1 1 2026-04-13", "10 1 2026-04-13", "10 10 2026-04-13"], await Texts("""
            select event_id || ' ' || item_event_id || ' ' || due_date from party_movement m join member p on p.id = m.party_id where p.code = 'C-10' and event_id in (1, 10) order by event_id, line_no
            """));
    }

    [Fact]
    public async Task Goods_know_their_item_or_their_group_and_their_place()
    {
        Assert.Equal(["SEED-01 NORTH -10", "SEED-02 - -4"], await Stock(1));
        Assert.Equal(["SEED-01 SHOP -3", "SEED SHOP -2"], await Stock(2));
        Assert.Equal(["SEED-01 GLASS -10", "TREE-01 GLASS -5", "SEED-01 GLASS 10", "TREE-01 GLASS 6"], await Stock(11));
    }

    [Fact]
    public async Task Tax_knows_its_code_its_component_and_its_side()
    {
        Assert.Equal(["DIST STATE output", "DIST TOWN output"], await Tax(2));
        Assert.Equal(["RC20  input", "RC20  reverse"], await Tax(6));
        Assert.Equal(["RC20  input", "RC20  reverse"], await Tax(9));
        Assert.Equal(["RC20  input", "RC20  reverse", "RC20  input", "RC20  reverse"], await Tax(12));
        Assert.Equal(["R8  output"], await Tax(3));
    }

    [Fact]
    public async Task A_tax_code_that_has_another_code_now_keeps_its_old_one_on_earlier_entries()
    {
        Assert.Equal(["R8"], await Texts("select distinct t.code from tax_movement m join tax_code t on t.id = m.tax_code_id where t.code like 'R%8'"));
        Assert.Equal(["R08"], await Texts("select t.code from tax_code t where t.code like 'R%8' and exists (select from tax_code_setting s where s.tax_code_id = t.id)"));
    }

    [Fact]
    public async Task Money_knows_its_account_or_its_method() =>
        Assert.Equal(["TILL -", "- card", "TILL -", "- card"], await Texts("select coalesce(money_account, '-') || ' ' || coalesce(method, '-') from money_movement order by event_id, line_no"));

    [Fact]
    public async Task Dimension_sets_are_rows_and_new_lines_find_them()
    {
        Assert.Equal(["CC 100", "CC 200", "CC 300", "DEPT 2", "DEPT 2"], await Texts("select dimension || ' ' || value from dimension_of_set order by dimension, value"));

        await using var source = Database.Open(database.Owner);
        var store = new PostingStore(source, new RulebookCache(new RulebookStore(source)), new EventText(Formats.Events.EventWriter.Write, Formats.Events.EventReader.Kept));
        var posted = Assert.Single(await store.Post(1, 1, [Nursery.Invoice("NEW-1", more: "\"taxArea\":\"EASTMERE\",\"dimensions\":{\"DEPT\":\"2\",\"CC\":\"200\"},")], default));

        Assert.Equal(PostingFate.Landed, posted.Fate);
        Assert.Equal(["CC=200;DEPT=2"], await Texts($"select distinct d.text from line l join dimension_set d on d.id = l.dimension_set_id where l.entry_id = {posted.EntryId}"));
        Assert.Equal(["3"], await Texts("select count(*)::text from dimension_set"));
    }

    Task<List<string>> Stock(long happened) => Texts($"""
        select coalesce(i.code, g.code) || ' ' || coalesce(o.code, '-') || ' ' || trim_scale(quantity)
        from stock_movement m left join member i on i.id = m.item_id left join grouping g on g.id = m.item_group_id left join member o on o.id = m.location_id
        where event_id = {happened} order by line_no
        """);

    Task<List<string>> Tax(long happened) => Texts($"select t.code || ' ' || component || ' ' || side from tax_movement m join tax_code t on t.id = m.tax_code_id where event_id = {happened} order by line_no");

    async Task Run(string sql)
    {
        await using var command = owner.CreateCommand(sql);
        await command.ExecuteNonQueryAsync();
    }

    async Task<List<string>> Texts(string sql) => await List(sql, row => row.GetString(0));

    Task<List<Row>> Rows(string table) =>
        List($"select event_id, line_no, entry_id, reverses, subledger, member, quantity, base, amount, currency, document_amount from {table} order by 1, 2", row =>
            new Row(row.GetInt64(0), row.GetInt32(1), Maybe<long>(row, 2), Maybe<long>(row, 3), row.GetString(4), row.GetString(5), Maybe<decimal>(row, 6), Maybe<decimal>(row, 7),
                row.GetDecimal(8), row.GetString(9), row.GetDecimal(10)));

    static T? Maybe<T>(NpgsqlDataReader row, int at) where T : struct => row.IsDBNull(at) ? null : row.GetFieldValue<T>(at);

    async Task<List<T>> List<T>(string sql, Func<NpgsqlDataReader, T> read)
    {
        await using var command = owner.CreateCommand(sql);
        await using var rows = await command.ExecuteReaderAsync();
        var list = new List<T>();
        while (await rows.ReadAsync())
            list.Add(read(rows));
        return list;
    }
}
