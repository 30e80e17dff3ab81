using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Storage.Charts;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages.Chart;

/// <summary>The dimensions of a company: cost centre and others, with their values, and which accounts ask for them.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class DimensionsModel(DimensionStore dimensions) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Chart";
    /// <summary>The dimensions.</summary>
    public IReadOnlyList<DimensionDefined> All { get; private set; } = [];
    /// <summary>What was typed, where it was refused.</summary>
    public (string? Code, string? Name, string? Values) Typed { get; private set; }
    /// <summary>What is seen of them, sent along with a save.</summary>
    public long Seen { get; private set; }
    /// <summary>Why it was refused.</summary>
    public Refusal? Refusal { get; private set; }

    /// <summary>How many accounts require and bar a dimension.</summary>
    public (int Required, int Barred) Asking(string code) => (Count(code, DimensionNeed.Required), Count(code, DimensionNeed.Barred));

    int Count(string code, DimensionNeed need) => Draft.Book.Accounts.Count(a => a.Dimensions.Any(d => Fold.Same(d.Key, code) && d.Value == need));

    /// <summary>Shows them; one to be changed, where it is named.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync(string? code)
    {
        await Lay();
        if (All.FirstOrDefault(d => Fold.Same(d.Code, code)) is { } chosen)
            Typed = (chosen.Code, chosen.Name, string.Join('\n', chosen.Values.Select(v => $"{v.Code} {v.Name}")));
    }

    /// <summary>Defines a dimension, or changes one.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(string? code, string? name, string? values, long seen)
    {
        List<(string, string)> read = [.. (values ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Select(line =>
            line.Split((char[]?)null, 2, StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)).Select(parts =>
            (parts[0], parts.ElementAtOrDefault(1) ?? ""))];
        if (await dimensions.Define(Company.Id, UserId, code, name, read, Stop, seen) is { } refusal)
            return await Refuse(refusal, (code, name, values));
        return Done($"Dimension {code!.Trim()} is defined.", At("chart/dimensions"));
    }

    /// <summary>Takes a dimension away.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostRemoveAsync(string code, long seen) =>
        await dimensions.Remove(Company.Id, UserId, code, Stop, seen) is { } refusal ? await Refuse(refusal, default)
            : Done($"Dimension {code} is gone.", At("chart/dimensions"));

    async Task Lay() => (Seen, All) = (await dimensions.Seen(Company.Id, Stop), await dimensions.All(Company.Id, Stop));

    async Task<PageResult> Refuse(Refusal refusal, (string?, string?, string?) typed)
    {
        await Lay();
        (Refusal, Typed) = (refusal, typed);
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
