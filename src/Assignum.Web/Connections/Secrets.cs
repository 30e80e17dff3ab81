using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;

namespace Assignum.Web.Connections;

/// <summary>Secrets of connections, as they are kept: encrypted with the application's keys.</summary>
public sealed class Secrets(IDataProtectionProvider protection)
{
    readonly IDataProtector protector = protection.CreateProtector("Assignum.Connections.Secret");

    internal string Close(string secret) => protector.Protect(secret);

    /// <summary>The secret; null where its key is gone.</summary>
    internal string? Open(string kept)
    {
        try
        {
            return protector.Unprotect(kept);
        }
        catch (CryptographicException)
        {
            return null;
        }
    }

    /// <summary>A new secret, for the other system to sign with.</summary>
    internal static string New() => Convert.ToHexString(RandomNumberGenerator.GetBytes(24)).ToLowerInvariant();
}
