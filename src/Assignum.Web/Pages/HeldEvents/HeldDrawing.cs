using System.Globalization;
using System.Text;
using Assignum.Storage.HeldEvents;
using Assignum.Web.Showing;

namespace Assignum.Web.Pages.HeldEvents;

/// <summary>How many events wait, by the day, or the week, on which they happened: those of the chosen cause dark.</summary>
static class HeldDrawing
{
    const int Width = 700, Height = 64, Top = 16, Bars = 14;

    internal static string Of(IReadOnlyList<HeldEvent> all, IReadOnlyList<HeldEvent> chosen, DateOnly today)
    {
        var first = all.Min(e => e.Date);
        var days = Math.Max(1, (int)Math.Ceiling((today.DayNumber - first.DayNumber + 1) / (double)Bars));
        var begin = today.AddDays(-(days * Bars) + 1);
        int At(HeldEvent e) => Math.Clamp((e.Date.DayNumber - begin.DayNumber) / days, 0, Bars - 1);
        var (whole, dark) = (all.CountBy(At).ToDictionary(), chosen.CountBy(At).ToDictionary());
        var most = whole.Values.Max();
        var drawn = new StringBuilder();
        drawn.Append(CultureInfo.InvariantCulture, $"<svg class=\"held-days\" viewBox=\"0 0 {Width} {Height + 18}\" role=\"img\" aria-label=\"Held events by ");
        drawn.Append(days == 1 ? "day" : $"{days} days").Append("\">");
        for (var i = 0; i < Bars; i++)
        {
            var x = i * Width / Bars;
            if (whole.GetValueOrDefault(i) is > 0 and var count)
            {
                var high = (Height - Top) * count / most;
                Bar("rest", x, high);
                Bar("own", x, (Height - Top) * dark.GetValueOrDefault(i) / most);
                drawn.Append(CultureInfo.InvariantCulture, $"<text x=\"{x + 25}\" y=\"{Height - high - 4}\" text-anchor=\"middle\">{count}</text>");
            }
            var day = begin.AddDays(i * days);
            drawn.Append(CultureInfo.InvariantCulture,
                $"<text x=\"{x + 25}\" y=\"{Height + 14}\" text-anchor=\"middle\" class=\"day\">{day.ToString("d MMM", CultureInfo.InvariantCulture)}</text>");
        }
        return drawn.Append(CultureInfo.InvariantCulture, $"<line x1=\"0\" x2=\"{Width}\" y1=\"{Height}\" y2=\"{Height}\" /></svg>").ToString();

        void Bar(string kind, int x, int high) => drawn.Append(CultureInfo.InvariantCulture,
            $"<rect class=\"{kind}\" x=\"{x + 9}\" y=\"{Height - high}\" width=\"32\" height=\"{high}\" />");
    }
}
