using Assignum.Core;
using Assignum.Core.Preparation;
using Assignum.Storage.Settings;
using Assignum.Storage.Subledgers;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Controls;

/// <summary>Terms as somebody typed them.</summary>
public sealed record TypedTerms(string? Days, string? DiscountPercent, string? DiscountDays, string? Tolerance, string? LatePercent, string? ReminderFee,
    string? GraceDays);

/// <summary>When customers and suppliers pay, and what may be kept: by group, and by party where one has terms of its own.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class TermsModel(TermsStore terms, TimeProvider clock) : SubledgerPage(clock)
{
    const int LongestDays = 3650;

    /// <summary>Those that are set, with the groups that have none.</summary>
    public IReadOnlyList<TermsRow> Rows { get; private set; } = [];
    /// <summary>Groups without any.</summary>
    public IReadOnlyList<(string Code, string Name)> Without { get; private set; } = [];
    /// <summary>Why they were not saved, and of whom.</summary>
    public (string Code, string Message)? Fault { get; private set; }
    /// <summary>What was typed then.</summary>
    public TypedTerms? Typed { get; private set; }

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    async Task Lay()
    {
        Rows = await terms.All(Company.Id, Stop);
        Without = [.. Books.Draft.Stored.Book.PartyGroups.Where(g => !Rows.Any(r => r.Group is not null && Fold.Same(r.Code, g.Code)))
            .Select(g => (g.Code, g.Name))];
    }

    /// <summary>Saves the terms of a group or a party.</summary>
    /// <param name="of">"group" or "party".</param>
    /// <param name="code">Its code; of a party also part of its name.</param>
    /// <param name="seen">The terms as they were shown, "30|2|10|0.5"; empty: none.</param>
    /// <param name="typed">What was typed.</param>
    /// <param name="none">They are taken away.</param>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(string of, string? code, string? seen, TypedTerms typed, bool none)
    {
        Typed = typed;
        var book = Books.Draft.Stored.Book;
        var group = Pick.One(of == "group" ? code : null, book.PartyGroups, g => g.Code, g => g.Name, "group");
        var party = Pick.One(of == "group" ? null : code, book.Parties, p => p.Code, p => p.Name, "party");
        if ((group.Thing?.Code ?? party.Thing?.Code) is not { } known)
            return await Refuse(code ?? "", group.Fault ?? party.Fault ?? "Whose terms they are is missing. Type a code or part of a name.");
        var id = Draft.Labels.IdOf(of == "group" ? Labels.Family("party") : "party", known)!.Value;
        if (none)
            return await Save(of, id, known, seen, null);
        foreach (var (value, label, most) in new[] { (typed.Days, "Days", LongestDays), (typed.DiscountDays, "Days of the discount", LongestDays),
            (typed.GraceDays, "Days of grace", LongestDays) })
            if (!string.IsNullOrWhiteSpace(value) && !(int.TryParse(value, out var days) && days >= 0 && days <= most))
                return await Refuse(known, $"{label}: “{value}” is no number of days. Give one from 0 to {most}.");
        if (!Number(typed.DiscountPercent, out var percent) || percent is < 0 or > 100)
            return await Refuse(known, $"Discount: “{typed.DiscountPercent}” is no percentage. Give one from 0 to 100.");
        if (!Number(typed.Tolerance, out var tolerance) || tolerance < 0 || tolerance != Money.Round(tolerance, Decimals))
            return await Refuse(known, $"Let go: “{typed.Tolerance}” is no amount. Give one of 0 or more, with at most {Decimals} decimals.");
        if (!Number(typed.LatePercent, out var late) || late is < 0 or > 100)
            return await Refuse(known, $"Interest: “{typed.LatePercent}” is no percentage. Give one from 0 to 100.");
        if (!Number(typed.ReminderFee, out var fee) || fee < 0 || fee != Money.Round(fee, Decimals))
            return await Refuse(known, $"Reminder: “{typed.ReminderFee}” is no amount. Give one of 0 or more, with at most {Decimals} decimals.");
        return await Save(of, id, known, seen, new Terms(Whole(typed.Days), percent, Whole(typed.DiscountDays), tolerance)
        {
            LatePercent = late, ReminderFee = fee, GraceDays = Whole(typed.GraceDays),
        });
    }

    static int Whole(string? text) => int.TryParse(text, out var number) ? number : 0;

    static bool Number(string? text, out decimal number)
    {
        number = 0;
        return string.IsNullOrWhiteSpace(text) || decimal.TryParse(text, System.Globalization.NumberStyles.Number, Written.Now, out number);
    }

    async Task<IActionResult> Save(string of, int id, string code, string? seen, Terms? made)
    {
        var refused = await terms.Set(Company.Id, UserId, of == "group" ? (null, id, code) : (id, null, code), Seen(seen), made, Stop);
        return refused is not null ? await Refuse(code, refused.Message)
            : Done(made is null ? $"{code} has no terms of its own any more." : $"{code} pays {made.InWords}.", At("terms"));
    }

    async Task<IActionResult> Refuse(string code, string message)
    {
        Fault = (code, message);
        Response.StatusCode = StatusCodes.Status400BadRequest;
        await Lay();
        return Page();
    }

    /// <summary>Terms as a form carries them back.</summary>
    internal static string Carried(Terms of) => string.Create(Written.Plain,
        $"{of.Days}|{of.DiscountPercent}|{of.DiscountDays}|{of.Tolerance}|{of.LatePercent}|{of.ReminderFee}|{of.GraceDays}");

    static Terms? Seen(string? carried) => carried?.Split('|') is [var days, var percent, var until, var tolerance, var late, var fee, var grace]
        ? new(int.Parse(days, Written.Plain), decimal.Parse(percent, Written.Plain), int.Parse(until, Written.Plain), decimal.Parse(tolerance, Written.Plain))
        {
            LatePercent = decimal.Parse(late, Written.Plain), ReminderFee = decimal.Parse(fee, Written.Plain), GraceDays = int.Parse(grace, Written.Plain),
        }
        : null;
}
