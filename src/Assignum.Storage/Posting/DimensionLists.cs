using Assignum.Core;
using Assignum.Core.Posting;
using FuzzySharp;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>
/// The values a company's dimensions may have. A dimension with values is a closed list, one without takes any; a company that has defined
/// no dimension at all takes them as they come.
/// </summary>
sealed class DimensionLists
{
    const int MostNamed = 3, LeastLikeness = 50;

    internal static readonly DimensionLists None = new([]);

    readonly Dictionary<string, (string Code, List<string> Values)> byFold;

    DimensionLists(Dictionary<string, (string, List<string>)> byFold) => this.byFold = byFold;

    internal static async Task<DimensionLists> Read(NpgsqlConnection connection, int company, CancellationToken stop)
    {
        var rows = await connection.Command("""
            select d.code, v.code from dimension d left join dimension_value v on v.company_id = d.company_id and v.dimension_id = d.id
            where d.company_id = $1 order by d.code_fold, v.code_fold
            """, company).List(row => (Code: row.GetString(0), Value: row.TextOrNull(1)), stop);
        return new(rows.GroupBy(r => r.Code).ToDictionary(g => Fold.Of(g.Key), g => (g.Key, g.Where(r => r.Value is not null).Select(r => r.Value!).ToList())));
    }

    /// <summary>Each value that a closed list lacks, with the nearest ones.</summary>
    internal IEnumerable<HeldReason> Of(BusinessEvent happened) => byFold.Count == 0 ? [] : happened.AllDimensions().Select(Fault).OfType<HeldReason>();

    HeldReason? Fault((string Field, string Name, string Value) given)
    {
        if (!byFold.TryGetValue(Fold.Of(given.Name), out var list))
            return new HeldReason(HeldCause.UnknownCode,
                $"The company has no dimension {given.Name} ({given.Field}).{Nearest(given.Name, [.. byFold.Values.Select(d => d.Code)])} Define it, or " +
                    "correct the name.") { Field = given.Field };
        if (list.Values.Count == 0 || list.Values.Exists(v => Fold.Same(v, given.Value)))
            return null;
        return new HeldReason(HeldCause.UnknownCode,
            $"Dimension {list.Code} has no value {given.Value} ({given.Field}).{Nearest(given.Value, list.Values)} Add the value, or correct it.")
            { Field = given.Field };
    }

    static string Nearest(string typed, IReadOnlyList<string> known)
    {
        List<string> nearest = [.. known.Select(k => (Code: k, Likeness: Fuzz.WeightedRatio(Fold.Of(typed), Fold.Of(k)))).Where(k =>
            k.Likeness >= LeastLikeness).OrderByDescending(k => k.Likeness).Take(MostNamed).Select(k => k.Code)];
        return nearest.Count == 0 ? "" : $" Nearest: {string.Join(", ", nearest)}.";
    }
}
