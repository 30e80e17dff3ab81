using System.Text;

namespace Assignum.Bench;

/// <summary>Changes a text or bytes as a broken sender would, or a hostile one. The same seed makes the same changes.</summary>
sealed class Mutations(int seed)
{
    static readonly string[] Nasty =
    [
        "null", "true", "[]", "{}", "[null]", "\"\"", "-1", "0", "1e400", "-1e-400", "79228162514264337593543950336", "0.00000000000000000000000000000001",
            "\"\\u0000\"", "\"\\ud800\"", "\"9999-12-31\"", "\"0000-00-00\"",
        "\"" + new string('x', 5_000) + "\"", new string('[', 200), new string('{', 80), "\"=1+1\"", "\"\\\"; drop table line; --\"", "\"../../etc/passwd\"",
            "\"\u202e\u0130\u212a\"", "NaN", "1e5", "'", "\\", "\u0001",
    ];

    readonly Random chance = new(seed);

    /// <summary>A number below a bound.</summary>
    internal int Below(int bound) => chance.Next(bound);

    /// <summary>A JSON text with one to four changes: a value becomes another, a part is lost, doubled, moved or taken from another text.</summary>
    internal string Json(string text, string other)
    {
        var made = new StringBuilder(text);
        for (var times = 1 + chance.Next(4); times > 0 && made.Length > 2; times--)
        {
            var at = chance.Next(made.Length);
            var length = chance.Next(Math.Min(40, made.Length - at));
            switch (chance.Next(7))
            {
                case 0: ReplaceValue(made, Nasty[chance.Next(Nasty.Length)]); break;
                case 1: ReplaceValue(made, Nasty[chance.Next(Nasty.Length)]); break;
                case 2: made.Remove(at, length); break;
                case 3: made.Insert(at, made.ToString(at, length)); break;
                case 4: made[at] = (char)(32 + chance.Next(95)); break;
                case 5: made.Insert(at, other.AsSpan(Math.Min(at, other.Length - 1), Math.Min(length, other.Length - Math.Min(at, other.Length - 1)))); break;
                default: made.Insert(at, Nasty[chance.Next(Nasty.Length)]); break;
            }
        }
        return made.ToString();
    }

    /// <summary>Bytes with some of them changed, lost or doubled.</summary>
    internal byte[] Bytes(byte[] from)
    {
        var made = new List<byte>(from);
        for (var times = 1 + chance.Next(8); times > 0 && made.Count > 4; times--)
        {
            var at = chance.Next(made.Count);
            switch (chance.Next(4))
            {
                case 0: made[at] ^= (byte)(1 << chance.Next(8)); break;
                case 1: made.RemoveRange(at, chance.Next(Math.Min(64, made.Count - at))); break;
                case 2: made.InsertRange(at, made.GetRange(at, chance.Next(Math.Min(64, made.Count - at)))); break;
                default: made[at] = (byte)chance.Next(256); break;
            }
        }
        return [.. made];
    }

    /// <summary>What follows a colon, up to the comma or bracket after it, becomes another value: well-formed JSON of a wrong kind, mostly.</summary>
    void ReplaceValue(StringBuilder text, string value)
    {
        var all = text.ToString();
        var colon = all.IndexOf(':', chance.Next(all.Length));
        if (colon < 0)
            return;
        var end = all.AsSpan(colon + 1).IndexOfAny(",}]");
        if (end < 0)
            return;
        text.Remove(colon + 1, end).Insert(colon + 1, value);
    }
}
