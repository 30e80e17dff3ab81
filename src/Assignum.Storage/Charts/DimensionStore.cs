using Assignum.Core;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Charts;

/// <summary>A dimension a company has defined, with the values it offers.</summary>
public sealed record DimensionDefined(int Id, string Code, string Name, IReadOnlyList<(string Code, string Name)> Values);

/// <summary>The dimensions of a company. They name and offer; what an account asks of them is a setting of the account.</summary>
public sealed class DimensionStore(NpgsqlDataSource source, Draft draft)
{
    const int LongestCode = 20, LongestName = 100;

    /// <summary>All dimensions with their values, by code.</summary>
    public async Task<IReadOnlyList<DimensionDefined>> All(int company, CancellationToken stop)
    {
        var rows = await source.Command("""
            select d.id, d.code, d.name, v.code, v.name from dimension d
            left join dimension_value v on v.company_id = d.company_id and v.dimension_id = d.id
            where d.company_id = $1 order by d.code_fold, v.code_fold
            """, company).List(row => (Id: row.GetInt32(0), Code: row.GetString(1), Name: row.GetString(2), Value: row.TextOrNull(3),
                ValueName: row.TextOrNull(4)), stop);
        return [.. rows.GroupBy(r => (r.Id, r.Code, r.Name)).Select(g =>
            new DimensionDefined(g.Key.Id, g.Key.Code, g.Key.Name, [.. g.Where(r => r.Value is not null).Select(r => (r.Value!, r.ValueName!))]))];
    }

    /// <summary>Counts changes of what describes accounts: what whoever opens the page has seen.</summary>
    public Task<long> Seen(int company, CancellationToken stop) =>
        source.Command("select described from draft_row where company_id = $1", company).Value<long>(stop);

    /// <summary>Defines a dimension, or gives one of that code another name and other values.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who defines it.</param>
    /// <param name="code">Its code.</param>
    /// <param name="name">Its name.</param>
    /// <param name="values">The values it may have; none: any.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="seen">What <see cref="Seen"/> gave when the user looked; null where nobody did.</param>
    public Task<Refusal?> Define(int company, int user, string? code, string? name, IReadOnlyList<(string Code, string Name)> values, CancellationToken stop,
        long? seen = null) =>
        draft.Change(company, user, async change =>
        {
            if (Fault(code, name, values) is { } fault)
                return fault;
            if (await change.Stale(seen, "the dimensions") is { } stale)
                return stale;
            var id = await change.Command("""
                insert into dimension (company_id, code, code_fold, name) values ($1, $2, $3, $4)
                on conflict (company_id, code_fold) do update set name = excluded.name returning id
                """, company, code!.Trim(), Fold.Of(code), name!.Trim()).Value<int>(stop);
            await change.Command("delete from dimension_value where company_id = $1 and dimension_id = $2", company, id).Run(stop);
            await change.Command("insert into dimension_value (company_id, dimension_id, code, code_fold, name) select $1, $2, * from unnest($3::text[], " +
                "$4::text[], $5::text[])",
                company, id, values.Select(v => v.Code.Trim()).ToArray(), values.Select(v => Fold.Of(v.Code)).ToArray(),
                    values.Select(v => v.Name.Trim()).ToArray()).Run(stop);
            change.OnlyDescribes = true;
            await change.Log("dimension", id, $"Dimension {code.Trim()} {name.Trim()} defined, with {values.Count} values.", null, null);
            return null;
        }, stop);

    /// <summary>Takes a dimension away that no account asks for.</summary>
    public Task<Refusal?> Remove(int company, int user, string code, CancellationToken stop, long? seen = null) =>
        draft.Change(company, user, async change =>
        {
            if (await change.Stale(seen, "the dimensions") is { } stale)
                return stale;
            var book = (await change.Book()).Book;
            if (book.Accounts.FirstOrDefault(a => a.Dimensions.Keys.Concat(a.DimensionDefaults.Keys).Any(d => Fold.Same(d, code))) is { } asking)
                return new Refusal("code", $"Dimension {code} can't be deleted: account {asking.Number} {asking.Name} asks for it. Make it optional there, " +
                    "without a value, first.");
            await change.Command("delete from dimension_value v using dimension d where v.company_id = $1 and d.company_id = $1 and v.dimension_id = d.id " +
                "and d.code_fold = $2", company, Fold.Of(code)).Run(stop);
            await change.Command("delete from dimension where company_id = $1 and code_fold = $2", company, Fold.Of(code)).Run(stop);
            change.OnlyDescribes = true;
            await change.Log("dimension", 0, $"Dimension {code} deleted.", null, null);
            return null;
        }, stop);

    static Refusal? Fault(string? code, string? name, IReadOnlyList<(string Code, string Name)> values)
    {
        if (string.IsNullOrWhiteSpace(code) || code.Trim().Length > LongestCode || code.Any(c => c is ';' or '=' || char.IsWhiteSpace(c) || char.IsControl(c)))
            return new Refusal("code", $"The code of a dimension has no spaces, = or ; and at most {LongestCode} characters, such as CC. Write one.");
        if (string.IsNullOrWhiteSpace(name) || name.Trim().Length > LongestName)
            return new Refusal("name", $"A dimension has a name of at most {LongestName} characters, such as Cost centre. Write one.");
        if (values.FirstOrDefault(v => v.Code.Trim().Length is 0 or > LongestCode || v.Code.Any(c => c is ';' or '=' || char.IsControl(c))
            || v.Name.Length > LongestName) is { Code: { } bad })
            return new Refusal("values", $"“{bad}” can't be a value: its code has 1 to {LongestCode} characters, without = and ;. " +
                "Write a code and a name on each line.");
        return values.GroupBy(v => Fold.Of(v.Code)).FirstOrDefault(g => g.Count() > 1) is { } twice
            ? new Refusal("values", $"Value {twice.First().Code} stands there twice. Keep one.") : null;
    }
}
