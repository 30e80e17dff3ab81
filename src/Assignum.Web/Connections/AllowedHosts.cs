namespace Assignum.Web.Connections;

/// <summary>The hosts other systems may stand on. Whoever runs the installation lists them (Connections:Hosts); nobody reaches others through it.</summary>
public sealed class AllowedHosts(IConfiguration configuration)
{
    readonly HashSet<string> allowed = new((configuration["Connections:Hosts"] ?? "").Split([',', ' '],
        StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries), StringComparer.OrdinalIgnoreCase);

    /// <summary>The hosts, as they are listed.</summary>
    internal IReadOnlyCollection<string> All => allowed;

    /// <summary>An address on one of the hosts; null: it is none, or not allowed.</summary>
    internal Uri? Allow(string? address) =>
        Uri.TryCreate(address?.Trim(), UriKind.Absolute, out var uri) && uri.Scheme is "http" or "https" && uri.UserInfo.Length == 0
            && (allowed.Contains(uri.Authority) || allowed.Contains(uri.Host)) ? uri : null;

    /// <summary>Why an address is not allowed.</summary>
    internal string WhyNot(string? address)
    {
        if (!Uri.TryCreate(address?.Trim(), UriKind.Absolute, out var uri) || uri.Scheme is not ("http" or "https"))
            return $"“{address?.Trim()}” is no address. Write it whole, such as https://shop.example.org/adapter.";
        return allowed.Count == 0 ? "No host is allowed yet. Whoever runs this installation lists them under Connections:Hosts."
            : $"{uri.Authority} is not among the hosts that are allowed here: {string.Join(", ", allowed.Order(StringComparer.Ordinal))}. Ask whoever " +
                "runs this installation to add it.";
    }
}
