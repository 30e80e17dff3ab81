using Assignum.Core.Preparation;

namespace Assignum.Core.Tests.Posting;

/// <summary>What a payment may keep by the terms of its party. 2 % within 10 days; up to 0.50 is let go.</summary>
public sealed class EarlyPaymentTests
{
    static readonly Terms Terms = new(30, 2, 10, 0.5m);
    static readonly DateOnly Day = new(2026, 3, 12);

    static EarlyPayment Of(decimal paid, params (decimal Open, int DaysAgo)[] items) =>
        EarlyPayment.Of(items.Select(i => (i.Open, Day.AddDays(-i.DaysAgo))), paid, Terms, Day, 2);

    [Fact]
    public void Who_pays_within_the_days_keeps_the_discount_and_who_pays_a_day_later_does_not()
    {
        Assert.Equal(new(2, 0, 1), Of(98, (100, 10)));
        Assert.Equal(new(0, 0, 0), Of(98, (100, 11)));
        Assert.Equal(new(0, 0, 1), Of(100, (100, 11)));
    }

    [Fact]
    public void The_discount_is_of_what_is_paid_whole_in_its_order_and_of_nothing_else()
    {
        Assert.Equal(new(0.67m, 0, 2), Of(133, (100, 20), (33.67m, 5), (50, 1)));
        Assert.Equal(new(2, 0, 1), Of(120, (100, 3), (50, 1)));
    }

    [Fact]
    public void A_rest_is_let_go_up_to_the_tolerance_and_no_cent_above_it()
    {
        Assert.Equal(new(0, 0.5m, 1), Of(99.5m, (100, 20)));
        Assert.Equal(new(0, 0, 0), Of(99.49m, (100, 20)));
        Assert.Equal(new(2, 0.5m, 1), Of(97.5m, (100, 3)));
        Assert.Equal(new(0, 0, 0), Of(0, (0.4m, 20)));
    }

    [Fact]
    public void Terms_are_said_as_people_say_them()
    {
        Assert.Equal("within 30 days; 2 % off within 10 days; up to 0.50 is let go", Terms.InWords);
        Assert.Equal("at once", new Terms(0, 0, 0, 0).InWords);
        Assert.Equal(new DateOnly(2026, 3, 22), Terms.DiscountUntil(Day));
        Assert.Null(new Terms(30, 0, 0, 0).DiscountUntil(Day));
    }
}
