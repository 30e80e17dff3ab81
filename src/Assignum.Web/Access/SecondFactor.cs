using Microsoft.AspNetCore.DataProtection;
using OtpNet;
using QRCoder;

namespace Assignum.Web.Access;

/// <summary>Time-based codes (RFC 6238) as a second factor. Secrets are kept encrypted, and no code works twice.</summary>
public sealed class SecondFactor(IDataProtectionProvider protection)
{
    const string Issuer = "Assignum";
    readonly IDataProtector protector = protection.CreateProtector("second-factor");

    /// <summary>A new secret, as text to be typed into a phone.</summary>
    internal static string NewSecret() => Base32Encoding.ToString(KeyGeneration.GenerateRandomKey(20));

    internal string Protect(string secret) => protector.Protect(secret);

    /// <summary>The step of time a code belongs to: the present one or one beside it; null when the code is wrong.</summary>
    /// <param name="protectedSecret">The secret as it is kept.</param>
    /// <param name="code">What was typed.</param>
    internal long? StepOf(string protectedSecret, string? code) => StepOfSecret(protector.Unprotect(protectedSecret), code);

    internal static long? StepOfSecret(string secret, string? code) =>
        new Totp(Base32Encoding.ToBytes(secret)).VerifyTotp((code ?? "").Replace(" ", "", StringComparison.Ordinal), out var step, new VerificationWindow(1, 1))
            ? step : null;

    /// <summary>The address a phone reads, and its drawing.</summary>
    internal static (string Address, string Drawing) Offer(string name, string secret)
    {
        var address = new OtpUri(OtpType.Totp, secret, name, Issuer).ToString();
        using var code = new QRCodeGenerator().CreateQrCode(address, QRCodeGenerator.ECCLevel.M);
        return (address, new SvgQRCode(code).GetGraphic(4, "#22252B", "#FFFFFF", drawQuietZones: true, SvgQRCode.SizingMode.ViewBoxAttribute));
    }
}
