using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Web.Pages.Chart;

/// <summary>The fields of an account as somebody typed them.</summary>
public sealed class AccountForm
{
    /// <summary>Id; null for a new account.</summary>
    public int? Id { get; set; }
    /// <summary>Last change that was seen when the form was opened.</summary>
    public long Seen { get; set; }
    /// <summary>Number of the neighbour a new account was begun beside.</summary>
    public string? Beside { get; set; }
    public string? Number { get; set; }
    public string? Name { get; set; }
    public string? ShortName { get; set; }
    public string? Text { get; set; }
    public string? Class { get; set; }
    public string? Kind { get; set; }
    public string? Parent { get; set; }
    public string? Side { get; set; }
    public string? Control { get; set; }
    public string? PartyRole { get; set; }
    public string? Manual { get; set; }
    public string? TaxCode { get; set; }
    public string? ItemTaxGroup { get; set; }
    public string? TaxRelevance { get; set; }
    public string? Activity { get; set; }
    public string? GroupAccount { get; set; }
    public bool Active { get; set; }
    public bool Suspense { get; set; }
    public DateOnly? ValidFrom { get; set; }
    public DateOnly? ValidTo { get; set; }
    /// <summary>"EUR USD".</summary>
    public string? Currencies { get; set; }
    /// <summary>"annual accounts: 12", one a line.</summary>
    public string? Reporting { get; set; }
    /// <summary>What it asks of each dimension.</summary>
    public Dictionary<string, string?> Needs { get; set; } = [];
    /// <summary>The value it gives to each dimension.</summary>
    public Dictionary<string, string?> Values { get; set; } = [];
    /// <summary>The account that answers in its place, where it becomes inactive.</summary>
    public string? Replacement { get; set; }
    /// <summary>Codes of the tax codes for each of which a new account is made.</summary>
    public List<string> EachTaxCode { get; set; } = [];

    /// <summary>The form of an account.</summary>
    public static AccountForm Of(Account account, AccountDescription description) => new()
    {
        Number = account.Number, Name = account.Name, Class = account.Class.Word(), Kind = account.Kind.Word(), Parent = account.Parent,
            Control = account.Control?.Word(), Manual = account.Manual.Word(),
        PartyRole = account.PartyRole?.Word(), TaxCode = account.TaxCode, ItemTaxGroup = account.ItemTaxGroup, TaxRelevance = account.TaxRelevance?.Word(),
            Active = account.Active, Suspense = account.Suspense,
        ValidFrom = account.ValidFrom, ValidTo = account.ValidTo, Currencies = string.Join(' ', account.Currencies),
        Needs = account.Dimensions.ToDictionary(d => d.Key, d => (string?)d.Value.Word()),
            Values = account.DimensionDefaults.ToDictionary(d => d.Key, d => (string?)d.Value),
        ShortName = description.ShortName, Text = description.Text, Side = description.Side?.Word(), Activity = description.Activity,
            GroupAccount = description.GroupAccount,
        Reporting = string.Join('\n', description.Reporting.Select(r => $"{r.Report}: {r.Code}")),
    };

    /// <summary>The form of a new account.</summary>
    public static AccountForm New() => new() { Active = true, Kind = "posting", Manual = "open" };

    /// <summary>The account that was typed, or the first field that can't be read.</summary>
    public (Account? Account, FieldFault? Fault) Read(Rulebook book)
    {
        var parent = Pick.One(Parent, book.Accounts, a => a.Number, a => a.Name, "account");
        if (parent.Fault is { } unclear)
            return (null, new("parent", unclear));
        if (!Words<AccountClass>.TryParse(string.IsNullOrEmpty(Class) ? parent.Thing?.Class.Word() ?? "" : Class, out var accountClass))
            return (null, new("class", "The account has no class. Choose where it stands in the statements."));
        return (new Account
        {
            Number = Number?.Trim() ?? "", Name = Name?.Trim() ?? "", Class = accountClass, Kind = Words<AccountKind>.TryParse(Kind ?? "", out var kind) ? kind
                : AccountKind.Posting,
            Parent = parent.Thing?.Number, Control = Word<Control>(Control), Manual = Word<ManualPolicy>(Manual) ?? ManualPolicy.Open,
                PartyRole = Word<PartyRole>(PartyRole),
            TaxCode = Empty(TaxCode), ItemTaxGroup = Empty(ItemTaxGroup), TaxRelevance = Word<TaxRelevance>(TaxRelevance), Active = Active, Suspense = Suspense,
                ValidFrom = ValidFrom, ValidTo = ValidTo,
            Currencies = [.. (Currencies ?? "").Split([' ', ',', ';'], StringSplitOptions.RemoveEmptyEntries).Select(Fold.Of).Distinct()],
            Dimensions = Needs.Where(n => Word<DimensionNeed>(n.Value) is { } need && need != DimensionNeed.Optional).ToDictionary(n => n.Key, n =>
                Word<DimensionNeed>(n.Value)!.Value),
            DimensionDefaults = Values.Where(v => !string.IsNullOrWhiteSpace(v.Value)).ToDictionary(v => v.Key, v => v.Value!.Trim()),
        }, null);
    }

    /// <summary>What was typed to describe it, or the first field that can't be read.</summary>
    public (AccountDescription? Description, FieldFault? Fault) ReadDescription(Rulebook? group)
    {
        var reporting = new List<ReportCode>();
        foreach (var line in (Reporting ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            if (line.Split(':', 2, StringSplitOptions.TrimEntries) is not [var report, var code])
                return (null, new("reporting",
                    $"“{line}” can't be read. Write report and code with a colon between them, such as “annual accounts: 12”, one a line."));
            reporting.Add(new ReportCode(report, code));
        }
        if (Empty(Activity) is { } activity && Formats.Charts.Activities.Find(Pick.CodeOf(activity)) is null)
            return (null, new("activity", $"There is no activity {activity}. Type a part of its name and choose one."));
        var grouped = group is null ? default : Pick.One(GroupAccount, group.Accounts, a => a.Number, a => a.Name, "group account");
        if (grouped.Fault is { } unclear)
            return (null, new("groupAccount", unclear));
        return (new AccountDescription
        {
            ShortName = Empty(ShortName), Text = Empty(Text), Side = Word<UsualSide>(Side),
                Activity = Formats.Charts.Activities.Find(Pick.CodeOf(Activity))?.Code,
            Reporting = reporting, GroupAccount = group is null ? Empty(GroupAccount) : grouped.Thing?.Number,
        }, null);
    }

    static T? Word<T>(string? word) where T : struct, Enum => Words<T>.TryParse(word ?? "", out var value) ? value : null;

    static string? Empty(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();
}
