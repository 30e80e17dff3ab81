namespace Assignum.Web.Pages;

/// <summary>The pages that the find box leads to, by what people call them.</summary>
static class FindPages
{
    /// <summary>What a page is called, and its address within the company.</summary>
    internal static IReadOnlyList<(string Name, string Path)> All { get; } =
    [
        // Settings.
        ("Chart of accounts", "chart"), ("Import a chart", "chart/import"), ("Begin a chart from a template", "chart/start"),
        ("Numbering plan of the chart", "chart/numbering"), ("Dimensions of the chart", "chart/dimensions"), ("Merge two accounts", "chart/merge"),
        ("Accounts used by no rule", "chart?view=unruled"), ("Accounts without group account", "chart?view=ungrouped"),
        ("Groups of items", "groups/item"), ("Groups of parties", "groups/party"), ("Groups of projects", "groups/project"),
        ("Groups of assets", "groups/asset"), ("Locations", "groups/location"), ("Item tax groups", "groups/item-tax"),
        ("Party tax groups", "groups/party-tax"), ("Partners: companies of the group", "groups/partner"),
        ("Tax", "tax"), ("Tax codes", "tax/codes"), ("Rules", "rules"), ("Exceptions", "exceptions"), ("Checks", "checks"),
        ("Editions", "editions"), ("What changed: two editions compared", "editions/compare"),
        ("What changed since the end of last month", "editions/compare?since=month"), ("What is still missing", "begin"),
        ("Where does it land?", "where"), ("Landing map", "map"), ("Try-out", "try-out"),
        // Books.
        ("Desk", "desk"), ("Journal", "journal"), ("Kept journals", "journal/kept"), ("Journals for a second person", "journal/waiting"),
        ("Events from a file", "events"), ("Held events", "held"), ("Exchange rates", "rates"), ("Timing: cost and revenue in different months", "timing"),
        ("Tax report", "tax/report"), ("Tax entries", "tax/entries"),
        ("Ledger against subledger", "controls"), ("Receivables: open items", "open-items/receivables"), ("Payables: open items", "open-items/payables"),
        ("Stock", "stock"), ("Receipts without invoice", "receipts"), ("Money: banks, cash and payment providers", "money"), ("Projects", "projects"),
        ("Fixed assets", "assets"), ("Between companies", "between"), ("Terms of payment", "terms"), ("Old accounts", "standing"),
        ("Opening balances", "opening"),
        ("Month’s end", "month-end"), ("Years and periods", "periods"), ("Revaluation of foreign currency", "revaluation"),
        ("Recognition of projects", "recognition"), ("Depreciation of fixed assets", "depreciation"), ("Late charges: interest and reminders", "late-charges"),
        ("Proof of the books", "proof"),
        ("Trial balance", "trial-balance"), ("Balance sheet", "balance-sheet"), ("Income statement", "income-statement"),
        ("Account statement", "account-statement"), ("Document trail", "document-trail"), ("Consolidated trial balance", "consolidated"),
        ("Match to the group’s chart", "group"),
        ("Connections to other systems", "connections"), ("People and what they may do", "people"), ("Companies", "companies"),
    ];
}
