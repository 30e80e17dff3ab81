using Assignum.Core.Rulebooks;
using Npgsql;

namespace Assignum.Bench;

/// <summary>The same questions in one SQL statement over indexed rules.</summary>
static class ResolvingInSql
{
    const int Questions = 10_000;

    internal static async Task Run()
    {
        var sample = Sample.Book(10_000);
        var book = new CompiledRulebook(sample);
        var questions = Sample.Questions(sample, Questions);
        var facts = questions.Select(q => book.FactsOf(q)).ToArray();
        await using var database = await BenchDatabase.Make(sample);
        await using var connection = new NpgsqlConnection(database.Owner);
        await connection.OpenAsync();
        await Run(connection, "create unlogged table answer (rung smallint, item text, party text, item_group text, party_group text, account integer)");
        await using (var copy = await connection.BeginBinaryImportAsync("copy answer from stdin binary"))
        {
            foreach (var rule in sample.Rules.Where(r => r.Purpose == Purpose.Revenue))
            {
                copy.StartRow();
                copy.Write((short)Purpose.Revenue.DefaultLadder.IndexOf(rule.Rung));
                foreach (var fact in new[] { Fact.Item, Fact.Party, Fact.ItemGroup, Fact.PartyGroup })
                    copy.Write(rule.When.FirstOrDefault(w => w.Fact == fact).Code ?? "");
                copy.Write(int.Parse(rule.Account, System.Globalization.CultureInfo.InvariantCulture));
            }
            await copy.CompleteAsync();
        }
        await Run(connection, "create index on answer (rung, item, party, item_group, party_group) include (account)");
        await Run(connection, "vacuum analyze answer");
        await using var statement = new NpgsqlCommand("""
            select count(coalesce(a0.account, a1.account, a4.account, a6.account, a9.account))
            from unnest($1::text[], $2::text[], $3::text[], $4::text[]) q(item, party, item_group, party_group)
            left join answer a0 on (a0.rung, a0.item, a0.party) = (0, q.item, q.party)
            left join answer a1 on (a1.rung, a1.item) = (1, q.item)
            left join answer a4 on (a4.rung, a4.item, a4.party, a4.item_group, a4.party_group) = (4, '', '', q.item_group, q.party_group)
            left join answer a6 on (a6.rung, a6.item, a6.party, a6.item_group) = (6, '', '', q.item_group)
            left join answer a9 on a9.rung = 9
            """, connection);
        foreach (var fact in new[] { Fact.Item, Fact.Party, Fact.ItemGroup, Fact.PartyGroup })
            statement.Parameters.Add(new NpgsqlParameter { Value = questions.Select(q => q.Find(f => f.Fact == fact).Code).ToArray() });
        await statement.PrepareAsync();

        var day = new DateOnly(2026, 3, 14);
        var found = 0L;
        await Ratio.PrintAsync("sql: 10,000 questions to 10,000 rules, a hundred times in memory against once in SQL", "at most 4 × (25 times the statement's rate)",
            () => { for (var k = 0; k < 100; k++) foreach (var asked in facts) found += book.Resolve(Purpose.Revenue, asked, day).RuleAt; return Task.CompletedTask; },
            () => statement.ExecuteScalarAsync());
    }

    static async Task Run(NpgsqlConnection connection, string sql)
    {
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }
}
