using System.Text;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Sending;

/// <summary>
/// Checks text once, where it enters: no NUL, well-formed, and not longer than its field holds. Codes have 40 characters, names 200, texts 2,000;
/// pasted tables and the tokens of forms are as long as they are.
/// </summary>
static class SentText
{
    const int LongestCode = 40, LongestName = 200, LongestText = 2_000, LongestAddress = 8_000;

    static readonly HashSet<string> Codes = new(["code", "newCode", "was", "currency", "half.code"], StringComparer.OrdinalIgnoreCase);
    static readonly HashSet<string> Names = new(["name", "shownAs"], StringComparer.OrdinalIgnoreCase);
    // Pasted rows, values a line each, and what the application itself has handed out.
    static readonly HashSet<string> Long = new(["rows", "values", "seen", "proof", "half", "token", "reporting", "outputSeen", "inputSeen", "r",
        "__RequestVerificationToken"], StringComparer.OrdinalIgnoreCase);

    internal static void UseSentText(this IApplicationBuilder app) => app.Use(async (http, next) =>
    {
        if (Fault(http.Request.Path.Value ?? "", "address", LongestAddress) is { } bad)
        {
            await Refuse(http, bad);
            return;
        }
        foreach (var (field, values) in http.Request.Query)
            foreach (var value in values)
                if ((Fault(field, "address", LongestName) ?? Fault(value ?? "", field, LongestOf(field))) is { } fault)
                {
                    await Refuse(http, fault);
                    return;
                }
        if (http.Request.HasFormContentType && await FormFault(http) is { } inForm)
        {
            await Refuse(http, inForm);
            return;
        }
        try
        {
            await next(http);
        }
        catch (Storage.UnkeepableTextException unkeepable) when (!http.Response.HasStarted)
        {
            await Refuse(http, unkeepable.Message + " Type it again.");
        }
    });

    static async Task<string?> FormFault(HttpContext http)
    {
        IFormCollection form;
        try
        {
            // The page's own limits hold: a page that takes files says so.
            form = await http.Request.ReadFormAsync(FormOptionsOf(http), http.RequestAborted);
        }
        catch (Exception unreadable) when (unreadable is InvalidDataException or BadHttpRequestException or IOException)
        {
            return unreadable is BadHttpRequestException { StatusCode: StatusCodes.Status413PayloadTooLarge }
                ? "More was sent than this page takes. Send less at a time."
                : "What was sent can't be read as a form, or has more fields than any page. Load the page again, and repeat the act.";
        }
        foreach (var (field, values) in form)
            foreach (var value in values)
                if ((Fault(field, "a field's name", LongestName) ?? Fault(value ?? "", field, LongestOf(field))) is { } fault)
                    return fault;
        return form.Files.Select(f => Fault(f.FileName, "the file's name", LongestText)).FirstOrDefault(f => f is not null);
    }

    static FormOptions FormOptionsOf(HttpContext http)
    {
        var page = http.GetEndpoint()?.Metadata.GetMetadata<RequestFormLimitsAttribute>();
        return new FormOptions
        {
            ValueCountLimit = FormSizes.MostValues, KeyLengthLimit = FormSizes.LongestKey, ValueLengthLimit = FormSizes.LongestValue,
            MultipartBodyLengthLimit = page?.MultipartBodyLengthLimit ?? FormSizes.LargestForm, BufferBodyLengthLimit = FormSizes.LargestForm,
        };
    }

    static int LongestOf(string field)
    {
        var name = field[(field.LastIndexOf('.') + 1)..];
        if (Long.Contains(name) || name.StartsWith("f.", StringComparison.Ordinal))
            return int.MaxValue;
        if (Codes.Contains(name))
            return LongestCode;
        if (Names.Contains(name))
            return LongestName;
        return LongestText;
    }

    /// <summary>What is wrong with a text, or null.</summary>
    internal static string? Fault(string text, string field, int longest)
    {
        if (text.Length > longest)
            return $"{field} has {text.Length:N0} characters, and holds {longest:N0}. Shorten it.";
        if (text.Contains('\0', StringComparison.Ordinal))
            return $"{field} has a character that can't be seen and can't be kept (NUL). Type it again.";
        if (text.Contains('\uFFFD', StringComparison.Ordinal) || !IsWellFormed(text))
            return $"{field} has characters that can't be read. Type it again.";
        return null;
    }

    static bool IsWellFormed(string text)
    {
        for (var i = 0; i < text.Length; i++)
            if (char.IsSurrogate(text[i]) && !(char.IsHighSurrogate(text[i]) && ++i < text.Length && char.IsLowSurrogate(text[i])))
                return false;
        return true;
    }

    static Task Refuse(HttpContext http, string fault)
    {
        http.Response.StatusCode = StatusCodes.Status400BadRequest;
        http.Response.ContentType = "text/html; charset=utf-8";
        return http.Response.WriteAsync($"<!doctype html><title>Not taken</title><p class=\"fault\" role=\"alert\">{HtmlEncoder.Default.Encode(fault)} " +
            "Nothing was changed.</p>", Encoding.UTF8);
    }
}

/// <summary>How much a form may send: an invoice has up to 500 lines, a selection all rows of a page.</summary>
static class FormSizes
{
    internal const int MostValues = 20_000, LongestKey = 200, LongestValue = 16 << 20, LargestForm = 16 << 20;
}
