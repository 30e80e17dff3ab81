using System.Security.Cryptography;
using System.Text;

namespace Assignum.Core.Rulebooks;

/// <summary>The digest by which storage forbids two rules with the same facts to overlap.</summary>
public static class RuleKey
{
    /// <summary>Purpose and folded values in the order of facts, unambiguous.</summary>
    public static string TextOf(string subject, IEnumerable<FactValue> when) =>
        subject + "\u001f" + string.Join('\u001f', when.OrderBy(w => w.Fact).Select(w => w.Fact.Name() + "\u001e" + Fold.Of(w.Code)));

    /// <summary>Rules whose every code is among some facts: few, so that few keys are made of many rules.</summary>
    public static IEnumerable<Rule> NamedBy(IEnumerable<Rule> rules, IEnumerable<FactValue> facts)
    {
        var codes = facts.Select(f => (f.Fact, Fold.Of(f.Code))).ToHashSet();
        return rules.Where(rule => rule.When.All(w => codes.Contains((w.Fact, Fold.Of(w.Code)))));
    }

    /// <summary>128 bits over company, subject (a purpose, or "tax") and folded values; never null, also for the default.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="subject">Name of the purpose, or what kind of rule it is.</param>
    /// <param name="when">The facts asked for.</param>
    public static Guid Of(int company, string subject, IEnumerable<FactValue> when)
    {
        var text = company.ToString(System.Globalization.CultureInfo.InvariantCulture) + "\u001f" + TextOf(subject, when);
        return new Guid(SHA256.HashData(Encoding.UTF8.GetBytes(text)).AsSpan(0, 16), bigEndian: true);
    }
}
