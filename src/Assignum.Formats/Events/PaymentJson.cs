using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>Events of money and of what it settles, in files.</summary>
static class PaymentJson
{
    internal static IEnumerable<EventFormat> All =>
    [
        .. Words<PaymentType>.All.Select(name => TableJson.Of<Payment>(name, (header, values) => new(header, values.Amount("amount")!.Value)
        {
            Discount = values.Amount("discount") ?? 0, Tolerance = values.Amount("tolerance") ?? 0, MoneyAccount = values.Text("moneyAccount"),
            InvoiceRate = values.Amount("invoiceRate"), Settles = values.List<SettledPart>("settles"),
        }, Write, Part)),
        .. Words<DepositType>.All.Select(name => TableJson.Of<Deposit>(name, (header, values) => new(header, values.Amount("amount")!.Value)
        {
            MoneyAccount = values.Text("moneyAccount"), StandsOn = values.Text("standsOn"), DepositRate = values.Amount("depositRate"),
            DepositAmount = values.Amount("depositAmount"),
        }, Write)),
        .. Words<AppliedType>.All.Select(name => TableJson.Of<Applied>(name, (header, values) => new(header, values.Amount("amount")!.Value)
        {
            StandsOn = values.Text("standsOn"), OwnRate = values.Amount("depositRate") ?? values.Amount("cardRate"),
            DepositAmount = values.Amount("depositAmount"), InvoiceRate = values.Amount("invoiceRate"), Settles = values.List<SettledPart>("settles"),
        }, Write, Part)),
        TableJson.Of<GiftCardSold>(GiftCardSold.Name, (header, values) => new(header, values.Amount("amount")!.Value)
        {
            MoneyAccount = values.Text("moneyAccount"),
        }, (json, sold) =>
        {
            json.Amount("amount", sold.Amount);
            json.Text("moneyAccount", sold.MoneyAccount);
        }),
        TableJson.Of<LateCharge>(LateCharge.Name, (header, values) => new(header)
        {
            Interest = values.Amount("interest") ?? 0, Fee = values.Amount("fee") ?? 0,
        }, (json, charge) =>
        {
            json.AmountBut0("interest", charge.Interest);
            json.AmountBut0("fee", charge.Fee);
        }),
        TableJson.Of<Settlement>(Settlement.Name, (header, values) => new(header)
        {
            Discount = values.Amount("discount") ?? 0, Tolerance = values.Amount("tolerance") ?? 0, Lines = values.List<SettlementLine>("lines"),
        }, Write, (_, values) => new SettlementLine
        {
            Event = values.Text("event")!, Of = values.Word<ItemOf>("of")!.Value, Amount = values.Amount("amount")!.Value, Account = values.Text("account"),
            Rate = values.Amount("rate"), CompanyAmount = values.Amount("companyAmount"), Dimensions = values.Dimensions("dimensions"),
        }),
        TableJson.Of<Payout>(Payout.Name, (header, values) => new(header, values.Text("moneyAccount")!) { Lines = values.List<PayoutLine>("lines") }, Write,
            (_, values) => new PayoutLine(values.Word<PayoutKind>("kind")!.Value, values.Amount("amount")!.Value, values.Text("taxCode"))),
    ];

    static SettledPart Part(string list, FieldValues values) => new()
    {
        Event = values.Text("event")!, Amount = values.Amount("amount")!.Value, Account = values.Text("account"), Rate = values.Amount("rate"),
        CompanyAmount = values.Amount("companyAmount"), Dimensions = values.Dimensions("dimensions"),
    };

    static void AmountBut0(this Utf8JsonWriter json, string name, decimal amount)
    {
        if (amount != 0)
            json.WriteNumber(name, amount);
    }

    static void Parts(Utf8JsonWriter json, IReadOnlyList<SettledPart> parts)
    {
        if (parts.Count > 0)
            json.List("settles", parts, part =>
            {
                json.Text("event", part.Event);
                json.Amount("amount", part.Amount);
                json.Text("account", part.Account);
                json.Amount("rate", part.Rate);
                json.Amount("companyAmount", part.CompanyAmount);
                json.Texts("dimensions", part.Dimensions?.All ?? []);
            });
    }

    static void Write(Utf8JsonWriter json, Payment payment)
    {
        json.Amount("amount", payment.Amount);
        json.AmountBut0("discount", payment.Discount);
        json.AmountBut0("tolerance", payment.Tolerance);
        json.Text("moneyAccount", payment.MoneyAccount);
        json.Amount("invoiceRate", payment.InvoiceRate);
        Parts(json, payment.Settles);
    }

    static void Write(Utf8JsonWriter json, Deposit deposit)
    {
        json.Amount("amount", deposit.Amount);
        json.Text("moneyAccount", deposit.MoneyAccount);
        json.Text("standsOn", deposit.StandsOn);
        json.Amount("depositRate", deposit.DepositRate);
        json.Amount("depositAmount", deposit.DepositAmount);
    }

    static void Write(Utf8JsonWriter json, Applied applied)
    {
        json.Amount("amount", applied.Amount);
        json.Text("standsOn", applied.StandsOn);
        json.Amount(applied.Type == AppliedType.GiftCardUsed ? "cardRate" : "depositRate", applied.OwnRate);
        json.Amount("depositAmount", applied.DepositAmount);
        json.Amount("invoiceRate", applied.InvoiceRate);
        Parts(json, applied.Settles);
    }

    static void Write(Utf8JsonWriter json, Settlement settlement)
    {
        json.AmountBut0("discount", settlement.Discount);
        json.AmountBut0("tolerance", settlement.Tolerance);
        json.List("lines", settlement.Lines, line =>
        {
            json.Text("event", line.Event);
            json.Text("of", Words<ItemOf>.Of(line.Of));
            json.Amount("amount", line.Amount);
            json.Text("account", line.Account);
            json.Amount("rate", line.Rate);
            json.Amount("companyAmount", line.CompanyAmount);
            json.Texts("dimensions", line.Dimensions?.All ?? []);
        });
    }

    static void Write(Utf8JsonWriter json, Payout payout)
    {
        json.Text("moneyAccount", payout.MoneyAccount);
        json.List("lines", payout.Lines, line =>
        {
            json.Text("kind", Words<PayoutKind>.Of(line.Kind));
            json.Amount("amount", line.Amount);
            json.Text("taxCode", line.TaxCode);
        });
    }
}
