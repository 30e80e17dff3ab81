using System.Security.Cryptography;
using System.Text;

namespace Assignum.Storage.People;

/// <summary>What stands in a link by which somebody sets a password, once.</summary>
public static class LinkToken
{
    /// <summary>How long such a link can be used.</summary>
    public static readonly TimeSpan Lasts = TimeSpan.FromDays(1);

    /// <summary>A new token of 64 characters, and the hash under which it is kept: who reads the database can't use it.</summary>
    public static (string Token, byte[] Hash) New()
    {
        var token = Convert.ToHexString(RandomNumberGenerator.GetBytes(32)).ToLowerInvariant();
        return (token, HashOf(token));
    }

    /// <summary>The hash of a token, as it is kept.</summary>
    public static byte[] HashOf(string? token) => SHA256.HashData(Encoding.UTF8.GetBytes(token ?? ""));
}
