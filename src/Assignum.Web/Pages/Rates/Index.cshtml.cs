using System.Text;
using Assignum.Core;
using Assignum.Core.Rates;
using Assignum.Formats.Rates;
using Assignum.Formats.Sheets;
using Assignum.Storage.Rates;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Rates;

/// <summary>Exchange rates by day: what an event in another currency is worth where it says no rate itself.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(RateStore rates, TimeProvider clock) : CompanyPage
{
    const int MostShown = 400, LargestFile = 4 << 20;

    /// <inheritdoc/>
    public override string Step => "Journal";
    /// <summary>Only of this currency.</summary>
    [BindProperty(SupportsGet = true, Name = "currency")]
    public string? Of { get; set; }
    /// <summary>The rate of each currency that holds today.</summary>
    public IReadOnlyList<DayRate> Today { get; private set; } = [];
    /// <summary>Rates by day, the latest first.</summary>
    public IReadOnlyList<DayRate> Days { get; private set; } = [];
    /// <summary>Why nothing was saved.</summary>
    public Refusal? Refusal { get; private set; }
    /// <summary>Rows that give no rate.</summary>
    public IReadOnlyList<RefusedRate> Refused { get; private set; } = [];
    /// <summary>What was typed, where it was refused.</summary>
    public (string? Currency, DateOnly? Day, string? Rate, string? Block) Typed { get; private set; }
    /// <summary>The day it is.</summary>
    public DateOnly Now => clock.Today();

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>Saves one rate.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(string? code, DateOnly? day, string? rate, bool replace)
    {
        Typed = (code, day, rate, null);
        if (string.IsNullOrWhiteSpace(code))
            return await Refuse(new("code", "Which currency it is of is missing. Write its code, such as USD."));
        if (day is null)
            return await Refuse(new("day", "The day is missing. Give the day of the rate."));
        if (!Written.Now.TryNumber(rate ?? "", out var number))
            return await Refuse(new("rate", string.IsNullOrWhiteSpace(rate) ? "The rate is missing. Type it." : Sending.Typed.NotANumber(rate)));
        var one = new DayRate(Fold.Of(code), day.Value, number);
        return await rates.Set(Company.Id, UserId, [one], replace, Stop) is { } refusal ? await Refuse(refusal)
            : Done($"{one.Currency} is {Show.Plain(one.Rate)} {Company.Currency} from {Show.Day(one.Day)} on.", At("rates"));
    }

    /// <summary>Imports a sheet, or a block pasted out of one: all of it, or nothing.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostImportAsync(IFormFile? file, string? block, bool replace)
    {
        Typed = (null, null, null, block);
        if (file is { Length: > LargestFile })
            return await Refuse(new("file",
                $"The file has {file.Length >> 20} MB, and rates of twenty years have less than one. Choose the file of the rates."));
        using var content = new MemoryStream();
        if (file is not null)
            await file.CopyToAsync(content, Stop);
        else
            content.Write(Encoding.UTF8.GetBytes(block ?? ""));
        var read = SheetFile.Read(content.ToArray(), Stop);
        if (read.Sheets.Count == 0)
            return await Refuse(new("file", string.IsNullOrWhiteSpace(block) && file is null ? "Nothing is chosen. Choose a file, or paste rows."
                : read.Fault!));
        var (found, refused) = RateSheet.Read(read.Sheets[0], Fold.Of(Company.Currency));
        Refused = refused;
        if (refused.Count > 0)
            return await Refuse(new("file", $"{Show.Count(refused.Count, "row")} can't be read, so nothing is imported. Fix them, and import again."));
        if (found.Count == 0)
            return await Refuse(new("file", "There is no rate in it. Give a day, a currency and a rate in each row."));
        return await rates.Set(Company.Id, UserId, found, replace, Stop) is { } refusal ? await Refuse(refusal)
            : Done($"{Show.Count(found.Count, "rate")} imported, {Show.Day(found.Min(r => r.Day))} to {Show.Day(found.Max(r => r.Day))}.", At("rates"));
    }

    /// <summary>Takes the rates out as a sheet, which comes back as it went.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync()
    {
        var all = await rates.Latest(Company.Id, Of, SheetFile.MostRows, Stop);
        return Export(new Table("Rates", ["day", "currency", "rate"], all.Select(r => (IReadOnlyList<object?>)[r.Day, r.Currency, r.Rate])), "rates", "csv");
    }

    async Task Lay() =>
        (Today, Days) = (await rates.On(Company.Id, Now, Stop), await rates.Latest(Company.Id, string.IsNullOrWhiteSpace(Of) ? null : Fold.Of(Of), MostShown,
            Stop));

    async Task<IActionResult> Refuse(Refusal refusal)
    {
        await Lay();
        Refusal = refusal;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
