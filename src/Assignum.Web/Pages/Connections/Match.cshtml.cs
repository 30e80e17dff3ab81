using Assignum.Core;
using Assignum.Core.Matching;
using Assignum.Core.Taxes;
using Assignum.Formats.Sheets;
using Assignum.Storage.Connections;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Connections;
using Assignum.Web.Showing;
using Htmx;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Connections;

/// <summary>A tax code of theirs beside the one of ours it would be matched with, where they are not the same tax.</summary>
/// <param name="Theirs">Their rate, per cent.</param>
/// <param name="Ours">Ours, today, per cent.</param>
/// <param name="TheirAuthority">Their authority, or null.</param>
/// <param name="OurAuthority">Ours, or null.</param>
public sealed record TaxDiffers(decimal? Theirs, decimal? Ours, string? TheirAuthority, string? OurAuthority);

/// <summary>The matching board: their list, ours, and what is decided between them. One key for each decision.</summary>
[Authorize(Policy = Policies.Reads)]
[RequestFormLimits(MultipartBodyLengthLimit = 16 << 20), RequestSizeLimit(16 << 20)]
public sealed partial class MatchModel(ConnectionStore connections, ListStore lists, MatchStore matches, SystemClient client, SuggestionCache cache,
    TaxStore taxes,
    TimeProvider clock) : ConnectionPage(connections, lists)
{
    /// <summary>Entries shown around the one in hand.</summary>
    public const int Rows = 6;

    readonly ListStore lists = lists;

    /// <summary>The list of the address; null: the first that has something waiting.</summary>
    [BindProperty(SupportsGet = true, Name = "list")]
    public string? Asked { get; set; }
    /// <summary>Code of the entry in hand, as it was asked for.</summary>
    [BindProperty(SupportsGet = true, Name = "hand")]
    public string? InHandCode { get; set; }
    /// <summary>What is looked at: empty, "here" (ours without a match), "done", "all" (good suggestions before they are taken), "rest" (additions before
    /// they are
    /// made).</summary>
    [BindProperty(SupportsGet = true, Name = "view")]
    public string? View { get; set; }
    /// <summary>Posting group for what is added.</summary>
    [BindProperty(SupportsGet = true, Name = "group")]
    public string? Group { get; set; }

    /// <summary>The list.</summary>
    public string List { get; private set; } = "";
    /// <summary>The board; null: there is no list yet.</summary>
    public Board? Board { get; private set; }
    /// <summary>The entry in hand; null: nothing waits.</summary>
    public KeptEntry? InHand { get; private set; }
    /// <summary>What an added entry is called by: "theirs" or "next".</summary>
    public string NumberRule => Kept.FirstOrDefault(l => l.List == List)?.NumberRule ?? "theirs";
    /// <summary>Why something was not done.</summary>
    public Refusal? Refused { get; private set; }
    /// <summary>The tax of theirs that differs from ours; it is asked which holds.</summary>
    public TaxDiffers? Differs { get; private set; }
    /// <summary>Ours in hand, where somebody chose it; null: the best suggestion.</summary>
    public string? Chosen { get; private set; }
    /// <summary>Ours that is in hand: chosen, or suggested first; null: none.</summary>
    public MatchEntry? OursInHand => Chosen is not null ? Web.Connections.Lists.Ours(Draft.Book, List).FirstOrDefault(o => Fold.Same(o.Code, Chosen))
        : BestInHand;
    MatchEntry? BestInHand => InHand is null ? null : Board?.BestFor(InHand)?.Ours;
    /// <summary>Entries refused of an imported file.</summary>
    public IReadOnlyList<string> RefusedRows { get; private set; } = [];

    /// <summary>Shows the board.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync()
    {
        await Lay();
        return Asked is not null && Board is null && Kept.Count > 0 ? NotFound() : Shown();
    }

    async Task Lay()
    {
        List = Asked ?? Counts.FirstOrDefault(c => c.Value.Waiting > 0).Key ?? Counts.Keys.FirstOrDefault() ?? "";
        if (!Counts.ContainsKey(List))
            return;
        Board = Board.Of(Draft.Book, Connection, List, await lists.Entries(Company.Id, Connection.Id, List, Stop), cache);
        InHand = Board.Waiting.FirstOrDefault(w => Fold.Same(w.Sent.Code, InHandCode)) ?? (Board.Waiting.Count > 0 ? Board.Waiting[0] : null);
        if (InHand is not null && List == "tax-codes")
            Differs = DiffersFrom(InHand, OursInHand?.Code);
    }

    IActionResult Shown() => Request.IsHtmx() ? Partial("_Board", this) : Page();

    /// <summary>Whether two taxes differ.</summary>
    TaxDiffers? DiffersFrom(KeptEntry theirs, string? ours)
    {
        if (ours is null || Draft.Book.TaxCodes.FirstOrDefault(t => Fold.Same(t.Code, ours)) is not { } code || theirs.Sent.Rate is null)
            return null;
        var today = clock.Today();
        var part = code.Components.Count == 1 ? code.Components[0] : null;
        var rate = part?.Rates.Where(r => r.From <= today).OrderBy(r => r.From).Select(r => (decimal?)r.Percent).LastOrDefault();
        return rate == theirs.Sent.Rate && Fold.Same(part?.Authority ?? "", theirs.Sent.Authority ?? "") ? null
            : new(theirs.Sent.Rate, rate, theirs.Sent.Authority, part?.Authority);
    }

    // After a decision the next entry that waits is in hand.
    string? After(string code)
    {
        var at = Board!.Waiting.ToList().FindIndex(w => Fold.Same(w.Sent.Code, code));
        return at < 0 ? InHandCode : Board.Waiting.Skip(at + 1).Concat(Board.Waiting.Take(at)).FirstOrDefault()?.Sent.Code;
    }

    async Task<IActionResult> Decide(IReadOnlyList<Decided> decisions, string? next, Additions? added = null)
    {
        Refused = await matches.Decide(Company.Id, UserId, Connection, List, decisions, Stop, added);
        return await Again(Refused is null ? next : InHandCode);
    }

    async Task<IActionResult> Again(string? next, bool sameView = false)
    {
        if (Refused is not null)
            Response.StatusCode = StatusCodes.Status400BadRequest;
        if (Refused is null && RefusedRows.Count == 0 && !Request.IsHtmx())
            return Redirect(AtConnection($"match/{List}") + $"?view={(sameView ? View : null)}&hand={Uri.EscapeDataString(next ?? "")}");
        Books = await HttpContext.RequestServices.GetRequiredService<Storage.Posting.RulebookCache>().Of(Company.Id, Stop);
        (InHandCode, Asked) = (next, List);
        if (Refused is null && !sameView)
            View = null;
        await Reload();
        await Lay();
        return Shown();
    }

    IActionResult Gone() => Done("That list is not here any more.", AtConnection("match"));

    /// <summary>Matches an entry with one of ours.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostMatchAsync(string theirs, string? ours, string? how, string? holds)
    {
        await Lay();
        if (Board is null)
            return Gone();
        var code = Pick.CodeOf(ours);
        if (Board.Free.Concat(Board.Decided.Select(d => d.Ours).OfType<MatchEntry>()).FirstOrDefault(o => Fold.Same(o.Code, code)) is not { } found)
        {
            Refused = new("ours", $"There is no {Web.Connections.Lists.One(List)} “{ours}”. Type its code or part of its name.");
            return await Again(theirs);
        }
        if (List == "tax-codes" && Board.Waiting.FirstOrDefault(w => Fold.Same(w.Sent.Code, theirs)) is { } entry && DiffersFrom(entry,
            found.Code) is { } differs)
        {
            Chosen = found.Code;
            if (holds is not ("ours" or "theirs"))
            {
                Refused = new("holds",
                    $"{theirs} is {Percent(differs.Theirs)} there and {found.Code} is {Percent(differs.Ours)} here. Choose which holds, then match it.");
                return await Again(theirs);
            }
            if (holds == "theirs" && await TakeRate(found.Code, differs) is { } refused)
            {
                Refused = refused;
                return await Again(theirs);
            }
            how = holds == "ours" ? $"ours holds, {Percent(differs.Ours)}; there it is {Percent(differs.Theirs)}" : $"theirs holds, {Percent(differs.Theirs)}";
        }
        return await Decide([new(theirs, found.Code, string.IsNullOrWhiteSpace(how) ? "by hand" : how.Trim())], After(theirs));
    }

    internal static string Percent(decimal? rate) => rate is { } known ? Show.Plain(known) + " %" : "of several parts";

    // Their rate is taken over into the draft, from today on.
    async Task<Refusal?> TakeRate(string ours, TaxDiffers differs)
    {
        var code = Draft.Book.TaxCodes.First(t => Fold.Same(t.Code, ours));
        if (code.Components.Count != 1)
            return new("holds", $"{ours} has several parts. Change its rates under Tax, then match it.");
        var part = code.Components[0];
        return await taxes.Save(Company.Id, UserId, code.Code, code with
        {
            Components = [part with { Authority = differs.TheirAuthority ?? part.Authority,
                Rates = [.. part.Rates.Where(r => r.From != clock.Today()), new TaxRate(clock.Today(), differs.Theirs!.Value)] }],
        }, Stop);
    }

    /// <summary>An entry is not needed here.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostNotNeededAsync(string theirs)
    {
        await Lay();
        return Board is null ? Gone() : await Decide([new(theirs, null, "not needed")], After(theirs));
    }

    /// <summary>Takes the last decision back; or that about an entry.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostBackAsync(string? theirs)
    {
        await Lay();
        var oneOfMany = theirs is not null;
        var last = theirs is not null ? (List, theirs) : await matches.Last(Company.Id, UserId, Connection.Id, Stop);
        if (last is not { } undo)
            return await Again(InHandCode);
        Refused = await matches.Undo(Company.Id, UserId, Connection, undo.Item1, [undo.Item2], Stop);
        List = undo.Item1;
        return await Again(undo.Item2, oneOfMany);
    }

    /// <summary>Accepts every good suggestion, or only what has the same number and name.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAllAsync(bool equal, string[] theirs)
    {
        await Lay();
        if (Board is null)
            return Gone();
        var chosen = theirs.Select(Fold.Of).ToHashSet(StringComparer.Ordinal);
        var good = (equal ? Board.Equal : Board.Good.Where(g => chosen.Contains(Fold.Of(g.Theirs.Sent.Code)))).Where(g =>
            List != "tax-codes" || DiffersFrom(g.Theirs, g.Ours.Code) is null).ToList();
        return good.Count == 0 ? await Again(InHandCode) : await Decide([.. good.Select(g => new Decided(g.Theirs.Sent.Code, g.Ours.Code, g.Why.Reason))],
            null);
    }

    /// <summary>Adds an entry of theirs here.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAddHereAsync(string theirs)
    {
        await Lay();
        if (Board?.Waiting.FirstOrDefault(w => Fold.Same(w.Sent.Code, theirs)) is not { } entry)
            return Gone();
        return await Add([entry], After(theirs));
    }

    /// <summary>Adds all the rest here, as it was looked at.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAddRestAsync(string[] theirs)
    {
        await Lay();
        var chosen = theirs.Select(Fold.Of).ToHashSet(StringComparer.Ordinal);
        return Board is null ? Gone() : await Add([.. Board.Waiting.Where(w => chosen.Contains(Fold.Of(w.Sent.Code)))], null);
    }

    async Task<IActionResult> Add(IReadOnlyList<KeptEntry> entries, string? next)
    {
        if (!Adding.Takes(List))
            Refused = new("", $"{Web.Connections.Lists.Titles[List]} are added on their own page. Add it there, then match it.");
        else if (entries.Count > 0)
        {
            var toAdd = Adding.Of(Draft.Book, Connection, Board!, entries, NumberRule, Group);
            if (toAdd.Faults is [var (code, why), ..])
                Refused = new("", $"{code}: {why}");
            else
                return await Decide(toAdd.Decisions, next, toAdd.Added);
        }
        return await Again(InHandCode);
    }

    /// <summary>What all the rest would become.</summary>
    internal ToAdd Rest => Adding.Of(Draft.Book, Connection, Board!, Board!.Waiting, NumberRule, Group);

    /// <summary>Adds ours there, and matches it with what comes of it.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAddThereAsync(string[] ours)
    {
        await Lay();
        if (Board is null)
            return Gone();
        var chosen = ours.Select(Fold.Of).ToHashSet(StringComparer.Ordinal);
        var entries = Board.Free.Where(f => chosen.Contains(Fold.Of(f.Code))).Select(f => new WireEntry(f.Code, f.Name, f.Kind?.Replace(' ', '-'), null,
            null, null, null,
            null, null)).ToList();
        try
        {
            var added = await client.Add(Connection, List, entries, Stop);
            var sent = await client.List(Connection, List, Kept.First(l => l.List == List).Version, Stop);
            await lists.Refresh(Company.Id, Connection.Id, List, sent.Version, [.. sent.Entries.Select(ListFetching.Kept)], sent.Gone ?? [], sent.Whole, Stop);
            if (added.Codes.Count > 0)
                Refused = await matches.Decide(Company.Id, UserId, Connection, List, [.. added.Codes.Select(code => new Decided(code, code, "added there"))],
                    Stop);
            if (added.Refused is [var first, ..])
                Refused = new("", $"{Connection.Name} did not take {first.Code}: {first.Reason}");
        }
        catch (OutsideException fault)
        {
            Refused = new("", fault.Message);
        }
        return await Again(InHandCode);
    }

    /// <summary>Says what an added entry is called by.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostRuleAsync(string? rule)
    {
        await Lay();
        await lists.SetNumberRule(Company.Id, Connection.Id, List, rule ?? "", Stop);
        return await Again(InHandCode, sameView: true);
    }

    /// <summary>Somebody has seen what is new.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostSeenAsync()
    {
        await Lay();
        await lists.MarkSeen(Company.Id, Connection.Id, List, Stop);
        return await Again(InHandCode);
    }
}
