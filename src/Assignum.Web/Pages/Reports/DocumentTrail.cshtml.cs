using Assignum.Storage.Journal;
using Assignum.Storage.Reports;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Reports;

/// <summary>A document by its number, with everything that hangs on it.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class DocumentTrailModel(ReportStore reports, ChainStore chains) : CompanyPage
{
    const int Most = 30;

    /// <inheritdoc/>
    public override string Step => "Reports";
    /// <summary>The number of a document, or a part of it.</summary>
    [BindProperty(SupportsGet = true, Name = "document")]
    public string? Sought { get; set; }
    /// <summary>Id of the event chosen of those that fit.</summary>
    [BindProperty(SupportsGet = true, Name = "event")]
    public long? Chosen { get; set; }
    /// <summary>Events that fit.</summary>
    public IReadOnlyList<(long Event, string Type, string Document, DateOnly Date, string Outcome, long? Entry)> Fitting { get; private set; } = [];
    /// <summary>What hangs together; null where nothing fits.</summary>
    public Chain? Chain { get; private set; }
    /// <summary>The same as a drawing.</summary>
    internal ChainDrawing? Drawing { get; private set; }

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync()
    {
        if (string.IsNullOrWhiteSpace(Sought))
            return;
        Fitting = await reports.Documents(Company.Id, Sought.Trim(), Most, Stop);
        if (Fitting.Count == 0)
            return;
        Chosen ??= (Fitting.FirstOrDefault(f => f.Outcome == "landed") is { Event: > 0 } landed ? landed : Fitting[0]).Event;
        Chain = await chains.Of(Company.Id, Chosen.Value, Stop);
        Drawing = Chain.Events.Count > 1 ? ChainDrawing.Of(Chain, Chosen.Value, Decimals) : null;
    }
}
