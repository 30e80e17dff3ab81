using System.Globalization;
using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Taxes;
using Assignum.Storage.Settings;

namespace Assignum.Web.Pages.Tax;

/// <summary>A component of a tax code as somebody typed it.</summary>
public sealed class ComponentForm
{
    public string? Code { get; set; }
    public string? Authority { get; set; }
    public bool OnPrevious { get; set; }
    public string? Recoverable { get; set; }
    /// <summary>A rate a line: the day it begins, and per cent.</summary>
    public string? Rates { get; set; }

    internal bool IsBlank => string.IsNullOrWhiteSpace(Code) && string.IsNullOrWhiteSpace(Authority) && string.IsNullOrWhiteSpace(Rates);
}

/// <summary>A tax code as somebody typed it.</summary>
public sealed class TaxCodeForm
{
    // Every decimal it has, so that a code saved as it was shown stays as it was.
    const string Exactly = "0.############################";

    /// <summary>The code it had; empty for a new one.</summary>
    public string? Was { get; set; }
    /// <summary>What was seen of it when the form was opened.</summary>
    public string? Seen { get; set; }
    public string? Code { get; set; }
    public string? Name { get; set; }
    public string? Category { get; set; }
    public string? Direction { get; set; }
    public bool ReverseCharge { get; set; }
    public List<ComponentForm> Components { get; set; } = [];
    /// <summary>Account of a rule of output tax for this code; empty: it falls back.</summary>
    public string? OutputAccount { get; set; }
    /// <summary>Account of a rule of input tax for this code; empty: it falls back.</summary>
    public string? InputAccount { get; set; }
    /// <summary>What was seen: ids and accounts of the two rules.</summary>
    public string? OutputSeen { get; set; }
    public string? InputSeen { get; set; }

    /// <summary>The form of a tax code.</summary>
    internal static TaxCodeForm Of(TaxCode code) => new()
    {
        Was = code.Code, Seen = SettingKinds.TaxCodes.SeenOf(code), Code = code.Code, Name = code.Name, Category = code.Category,
            Direction = Words<TaxDirection>.Of(code.Direction), ReverseCharge = code.ReverseCharge,
        Components = [.. code.Components.Select(c => new ComponentForm
        {
            Code = c.Code, Authority = c.Authority, OnPrevious = c.Base == TaxBase.NetAndPrevious,
                Recoverable = c.RecoverablePercent.ToString(Exactly, Written.Now),
            Rates = string.Join('\n', c.Rates.Select(r =>
                $"{Written.DayNow(r.From)} {r.Percent.ToString(Exactly, Written.Now)}")),
        })],
    };

    /// <summary>The tax code that was typed, or the first field that can't be read.</summary>
    internal (TaxCode? Code, Refusal? Refusal) Read()
    {
        var components = new List<TaxComponent>();
        for (var i = 0; i < Components.Count; i++)
        {
            if (Components[i].IsBlank)
                continue;
            var (component, fault) = Read(Components[i]);
            if (fault is not null)
                return (null, new Refusal($"components[{i}]", fault));
            components.Add(component!);
        }
        return (new TaxCode
        {
            Code = Code?.Trim() ?? "", Name = Name?.Trim() ?? "", Category = Text(Category)?.ToUpperInvariant(),
            Direction = Words<TaxDirection>.TryParse(Direction ?? "", out var direction) ? direction : TaxDirection.Both, ReverseCharge = ReverseCharge,
                Components = components,
        }, null);
    }

    static (TaxComponent? Component, string? Fault) Read(ComponentForm form)
    {
        var rates = new List<TaxRate>();
        foreach (var line in (form.Rates ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            // A day in words has blanks of its own; the per cent stand last.
            var parts = line.TrimEnd('%', ' ').Split([' ', '\t', ';'], StringSplitOptions.RemoveEmptyEntries);
            if (!Written.Now.TryDay(string.Join(' ', parts.SkipLast(1)), out var from) || !Written.Now.TryNumber(parts[^1], out var percent) || percent < 0)
                return (null, $"Rate “{line}” can't be read. Write the day it begins and per cent, such as {Written.DayNow(new(2026, 1, 1))} 20.");
            rates.Add(new(from, percent));
        }
        var recoverable = 100m;
        if (Text(form.Recoverable) is { } typed && !Written.Now.TryNumber(typed.TrimEnd('%', ' '), out recoverable))
            return (null, $"Recoverable “{typed}” can't be read. Write per cent from 0 to 100.");
        return (new TaxComponent { Code = Text(form.Code), Authority = Pick.CodeOf(form.Authority) is { Length: > 0 } authority ? authority : null,
            Base = form.OnPrevious ? TaxBase.NetAndPrevious : TaxBase.Net, RecoverablePercent = recoverable, Rates = [.. rates.OrderBy(r => r.From)] }, null);
    }

    internal static string? Text(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();
}
