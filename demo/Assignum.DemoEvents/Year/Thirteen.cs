using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.DemoEvents.Year;

/// <summary>Thirteen months of Quillmoss Nurseries, up to a day: the editions that were in force one after the other, what happened under each, and the
/// troubles in it.</summary>
/// <param name="Stages">The editions.</param>
/// <param name="Events">What happened, in the order of days.</param>
/// <param name="Troubles">What is wrong in it, and its money.</param>
/// <param name="First">The first day.</param>
/// <param name="Last">The last day.</param>
sealed record Thirteen(IReadOnlyList<Stage> Stages, IReadOnlyList<BusinessEvent> Events, Troubles Troubles, DateOnly First, DateOnly Last)
{
    const int Seed = 20251101;

    /// <summary>Thirteen months that end with a day's month, on that day.</summary>
    internal static Thirteen UpTo(Rulebook book, DateOnly last)
    {
        var first = new DateOnly(last.Year, last.Month, 1).AddMonths(-12);
        var world = new World(Year.Stages.WithBulbs(book), first, last, Seed);
        var cash = new Cash(world);
        var (selling, buying, yard, office) = (new Selling(world, cash), new Buying(world, cash), new Yard(world), new Office(world));
        world.Run(w =>
        {
            if (w.Day == first)
                office.Open();
            if (w.Day == first.AddMonths(7).AddDays(10))
                buying.Machine();
            yard.Day();
            buying.Day();
            selling.Day();
            cash.Day();
            office.Day();
        });
        return new(Year.Stages.Of(book, first, last), world.Events, world.Troubles, first, last);
    }

    /// <summary>The events of one stage.</summary>
    internal IEnumerable<BusinessEvent> Of(int stage) =>
        Events.Where(e => e.Date >= Stages[stage].From && (stage + 1 == Stages.Count || e.Date < Stages[stage + 1].From));
}
