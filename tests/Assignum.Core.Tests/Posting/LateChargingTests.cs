using Assignum.Core.LateCharges;
using Assignum.Core.Preparation;
using CsCheck;

namespace Assignum.Core.Tests.Posting;

public class LateChargingTests
{
    static readonly Terms Trade = new(30, 0, 0, 0) { LatePercent = 7.3m, ReminderFee = 5, GraceDays = 5 };
    static readonly DateOnly Due = new(2026, 3, 31);

    static OwedItem Item(params (int Day, decimal Amount)[] moves) => new(Due, [.. moves.Select(m => (Due.AddDays(m.Day), m.Amount))], null);

    [Fact]
    public void Thirty_days_late_at_seven_point_three_per_cent_a_thousand_cost_six() =>
        Assert.Equal(new LateInterest(Due.AddDays(1), Due.AddDays(30), 6), LateCharging.InterestOf(Item((-30, 1000)), Trade, Due.AddDays(30), 2));

    [Fact]
    public void Within_the_days_of_grace_nothing_is_charged_and_after_them_from_the_first_day()
    {
        Assert.Null(LateCharging.InterestOf(Item((-30, 1000)), Trade, Due.AddDays(5), 2));
        Assert.Equal(6, LateCharging.InterestOf(Item((-30, 1000)), Trade, Due.AddDays(6), 2)!.Days);
    }

    [Fact]
    public void Days_that_were_charged_are_not_charged_again() =>
        Assert.Equal(10, LateCharging.InterestOf(Item((-30, 1000)) with { ChargedTo = Due.AddDays(20) }, Trade, Due.AddDays(30), 2)!.Days);

    [Fact]
    public void What_is_paid_in_between_counts_from_its_day_and_what_is_paid_whole_not_at_all()
    {
        Assert.Equal(4, LateCharging.InterestOf(Item((-30, 1000), (11, -500)), Trade, Due.AddDays(30), 2)!.Interest);
        Assert.Null(LateCharging.InterestOf(Item((-30, 1000), (11, -1000)), Trade, Due.AddDays(30), 2));
    }

    [Fact]
    public void A_customer_is_reminded_once_in_thirty_days()
    {
        Assert.Equal(5, LateCharging.FeeOf([Item((-30, 1000))], Trade, null, Due.AddDays(6)));
        Assert.Equal(0, LateCharging.FeeOf([Item((-30, 1000))], Trade, Due.AddDays(6), Due.AddDays(35)));
        Assert.Equal(5, LateCharging.FeeOf([Item((-30, 1000))], Trade, Due.AddDays(6), Due.AddDays(36)));
        Assert.Equal(0, LateCharging.FeeOf([Item((-30, 1000))], Trade, null, Due));
    }

    // Slowly: each day for itself.
    [Fact]
    public void Interest_is_the_sum_of_its_days() => Gen.Select(Gen.Select(Gen.Int[-40, 90], Gen.Int[-90_000, 90_000]).Array[1, 6], Gen.Int[0, 120],
        Gen.Int[0, 60]).Sample((moves, on, charged) =>
    {
        var item = Item([(-60, 500), .. moves.Select(m => (m.Item1, m.Item2 / 100m))]) with { ChargedTo = charged == 0 ? null : Due.AddDays(charged) };
        var days = 0m;
        for (var day = Due.AddDays(charged + 1); day <= Due.AddDays(on); day = day.AddDays(1))
            days += Math.Max(0, item.Moves.Where(m => m.Date <= day).Sum(m => m.Amount));
        var expected = item.OpenOn(Due.AddDays(on)) > 0 && on > 5 ? Math.Round(days * 7.3m / 100 / 365, 2, MidpointRounding.AwayFromZero) : 0;

        Assert.Equal(expected, LateCharging.InterestOf(item, Trade, Due.AddDays(on), 2)?.Interest ?? 0);
    }, iter: 2000);
}
