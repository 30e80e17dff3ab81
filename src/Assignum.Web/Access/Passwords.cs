namespace Assignum.Web.Access;

/// <summary>What a password must be.</summary>
static class Passwords
{
    /// <summary>Fewest and most characters. More than the most would only keep the hasher busy.</summary>
    internal const int Shortest = 12, Longest = 128;

    // The ones everybody tries first; a list of more is no use without one of millions.
    static readonly string[] Usual = ["password", "passwort", "123456", "qwerty", "letmein", "welcome", "assignum"];

    /// <summary>Why a password does not do; null when it does.</summary>
    internal static string? Fault(string? password, string name)
    {
        if ((password ?? "").Length < Shortest)
            return $"The password is too short. Give at least {Shortest} characters; a few words do well.";
        if (password!.Length > Longest)
            return $"The password has {password.Length} characters. At most {Longest} are taken.";
        if (name.Length > 2 && password.Contains(name, StringComparison.OrdinalIgnoreCase))
            return "The password contains the name to sign in with. Choose another.";
        if (Usual.Any(usual => password.Replace(usual, "", StringComparison.OrdinalIgnoreCase).Length < Shortest / 2))
            return "The password is among those everybody tries first. Choose another; a few words do well.";
        if (password.Distinct().Count() < 5)
            return "The password repeats a few characters. Choose another; a few words do well.";
        return null;
    }
}
