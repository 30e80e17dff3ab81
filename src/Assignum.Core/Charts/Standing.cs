namespace Assignum.Core.Charts;

/// <summary>Where a class stands in the statements, in words and as a side.</summary>
public static class Standing
{
    /// <summary>The side on which balances of a class usually stand.</summary>
    public static UsualSide SideOf(AccountClass accountClass) =>
        accountClass is AccountClass.Asset or AccountClass.CostOfSales or AccountClass.Expense or AccountClass.OtherExpense ? UsualSide.Debit
            : UsualSide.Credit;

    /// <summary>Whether a balance stands on the other side than usual.</summary>
    /// <param name="accountClass">Class of the account.</param>
    /// <param name="own">The account's own usual side, where it differs from its class.</param>
    /// <param name="balance">Balance, debit positive.</param>
    public static bool IsWrongSide(AccountClass accountClass, UsualSide? own, decimal balance) =>
        balance != 0 && (balance > 0 ? UsualSide.Debit : UsualSide.Credit) != (own ?? SideOf(accountClass));

    /// <summary>"Expenses: lowers net profit, not gross profit."</summary>
    public static string Sentence(AccountClass accountClass) => accountClass switch
    {
        AccountClass.Asset => "Assets: stands on the balance sheet, as what the company has.",
        AccountClass.Liability => "Liabilities: stands on the balance sheet, as what the company owes.",
        AccountClass.Equity => "Equity: stands on the balance sheet, as what belongs to the owners.",
        AccountClass.Income => "Income: raises gross profit and net profit.",
        AccountClass.CostOfSales => "Cost of sales: lowers gross profit and net profit.",
        AccountClass.Expense => "Expenses: lowers net profit, not gross profit.",
        AccountClass.OtherIncome => "Other income: raises net profit, not gross profit.",
        _ => "Other expense: lowers net profit, not gross profit.",
    };

    /// <summary>The sentence for an account under a heading: "It stands under 62 Selling. Expenses: lowers net profit, not gross profit."</summary>
    public static string Sentence(AccountClass accountClass, Account? parent) =>
        (parent is null ? "" : $"It stands under {parent.Number} {parent.Name}. ") + Sentence(accountClass);
}
