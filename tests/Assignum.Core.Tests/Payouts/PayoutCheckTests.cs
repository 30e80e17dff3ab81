using Assignum.Core.Payouts;
using CsCheck;

namespace Assignum.Core.Tests.Payouts;

public class PayoutCheckTests
{
    static Cleared Receipt(long key, decimal amount) => new(key, new(2026, 10, (int)key), amount, IsPayout: false);
    static Cleared Payout(long key, decimal said) => new(key, new(2026, 10, (int)key), -said, IsPayout: true);

    [Fact]
    public void A_payout_pays_what_came_since_the_one_before_and_what_comes_after_is_open()
    {
        var check = PayoutCheck.Of([Receipt(1, 40), Receipt(2, -5), Payout(3, 35), Receipt(4, 10), Payout(5, 10), Receipt(6, 7)]);

        Assert.Equal([(35m, 35m, 2), (10m, 10m, 1)], check.Payouts.Select(p => (p.Said, p.Had, p.Documents.Count)));
        Assert.Equal((7m, 0m, 7m), (check.OpenAmount, check.Differences, check.Balance));
    }

    [Fact]
    public void What_came_after_the_provider_had_counted_belongs_to_the_next_one()
    {
        var check = PayoutCheck.Of([Receipt(1, 40), Receipt(2, 60), Receipt(3, 9), Payout(4, 100), Payout(5, 9)]);

        Assert.Equal([(0m, 1), (0m, 0)], check.Payouts.Select(p => (p.Difference, p.CutOff)));
        Assert.Empty(check.Open);
    }

    [Fact]
    public void A_difference_is_that_of_its_payout_and_no_other()
    {
        var check = PayoutCheck.Of([Receipt(1, 40), Payout(2, 38), Receipt(3, 12), Payout(4, 12)]);

        Assert.Equal([2m, 0m], check.Payouts.Select(p => p.Difference));
    }

    [Fact]
    public void A_document_or_two_that_the_provider_does_not_have_are_named()
    {
        Assert.Equal([1L], Assert.Single(PayoutCheck.Of([Receipt(1, 25), Receipt(2, 40), Payout(3, 40)]).Payouts).Missing.Select(m => m.Key));
        Assert.Equal([1L, 3L], Assert.Single(PayoutCheck.Of([Receipt(1, 40), Receipt(2, 25), Receipt(3, 12), Payout(4, 25)]).Payouts).Missing.Select(m =>
            m.Key));
        Assert.Empty(Assert.Single(PayoutCheck.Of([Receipt(1, 40), Payout(2, 39)]).Payouts).Missing);
    }

    [Fact]
    public void Whatever_came_and_was_paid_the_balance_is_explained_to_the_cent_and_no_document_is_left_out() =>
        Gen.Select(Gen.Int[-500, 2000], Gen.Bool, (cents, payout) => (cents, payout)).Array[0, 40].Sample(rows =>
        {
            var documents = rows.Select((r, i) => new Cleared(i, new DateOnly(2026, 1, 1).AddDays(i), r.payout ? -Math.Abs(r.cents) / 100m : r.cents / 100m,
                r.payout)).ToList();

            var check = PayoutCheck.Of(documents);

            Assert.Equal(documents.Sum(d => d.Amount), check.OpenAmount + check.Differences);
            Assert.Equal(documents.Where(d => !d.IsPayout).Select(d => d.Key), check.Payouts.SelectMany(p => p.Documents).Concat(check.Open).Select(d =>
                d.Key));
        }, iter: 2000);
}
