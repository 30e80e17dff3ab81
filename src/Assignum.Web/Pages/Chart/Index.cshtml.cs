using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Picking;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Chart;

/// <summary>An account in the tree, as the page shows it.</summary>
/// <param name="Node">The account in its place.</param>
/// <param name="UsedBy">How many rules of the draft answer with it.</param>
/// <param name="Posted">Whether anything was ever posted to it.</param>
public sealed record ChartLine(ChartNode Node, int UsedBy, bool Posted);

/// <summary>The chart of accounts: a tree with classes and balances, and the panel of one account.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(ChartStore chart, EditionStore editions) : CompanyPage
{
    /// <summary>Views of the chart, by the word in the address.</summary>
    public static readonly IReadOnlyList<(string Word, string Title)> Views =
        [("", "All"), ("used", "in use by rules"), ("control", "control accounts"), ("untaxed", "without tax setting"), ("unposted", "never posted"), ("inactive", "inactive")];

    /// <inheritdoc/>
    public override string Step => "Chart";
    /// <summary>What the number or name must have in it.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Filter { get; set; }
    /// <summary>Which view.</summary>
    [BindProperty(SupportsGet = true)]
    public string? View { get; set; }
    /// <summary>The accounts shown.</summary>
    public IReadOnlyList<ChartLine> Lines { get; private set; } = [];
    /// <summary>How many accounts there are.</summary>
    public int All => Draft.Book.Accounts.Count;

    /// <summary>Shows the chart.</summary>
    public Task OnGetAsync() => Lay();

    /// <summary>Opens the panel of an account.</summary>
    public async Task<IActionResult> OnGetAccountAsync(string number)
    {
        await Lay();
        if (Draft.Book.Accounts.FirstOrDefault(a => Fold.Same(a.Number, number)) is not { } account)
            return NotFound();
        return Drawer("_Account", await PanelOf(account, []));
    }

    /// <summary>Opens the panel for a new account, beside another where one is named.</summary>
    public async Task<IActionResult> OnGetNewAsync(string? beside)
    {
        await Lay();
        var like = beside is null ? null : Draft.Book.Accounts.FirstOrDefault(a => Fold.Same(a.Number, beside));
        return Drawer("_Account", new AccountPanel(this, AccountForm.Of(like is null ? null : like with { Number = "", Name = "" }), Draft.Book, []) { Beside = like?.Number });
    }

    /// <summary>Adds or changes an account.</summary>
    public async Task<IActionResult> OnPostAccountAsync([FromForm] AccountForm form)
    {
        var (account, fault) = form.Read(Draft.Book);
        var refusal = fault is not null ? new Refusal(fault.Field, fault.Message)
            : form.Id is { } id ? await chart.Change(Company.Id, UserId, id, form.Seen, account!, Stop)
            : await chart.Add(Company.Id, UserId, account!, Stop);
        if (refusal is null)
            return Done(form.Id is null ? $"Account {account!.Number} {account.Name} is in draft {Books.State.Draft}." : $"Account {account!.Number} {account.Name} is changed: its name at once, its settings in draft {Books.State.Draft}.", At("chart") + $"#a{account.Number}");
        await Lay();
        return Drawer("_Account", new AccountPanel(this, form, Draft.Book, [new FieldFault(refusal.Field, refusal.Message)]));
    }

    async Task<AccountPanel> PanelOf(Account account, IReadOnlyList<FieldFault> faults)
    {
        var id = Draft.Labels.Account(account.Number)!.Value;
        var form = AccountForm.Of(account);
        form.Id = id;
        form.Seen = await chart.LastChangeOf(Company.Id, id, Stop);
        return new AccountPanel(this, form, Draft.Book, faults)
        {
            UsedBy = [.. Draft.Book.Rules.Where(r => Fold.Same(r.Account, account.Number))],
            History = await editions.History(Company.Id, "account", id, Stop),
            RuleRow = rule => Draft.Labels.RuleRow(rule.Id),
        };
    }

    async Task Lay()
    {
        var balances = (await chart.Balances(Company.Id, Stop)).ToDictionary(b => b.Account, b => b.Debit - b.Credit);
        var used = Draft.Book.Rules.ToLookup(r => Fold.Of(r.Account));
        var nodes = ChartTree.Lay([.. Draft.Book.Accounts], a => balances.GetValueOrDefault(IdOf(a)));
        Lines = [.. nodes.Select(n => new ChartLine(n, used[Fold.Of(n.Account.Number)].Count(), balances.ContainsKey(IdOf(n.Account)))).Where(IsShown)];

        int IdOf(Account account) => Draft.Labels.Account(account.Number)!.Value;
    }

    bool IsShown(ChartLine line)
    {
        var account = line.Node.Account;
        var inView = View switch
        {
            "used" => line.UsedBy > 0,
            "control" => account.Control is not null,
            "untaxed" => account is { Kind: AccountKind.Posting, TaxCode: null, ItemTaxGroup: null, Class: AccountClass.Income or AccountClass.Expense or AccountClass.CostOfSales },
            "unposted" => account.Kind == AccountKind.Posting && !line.Posted,
            "inactive" => !account.Active,
            _ => true,
        };
        return inView && (string.IsNullOrWhiteSpace(Filter) || Fold.Of($"{account.Number} {account.Name}").Contains(Fold.Of(Filter), StringComparison.Ordinal));
    }
}

/// <summary>The panel of an account, or of one to be added.</summary>
public sealed record AccountPanel(CompanyPage Page, AccountForm Form, Core.Rulebooks.Rulebook Book, IReadOnlyList<FieldFault> Faults)
{
    /// <summary>Number of the account it was copied from.</summary>
    public string? Beside { get; init; }
    /// <summary>Rules of the draft that answer with it.</summary>
    public IReadOnlyList<Core.Rulebooks.Rule> UsedBy { get; init; } = [];
    /// <summary>Row of a rule.</summary>
    public Func<Core.Rulebooks.Rule, long?> RuleRow { get; init; } = _ => null;
    /// <summary>Its changes, newest first.</summary>
    public IReadOnlyList<LoggedChange> History { get; init; } = [];

    /// <summary>The fault of a field, or null.</summary>
    public string? FaultOf(string field) => Faults.FirstOrDefault(f => f.Field == field)?.Message;
}
