using System.Globalization;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Web.Picking;

namespace Assignum.Web.Pages.Chart;

/// <summary>The fields of an account as somebody typed them.</summary>
public sealed class AccountForm
{
    /// <summary>Id; null for a new account.</summary>
    public int? Id { get; set; }
    /// <summary>Last change that was seen when the form was opened.</summary>
    public long Seen { get; set; }
    public string? Number { get; set; }
    public string? Name { get; set; }
    public string? Class { get; set; }
    public string? Kind { get; set; }
    public string? Parent { get; set; }
    public string? Control { get; set; }
    public string? Manual { get; set; }
    public string? TaxCode { get; set; }
    public string? ItemTaxGroup { get; set; }
    public bool Active { get; set; }
    public bool Suspense { get; set; }
    public DateOnly? ValidFrom { get; set; }
    public DateOnly? ValidTo { get; set; }
    /// <summary>"CC required; PROJECT barred".</summary>
    public string? Dimensions { get; set; }

    /// <summary>The form of an account; of a new one when null.</summary>
    public static AccountForm Of(Account? account) => account is null ? new() { Active = true, Kind = "posting", Manual = "open" } : new()
    {
        Number = account.Number, Name = account.Name, Class = account.Class.Word(), Kind = account.Kind.Word(), Parent = account.Parent, Control = account.Control?.Word(), Manual = account.Manual.Word(),
        TaxCode = account.TaxCode, ItemTaxGroup = account.ItemTaxGroup, Active = account.Active, Suspense = account.Suspense, ValidFrom = account.ValidFrom, ValidTo = account.ValidTo,
        Dimensions = string.Join("; ", account.Dimensions.Select(d => $"{d.Key} {Words<DimensionNeed>.Of(d.Value)}")),
    };

    /// <summary>The account that was typed, or the first field that can't be read.</summary>
    public (Account? Account, FieldFault? Fault) Read(Rulebook book)
    {
        if (!Words<AccountClass>.TryParse(Class ?? "", out var accountClass))
            return (null, new("class", "The account has no class. Choose where it stands in the statements."));
        var parent = Pick.One(Parent, book.Accounts, a => a.Number, a => a.Name, "account");
        if (parent.Fault is { } unclear)
            return (null, new("parent", unclear));
        var (dimensions, fault) = ReadDimensions();
        if (fault is not null)
            return (null, fault);
        return (new Account
        {
            Number = Number?.Trim() ?? "", Name = Name?.Trim() ?? "", Class = accountClass, Kind = Words<AccountKind>.TryParse(Kind ?? "", out var kind) ? kind : AccountKind.Posting,
            Parent = parent.Thing?.Number, Control = Words<Control>.TryParse(Control ?? "", out var control) ? control : null, Manual = Words<ManualPolicy>.TryParse(Manual ?? "", out var manual) ? manual : ManualPolicy.Open,
            TaxCode = Empty(TaxCode), ItemTaxGroup = Empty(ItemTaxGroup), Active = Active, Suspense = Suspense, ValidFrom = ValidFrom, ValidTo = ValidTo, Dimensions = dimensions,
        }, null);
    }

    (IReadOnlyDictionary<string, DimensionNeed>, FieldFault?) ReadDimensions()
    {
        if (string.IsNullOrWhiteSpace(Dimensions))
            return (Account.NoDimensions, null);
        var needs = new Dictionary<string, DimensionNeed>();
        foreach (var part in Dimensions.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var words = part.Split([' ', '=', ':'], StringSplitOptions.RemoveEmptyEntries);
            if (words.Length != 2 || !Words<DimensionNeed>.TryParse(words[1].ToLower(CultureInfo.InvariantCulture), out var need) || !needs.TryAdd(words[0], need))
                return (needs, new("dimensions", $"“{part}” can't be read. Write each dimension once with one of {string.Join(", ", Words<DimensionNeed>.All)}, such as “CC required; SITE barred”."));
        }
        return (needs, null);
    }

    static string? Empty(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();
}
