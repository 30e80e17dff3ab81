using System.Text.Encodings.Web;
using Assignum.Core;
using Assignum.Formats.Sheets;
using Assignum.Storage.Companies;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Htmx;
using Microsoft.AspNetCore.RateLimiting;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages;

/// <summary>A page of one company: the company and its rulebooks are there before the page begins.</summary>
[EnableRateLimiting(Limits.Api)]
public abstract class CompanyPage : PageModel
{
    /// <summary>The company of the address.</summary>
    public CompanyRow Company { get; private set; } = null!;
    /// <summary>Its rulebooks as they are now.</summary>
    public CompanyBooks Books { get; private protected set; } = null!;
    /// <summary>The step of the work rail the page belongs to.</summary>
    public abstract string Step { get; }

    /// <summary>Whether the one who looks may change the draft and post.</summary>
    public bool MayPrepare => User.Prepares(Company.Code);
    /// <summary>Whether the one who looks may release.</summary>
    public bool MayApprove => User.Approves(Company.Code);
    /// <summary>Decimals of the company's currency.</summary>
    public int Decimals => Money.MinorUnits(Company.Currency);
    /// <summary>The rulebook is so large that what counts all its combinations comes after the page.</summary>
    public bool IsLarge => Books.Draft.Stored.Book.Rules.Count > Large;
    const int Large = 10_000;
    /// <summary>The page is asked for as it prints: whole, without what one works with.</summary>
    public bool IsPrint => Request.Query["print"] == "yes";
    /// <summary>Most rows that are printed; beyond, an export is offered.</summary>
    public const int MostPrinted = 5_000;
    /// <summary>How many rows a list shows: a page of them, or when it prints as many as print.</summary>
    /// <param name="most">Most rows of a page on the screen.</param>
    protected int AtMost(int most) => IsPrint ? MostPrinted : most;
    /// <summary>What was done last, said once by the next whole page; parts of a page leave it alone.</summary>
    public string? TakeSaid() => TempData[nameof(Done)] as string;

    /// <summary>The draft, as read.</summary>
    protected StoredRulebook Draft => Books.Draft.Stored;
    /// <summary>Id of the one who acts.</summary>
    protected int UserId => User.Id();
    /// <summary>Ends with the request that only looks. An act is done or not done, and goes on when the browser goes away.</summary>
    protected CancellationToken Stop => HttpMethods.IsGet(Request.Method) ? HttpContext.RequestAborted : CancellationToken.None;

    /// <summary>Name of an account of the draft, or empty.</summary>
    public string AccountName(string number) => Books.Draft.Shown.Accounts.TryFind(number, out var account) ? account.Name : "";

    /// <summary>Name of a party of the draft, or empty.</summary>
    public string PartyName(string? code) => code is not null && Books.Draft.Shown.Parties.TryFind(code, out var party) ? party.Name : "";

    /// <summary>An address of this company.</summary>
    public string At(string path) => $"/{Company.Code.ToLowerInvariant()}/{path}";

    /// <summary>The address of an account in the chart.</summary>
    protected string AtAccount(string number) => At("chart") + "#a" + Uri.EscapeDataString(number);

    /// <inheritdoc/>
    // Its name would make it a handler of a verb “Page”.
    [NonHandler]
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        var services = HttpContext.RequestServices;
        if (await services.GetRequiredService<CompanyStore>().Find((string)RouteData.Values["company"]!, Stop) is not { } company)
        {
            context.Result = NotFound();
            return;
        }
        Company = company;
        if (Unread() is { } unread)
        {
            context.Result = unread;
            return;
        }
        Books = await services.GetRequiredService<RulebookCache>().Of(company.Id, Stop);
        await next();
    }

    // A day or a number that can't be read must not pass for one that was left out. What was typed stays where it is.
    ActionResult? Unread()
    {
        var faulty = ModelState.Where(f => f.Value is { Errors.Count: > 0 }).Select(f =>
            $"<p class=\"fault unread\" role=\"alert\">{HtmlEncoder.Default.Encode(Sentence(f.Key, f.Value!))} Nothing was changed.</p>").ToList();
        if (faulty.Count == 0)
            return null;
        if (!Request.IsHtmx())
        {
            Sending.WhatWentWrong.Unread(HttpContext,
                string.Join(' ', ModelState.Where(f => f.Value is { Errors.Count: > 0 }).Select(f => Sentence(f.Key, f.Value!))));
            return new StatusCodeResult(StatusCodes.Status400BadRequest);
        }
        Response.Htmx(h => h.WithTrigger("unread").Reswap(HtmxSwap.AfterBegin));
        return new ContentResult { StatusCode = StatusCodes.Status400BadRequest, ContentType = "text/html; charset=utf-8", Content = string.Concat(faulty) };

        static string Sentence(string field, Microsoft.AspNetCore.Mvc.ModelBinding.ModelStateEntry entry) =>
            entry.Errors[0].ErrorMessage is { Length: > 0 } said && said.StartsWith('“') ? said
                : $"{Showing.Show.Field(field)}: “{entry.AttemptedValue}” can't be read.";
    }

    /// <summary>A table to take away.</summary>
    /// <param name="table">The table.</param>
    /// <param name="name">Name of the file, without its ending.</param>
    /// <param name="kind">"xlsx"; anything else is CSV.</param>
    protected FileStreamResult Export(Table table, string name, string? kind)
    {
        var content = new MemoryStream();
        var isXlsx = kind == "xlsx";
        if (isXlsx)
            XlsxTable.Write(content, table);
        else
            CsvTable.Write(content, table);
        content.Position = 0;
        return File(content, isXlsx ? "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet" : "text/csv; charset=utf-8",
            name + (isXlsx ? ".xlsx" : ".csv"));
    }

    /// <summary>A part of the page for the drawer, or the whole page where the browser asks without scripts.</summary>
    protected IActionResult Drawer(string partial, object model)
    {
        if (Request.IsHtmx())
            return Partial(partial, model);
        ViewData["Drawer"] = (partial, model);
        return Page();
    }

    /// <summary>After an act: says what was done, and goes to an address; beside a try-out the page stays, and the try-out lands anew.</summary>
    protected IActionResult Done(string said, string address)
    {
        if (Request.IsHtmx(out var from) && from?.CurrentUrl is { } url && Uri.TryCreate(url, UriKind.Absolute, out var there)
            && there.AbsolutePath == At("try-out"))
        {
            Response.Htmx(h => h.WithTrigger("mended"));
            return Partial("_Mended", said);
        }
        TempData[nameof(Done)] = said;
        if (!Request.IsHtmx())
            return Redirect(address);
        Response.Htmx(h => h.Redirect(address));
        return new NoContentResult();
    }
}
