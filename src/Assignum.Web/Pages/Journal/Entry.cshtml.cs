using System.Text.Json;
using Assignum.Storage.Journal;
using Assignum.Storage.Posting;
using Assignum.Web.Access;
using Assignum.Web.Trails;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Journal;

/// <summary>One entry with its ledger and subledger lines, and the trail of each amount.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class EntryModel(JournalStore journal, RulebookCache books, TrailMaker trails) : CompanyPage
{
    static readonly JsonSerializerOptions Indented = new() { WriteIndented = true,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <inheritdoc/>
    public override string Step => "Journal";
    /// <summary>The entry.</summary>
    public EntryWhole Entry { get; private set; } = null!;
    /// <summary>The event as received, laid out.</summary>
    public string Received => JsonSerializer.Serialize(JsonDocument.Parse(Entry.Received).RootElement, Indented);

    /// <summary>Shows the entry.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync(long id) => await Find(id) ? Page() : NotFound();

    /// <summary>Opens the trail of a line.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetTrailAsync(long id, int line)
    {
        if (!await Find(id) || Entry.Lines.FirstOrDefault(l => l.No == line) is not { } found)
            return NotFound();
        return Drawer("_Trail", await trails.OfLine(this, await books.OfEdition(Company.Id, found.Edition, Stop), Entry, found, Stop));
    }

    async Task<bool> Find(long id)
    {
        if (await journal.Entry(Company.Id, id, Stop) is not { } entry)
            return false;
        Entry = entry;
        return true;
    }
}
