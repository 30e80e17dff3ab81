using System.Globalization;
using System.Security.Cryptography;
using System.Text;

namespace Assignum.Simulators;

/// <summary>Calls a hook with events, signed: HMAC-SHA256 over the time, a full stop and the body.</summary>
static class Calling
{
    internal static async Task<int> Call(HttpClient http, StandIn system, Fed happened, CancellationToken stop)
    {
        var hook = system.Hook ?? throw new InvalidOperationException("It has no hook.");
        var time = system.Clock.ToUnixTimeSeconds().ToString(CultureInfo.InvariantCulture);
        using var request = new HttpRequestMessage(HttpMethod.Post, hook.Address)
        {
            Content = new StringContent(happened.Raw, Encoding.UTF8, "application/json"),
        };
        request.Headers.Add("Signature-Timestamp", time);
        request.Headers.Add("Signature", Sign(hook.Secret, time, happened.Raw));
        using var answer = await http.SendAsync(request, stop);
        system.Note("called", happened.Id, happened.Revision, ((int)answer.StatusCode).ToString(CultureInfo.InvariantCulture));
        return (int)answer.StatusCode;
    }

    internal static string Sign(string secret, string time, string body) =>
        Convert.ToHexString(HMACSHA256.HashData(Encoding.UTF8.GetBytes(secret), Encoding.UTF8.GetBytes($"{time}.{body}"))).ToLowerInvariant();
}
