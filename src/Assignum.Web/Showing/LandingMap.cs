using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Journal;

namespace Assignum.Web.Showing;

/// <summary>A bar of the landing map.</summary>
/// <param name="Key">What it stands for.</param>
/// <param name="Label">What is written beside it.</param>
/// <param name="Address">Where it leads, or null.</param>
/// <param name="Amount">Its money.</param>
/// <param name="Waits">Suspense, or held.</param>
/// <param name="Top">Its upper edge in the drawing.</param>
/// <param name="Height">Its height.</param>
public sealed record MapBar(string Key, string Label, string? Address, decimal Amount, bool Waits, double Top, double Height);

/// <summary>A ribbon of the landing map.</summary>
/// <param name="Path">Its outline.</param>
/// <param name="Says">"Web shop, revenue: 1,204.00 in 12 lines".</param>
/// <param name="Address">Its lines.</param>
/// <param name="Waits">Suspense, or held.</param>
public sealed record MapRibbon(string Path, string Says, string Address, bool Waits);

/// <summary>The landing map: where events come from, by which purpose, to which account; ribbons as wide as the money.</summary>
public sealed class LandingMap
{
    const double Money = 330, LeastSlot = 17, LeastHeight = 1.5, MostSpread = 34, FromX = 126, PurposeX = 478, PurposeOut = 486, AccountX = 838;
    const int MostAccounts = 40;

    readonly Dictionary<string, Column> columns = [];
    readonly double scale;

    /// <summary>Bars at the left, in the middle, at the right.</summary>
    public IReadOnlyList<MapBar> Sources { get; }
    /// <summary>The purposes.</summary>
    public IReadOnlyList<MapBar> Purposes { get; }
    /// <summary>The accounts, by class.</summary>
    public IReadOnlyList<MapBar> Accounts { get; }
    /// <summary>All ribbons.</summary>
    public IReadOnlyList<MapRibbon> Ribbons { get; }
    /// <summary>Height of the drawing.</summary>
    public int Height => (int)Math.Ceiling(columns.Values.Max(c => c.Bottom)) + 6;

    // A way of money: from, by, to.
    sealed record Way(string From, string By, string To, string ToLabel, int Order, decimal Amount, long Lines, bool Waits, string FromAddress,
        string ToAddress);

    /// <param name="flows">What landed.</param>
    /// <param name="held">What is held.</param>
    /// <param name="chart">Accounts of the draft, by number.</param>
    /// <param name="decimals">Decimals of the company's currency.</param>
    /// <param name="journal">Address of the journal for a purpose, with further conditions.</param>
    public LandingMap(IReadOnlyList<Flow> flows, IReadOnlyList<HeldFlow> held, IReadOnlyDictionary<string, Account> chart, int decimals, Func<string,
        string> journal)
    {
        var large = flows.GroupBy(f => f.Account).OrderByDescending(g => g.Sum(f => f.Amount)).Take(MostAccounts).Select(g => g.Key).ToHashSet();
        List<Way> ways =
        [
            .. flows.Select(f =>
            {
                var account = chart.GetValueOrDefault(f.Account);
                var alone = large.Contains(f.Account) || account?.Suspense == true;
                var kind = account is null ? AccountClass.Equity : account.Class;
                return new Way(f.Connection, f.Purpose ?? "", alone ? f.Account : "class:" + kind, alone ? $"{f.Account} {f.AccountName}"
                    : $"others, {kind.Word().Replace('-', ' ')}", (int)kind, f.Amount, f.Lines, account?.Suspense == true,
                    journal($"purpose={f.Purpose}&connection={Uri.EscapeDataString(f.Connection)}"),
                        journal($"purpose={f.Purpose}" + (alone ? $"&account={Uri.EscapeDataString(f.Account)}" : "")));
            }),
            .. held.Select(h => new Way(h.Connection, h.Purpose ?? "held", "held", $"held, {Show.Count(held.Sum(x => x.Events), "event")}", int.MaxValue,
                h.Amount, h.Events, true, journal(""), journal(""))),
        ];
        var most = new[] { ways.GroupBy(w => w.From), ways.GroupBy(w => w.By), ways.GroupBy(w => w.To) }.Max(g => g.Sum(x => x.Sum(w => w.Amount)));
        scale = most == 0 ? 1 : Money / (double)most;
        var tallest = new[] { ways.GroupBy(w => w.From), ways.GroupBy(w => w.By), ways.GroupBy(w => w.To) }.Max(g => g.Sum(x => SlotOf(x.Sum(w => w.Amount))));
        Sources = Place("from", tallest,
            ways.GroupBy(w => w.From).OrderByDescending(g => g.Sum(w => w.Amount)).Select(g =>
            (g.Key, SourceName(g.Key), g.Sum(w => w.Amount), false, (string?)null)));
        Purposes = Place("by", tallest,
            ways.GroupBy(w => w.By).OrderBy(g => Purpose.Find(g.Key)?.Index ?? int.MaxValue).Select(g =>
            (g.Key, PurposeName(g.Key), g.Sum(w => w.Amount), g.Any(w => w.Waits), (string?)journal($"purpose={g.Key}"))));
        Accounts = Place("to", tallest,
            ways.GroupBy(w => w.To).OrderBy(g => g.First().Order).ThenBy(g => g.Key, StringComparer.Ordinal).Select(g =>
            (g.Key, g.First().ToLabel, g.Sum(w => w.Amount), g.Any(w => w.Waits), g.Key == "held" || g.Key.StartsWith("class:", StringComparison.Ordinal)
            ? null : (string?)journal($"account={Uri.EscapeDataString(g.Key)}"))));
        Ribbons =
        [
            .. Sources.SelectMany(s => ways.Where(w => w.From == s.Key).GroupBy(w => (w.By, w.Waits && w.To == "held")).OrderBy(g =>
                Purpose.Find(g.Key.By)?.Index ?? int.MaxValue)
                .Select(g => Ribbon("from", s.Key, "by", g.Key.By, g, FromX, PurposeX, g.Key.Item2, g.First().FromAddress,
                    $"{SourceName(s.Key)}, {PurposeName(g.Key.By)}", decimals))),
            .. Purposes.SelectMany(p => Accounts.SelectMany(a => ways.Where(w => w.By == p.Key && w.To == a.Key).GroupBy(w => w.To)
                .Select(g => Ribbon("by", p.Key, "to", a.Key, g, PurposeOut, AccountX, g.First().Waits, g.First().ToAddress, $"{PurposeName(p.Key)}, {a.Label}",
                    decimals)))),
        ];
    }

