using Assignum.Core.Rulebooks;

namespace Assignum.Formats.Landing;

/// <summary>Where purposes land, and how they are covered, as NDJSON, one purpose a line.</summary>
public static class WhereJson
{
    /// <summary>Writes where each purpose lands.</summary>
    public static void Write(Utf8Text text, IEnumerable<LandsOn> landings)
    {
        foreach (var lands in landings)
            HeldJson.Line(text, json =>
            {
                json.WriteString("purpose", lands.Purpose.Name);
                json.Text("account", lands.Account?.Number);
                json.Text("rung", lands.Rung?.Name);
                json.Text("rule", lands.Rule?.Id);
                if (lands.WhyNot is not null)
                    json.WriteString("reason", lands.Account is null ? "no-rule" : "account-not-postable");
            });
    }

    /// <summary>Writes how each purpose is covered; rungs of one name, of a purpose and its stand-in, are counted together.</summary>
    public static void Write(Utf8Text text, IEnumerable<Coverage> coverages)
    {
        foreach (var coverage in coverages)
            HeldJson.Line(text, json =>
            {
                json.WriteString("purpose", coverage.Purpose.Name);
                json.WriteNumber("combinations", coverage.Combinations);
                json.WriteStartObject("byRung");
                foreach (var rung in coverage.ByRung.GroupBy(r => r.Rung))
                    json.WriteNumber(rung.First().Rung.Name, rung.Sum(r => r.Combinations));
                json.WriteEndObject();
                json.WriteNumber("suspense", coverage.Suspense);
                json.WriteNumber("none", coverage.None);
            });
    }
}
