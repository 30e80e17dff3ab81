using System.Collections.Frozen;

namespace Assignum.Core;

/// <summary>Currencies of ISO 4217 with their minor units, and the one way amounts are rounded.</summary>
public static class Money
{
    /// <summary>Largest magnitude of an amount, exclusive: what numeric(19,4) holds.</summary>
    public const decimal Limit = 1_000_000_000_000_000m;

    // ISO 4217, active codes of money; two minor units unless listed below.
    const string Codes = """
        AED AFN ALL AMD AOA ARS AUD AWG AZN BAM BBD BDT BGN BHD BIF BMD BND BOB BRL BSD BTN BWP BYN BZD CAD CDF CHF CLF CLP CNY COP CRC CUP CVE CZK
        DJF DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GNF GTQ GYD HKD HNL HTG HUF IDR ILS INR IQD IRR ISK JMD JOD JPY KES KGS KHR KMF KPW KRW
        KWD KYD KZT LAK LBP LKR LRD LSL LYD MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MYR MZN NAD NGN NIO NOK NPR NZD OMR PAB PEN PGK PHP PKR PLN PYG
        QAR RON RSD RUB RWF SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TND TOP TRY TTD TWD TZS UAH UGX USD UYI UYU UYW UZS VED VES
        VND VUV WST XAF XCD XCG XOF XPF YER ZAR ZMW ZWG
        """;
    const string WithoutMinorUnits = "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF";
    const string WithThree = "BHD IQD JOD KWD LYD OMR TND";
    const string WithFour = "CLF UYW";

    static readonly FrozenDictionary<string, int> MinorUnitsByCode = Codes.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries).ToFrozenDictionary(
        code => code,
        MinorUnitsAsListed);

    static int MinorUnitsAsListed(string code)
    {
        if (WithoutMinorUnits.Contains(code, StringComparison.Ordinal))
            return 0;
        if (WithThree.Contains(code, StringComparison.Ordinal))
            return 3;
        return WithFour.Contains(code, StringComparison.Ordinal) ? 4 : 2;
    }

    /// <summary>Minor units of a currency: 2 for EUR, 0 for JPY.</summary>
    /// <param name="currency">Folded ISO 4217 code.</param>
    /// <param name="minorUnits">Number of decimals.</param>
    /// <returns>Whether there is such a currency.</returns>
    public static bool TryMinorUnits(string currency, out int minorUnits) => MinorUnitsByCode.TryGetValue(currency, out minorUnits);

    /// <summary>Minor units of a currency known to exist.</summary>
    public static int MinorUnits(string currency) => MinorUnitsByCode[currency];

    /// <summary>The same number without trailing zeros after the point.</summary>
    public static decimal Plain(decimal number) => number / 1.0000000000000000000000000000m;

    /// <summary>Rounds half away from zero.</summary>
    public static decimal Round(decimal amount, int minorUnits) =>
        amount.Scale <= minorUnits ? amount : Math.Round(amount, minorUnits, MidpointRounding.AwayFromZero);

    /// <summary>One minor unit: 0.01 for 2.</summary>
    public static decimal OneUnit(int minorUnits) => new(1, 0, 0, false, (byte)minorUnits);

    /// <summary>Whether an amount has at most so many decimals, trailing zeros apart.</summary>
    public static bool HasAtMost(decimal amount, int decimals) => amount.Scale <= decimals || Math.Round(amount, decimals) == amount;
}