    /// <summary>"Web shop" for WEB-SHOP; what was typed here is "typed here".</summary>
    public static string SourceName(string connection) =>
        connection.Equals("OWN", StringComparison.OrdinalIgnoreCase) ? "Typed here" : Show.Title(connection.ToLowerInvariant());

    static string PurposeName(string purpose) => purpose.Length == 0 ? "by hand" : Show.Purpose(purpose);

    double SlotOf(decimal amount) => Math.Max(LeastSlot, Math.Max(LeastHeight, (double)amount * scale) + 7);

    // A short column is spread, so that ribbons run level.
    List<MapBar> Place(string column, double tallest, IEnumerable<(string Key, string Label, decimal Amount, bool Waits, string? Address)> given)
    {
        var bars = given.ToList();
        var spread = Math.Min(MostSpread, (tallest - bars.Sum(b => SlotOf(b.Amount))) / Math.Max(1, bars.Count));
        var (placed, at) = (new List<MapBar>(), 4.0);
        var spots = new Dictionary<string, Spot>();
        foreach (var (key, label, amount, waits, address) in bars)
        {
            var height = Math.Max(LeastHeight, (double)amount * scale);
            var slot = SlotOf(amount) + spread;
            var top = at + (height < LeastSlot - 7 ? (LeastSlot - 7 - height) / 2 : 0);
            placed.Add(new(key, label, address, amount, waits, top, height));
            spots[key] = new Spot { Top = top };
            at += slot;
        }
        columns[column] = new Column(spots, at);
        return placed;
    }

    MapRibbon Ribbon(string fromColumn, string from, string toColumn, string to, IEnumerable<Way> ways, double x1, double x2, bool waits, string address,
        string says, int decimals)
    {
        var (amount, lines) = (ways.Sum(w => w.Amount), ways.Sum(w => w.Lines));
        var (a, b, h, c) = (columns[fromColumn].Spots[from], columns[toColumn].Spots[to], Math.Max(0.6, (double)amount * scale), (x1 + x2) / 2);
        var (y1, y2) = (a.Top + a.Out, b.Top + b.In);
        a.Out += (double)amount * scale;
        b.In += (double)amount * scale;
        var path = FormattableString.Invariant($"M{x1} {y1:0.##}C{c} {y1:0.##} {c} {y2:0.##} {x2} {y2:0.##}V{y2 + h:0.##}C{c} {y2 + h:0.##} {c} ") +
            FormattableString.Invariant($"{y1 + h:0.##} {x1} {y1 + h:0.##}Z");
        return new MapRibbon(path, $"{says}: {Show.Amount(amount, decimals)} in {Show.Count(lines, to == "held" || waits && x2 < AccountX ? "event" : "line")}",
            address, waits);
    }

    sealed record Column(Dictionary<string, Spot> Spots, double Bottom);

    sealed class Spot
    {
        internal double Top, In, Out;
    }
}
