using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using CsCheck;

namespace Assignum.Core.Tests.Rulebooks;

/// <summary>The compiled resolver against a slow one that reads like 03: on rulebooks made by chance, both say the same.</summary>
public class ResolutionPropertyTests
{
    static readonly Fact[] Facts = [Fact.Item, Fact.ItemGroup, Fact.Party, Fact.PartyGroup, Fact.Location, Fact.Connection];
    static readonly string[] Values = ["A", "b", "C", "d"];

    static readonly Gen<Rung> AnyRung = Gen.Int[0, 63].Select(bits => new Rung([.. Facts.Where((_, i) => (bits >> i & 1) == 1)]));

    static readonly Gen<(Rung[] Ladder, Rule[] Rules)> AnyBook =
        from ladder in AnyRung.Array[1, 6].Select(rungs => rungs.Distinct().ToArray())
        from rules in Gen.Select(Gen.Int[0, ladder.Length - 1], Gen.Int[0, 3].Array[6], Gen.Int[0, 9], Gen.Int[0, 40], Gen.Int[0, 40])
            .Select((rung, values, account, start, length) => new Rule
            {
                Id = "", Purpose = Purpose.Revenue, Account = account.ToString(System.Globalization.CultureInfo.InvariantCulture),
                When = [.. ladder[rung].Facts.Select((fact, i) => new FactValue(fact, Values[values[i]]))],
                From = start == 0 ? null : Book.Day.AddDays(start - 20), To = length == 0 ? null : Book.Day.AddDays(start - 20 + length),
            }).Array[0, 30]
        select (ladder, WithoutOverlaps(rules));

    static readonly Gen<(int[] Values, int Day)> AnyQuestion = Gen.Select(Gen.Int[-1, 4].Array[6], Gen.Int[-25, 45]);

    [Fact]
    public void The_first_rung_that_has_a_rule_answers() => Gen.Select(AnyBook, AnyQuestion.Array[1, 30]).Sample((made, questions) =>
    {
        var book = Book.Nursery with
        {
            Accounts = [.. Enumerable.Range(0, 10).Select(i => Book.Account(i.ToString(System.Globalization.CultureInfo.InvariantCulture), "", Assignum.Core.Charts.AccountClass.Income))],
            Items = [.. Values.Select(v => new Item { Code = v, Kind = ItemKind.Stock })], ItemGroups = [.. Values.Select(v => new Group(v, ""))],
            Parties = [.. Values.Select(v => new Party { Code = v })], PartyGroups = [.. Values.Select(v => new Group(v, ""))], Locations = [.. Values.Select(v => new Location(v, ""))],
            Rules = made.Rules,
        };
        book = book.WithLadder("revenue", made.Ladder);
        var compiled = new CompiledRulebook(book);
        foreach (var (values, day) in questions)
        {
            var asked = Facts.Zip(values).Where(p => p.Second >= 0).Select(p => new FactValue(p.First, p.Second < 4 ? Values[p.Second] : "unknown")).ToList();
            var (facts, date) = (compiled.FactsOf(asked), Book.Day.AddDays(day));
            var answer = compiled.Resolve(Purpose.Revenue, facts, date);
            var expected = Slowly(made.Ladder, made.Rules, asked, date);
            Assert.Equal(expected, answer.Found ? compiled.RuleOf(answer) : null);
            Assert.Equal(TrailSlowly(made.Ladder, expected, asked), compiled.Explain(Purpose.Revenue, facts, date).Select(s => (s.Rung, s.State)));
        }
    }, iter: 400);

    static Rule? Slowly(Rung[] ladder, Rule[] rules, List<FactValue> facts, DateOnly date)
    {
        foreach (var rung in ladder)
            foreach (var rule in rules)
                if (rule.Rung.Equals(rung) && !(rule.From > date) && !(rule.To < date) && rule.When.All(w => facts.Exists(f => f.Fact == w.Fact && Fold.Same(f.Code, w.Code))))
                    return rule;
        return null;
    }

    // The trail of an answer: rungs before it were tried or lack a fact, those after it are not reached.
    static IEnumerable<(Rung, RungState)> TrailSlowly(Rung[] ladder, Rule? answer, List<FactValue> facts)
    {
        var answered = false;
        foreach (var rung in ladder)
        {
            var (reached, isAnswer) = (!answered, answer is not null && rung.Equals(answer.Rung));
            answered |= isAnswer;
            if (!reached)
                yield return (rung, RungState.NotReached);
            else if (isAnswer)
                yield return (rung, RungState.Answered);
            else
                yield return (rung, rung.Facts.All(f => facts.Exists(x => x.Fact == f)) ? RungState.Empty : RungState.Skipped);
        }
    }

    static Rule[] WithoutOverlaps(Rule[] rules)
    {
        var kept = new List<Rule>();
        foreach (var rule in rules)
            if (!kept.Exists(k => k.Key == rule.Key && !(k.From > (rule.To ?? DateOnly.MaxValue)) && !(k.To < (rule.From ?? DateOnly.MinValue))))
                kept.Add(rule with { Id = "r" + kept.Count });
        return [.. kept];
    }
}
