using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Sheets;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Landings;

/// <summary>What lands on an account by the rules of the draft: each rule with all members behind it.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class HereModel(TimeProvider clock) : DatedPage(clock)
{
    /// <inheritdoc/>
    public override string Step => "Chart";
    /// <summary>The account.</summary>
    public Account Account { get; private set; } = null!;
    /// <summary>Its rules.</summary>
    public IReadOnlyList<RuleLandsHere> Rules { get; private set; } = [];

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGet(string number) => Lay(number) ? Page() : NotFound();

    /// <summary>Each member with its rule, as a table to take away.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetExport(string number, string? kind) => Lay(number)
        ? Export(new Table("Lands here", ["account", "purpose", "rule", "code", "name", "lands on"], Rules.SelectMany(r => r.Members
            .Select(m => (IReadOnlyList<object?>)[Account.Number, r.Rule.Purpose.Name, r.Rule.InWords, m.Code, m.Name, Account.Number])
            .Concat(r.Elsewhere.Select(e =>
                (IReadOnlyList<object?>)[Account.Number, r.Rule.Purpose.Name, r.Rule.InWords, e.Code, e.Name, e.Account ?? "held"])))),
                $"lands-on-{Account.Number}", kind)
        : NotFound();

    bool Lay(string number)
    {
        if (!Books.Draft.Shown.Accounts.TryFind(number, out var account))
            return false;
        Account = account;
        Rules = LandsHere.Of(Books.Draft.Shown, account, Date);
        return true;
    }
}
