using Assignum.Core;
using Assignum.Core.Posting;

namespace Assignum.Web.Pages.TryOut;

/// <summary>Reads single values of a form, and notes by its field what can't be read.</summary>
sealed class FormReading
{
    /// <summary>What can't be read, by field.</summary>
    internal Dictionary<string, string> Faults { get; } = [];

    internal T? Picked<T>(string field, Picked<T> picked) where T : class
    {
        if (picked.Fault is { } fault)
            Faults[field] = fault;
        return picked.Thing;
    }

    internal decimal? Number(string field, string? text)
    {
        if (text is null)
            return null;
        if (Written.Now.TryNumber(text, out var number))
            return number;
        Faults[field] = Sending.Typed.NotANumber(text);
        return null;
    }

    /// <summary>"CC=100; SITE=N".</summary>
    internal Dimensions Dimensions(string field, string? text)
    {
        var parts = (text ?? "").Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Select(p =>
            p.Split('=', 2, StringSplitOptions.TrimEntries)).ToList();
        if (parts.TrueForAll(p => p.Length == 2 && p[0].Length > 0 && p[1].Length > 0))
            return parts.Count == 0 ? Core.Posting.Dimensions.None : new Dimensions(parts.Select(p => KeyValuePair.Create(p[0], p[1])));
        Faults[field] = $"“{text}” names no dimension with a value. Write them as CC=100, with ; between several.";
        return Core.Posting.Dimensions.None;
    }
}
