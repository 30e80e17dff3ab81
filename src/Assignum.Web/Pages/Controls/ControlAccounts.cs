using Assignum.Core;
using Assignum.Core.Charts;

namespace Assignum.Web.Pages.Controls;

/// <summary>The control accounts of the edition in force.</summary>
static class ControlAccounts
{
    /// <summary>Their ids, each with the word of its subledger.</summary>
    internal static IReadOnlyList<(int Account, string Subledger)> Of(CompanyPage page)
    {
        var stored = page.Books.Released.Stored;
        return [.. stored.Book.Accounts.Where(a => a.Control is not null && a.Kind == AccountKind.Posting)
            .Select(a => (stored.Labels.Account(a.Number) ?? 0, a.Control!.Value.Word()))];
    }
}
