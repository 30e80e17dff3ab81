using Assignum.Core.Rulebooks;

namespace Assignum.Core.Charts;

/// <summary>A company's chart with everything that is said about it: the accounts of a rulebook as a tree, their numbers, uses and descriptions.
/// Immutable.</summary>
public sealed class ChartBook
{
    readonly Lazy<AccountUses> uses;

    /// <summary>Puts it together.</summary>
    /// <param name="book">The rulebook whose accounts they are.</param>
    /// <param name="plan">The numbering plan.</param>
    /// <param name="kept">Numbers that are not given again, by fold.</param>
    /// <param name="descriptions">Descriptions by the fold of the account's number; accounts without one may be left out.</param>
    public ChartBook(Rulebook book, NumberingPlan plan, IReadOnlyDictionary<string, KeptNumber> kept, IReadOnlyDictionary<string,
        AccountDescription> descriptions)
    {
        Book = book;
        Tree = ChartTree.Of(book.Accounts);
        Kept = kept;
        Numbers = new ChartNumbers(Tree, plan, kept);
        Descriptions = descriptions;
        uses = new(() => new AccountUses(book));
    }

    /// <summary>A chart without plan and descriptions.</summary>
    public ChartBook(Rulebook book) : this(book, NumberingPlan.None, new Dictionary<string, KeptNumber>(), new Dictionary<string, AccountDescription>())
    {
    }

    /// <summary>The rulebook.</summary>
    public Rulebook Book { get; }
    /// <summary>Its accounts as a tree.</summary>
    public ChartTree Tree { get; }
    /// <summary>Its numbers, with the numbering plan.</summary>
    public ChartNumbers Numbers { get; }
    /// <summary>Numbers that are not given again.</summary>
    public IReadOnlyDictionary<string, KeptNumber> Kept { get; }
    /// <summary>Descriptions by the fold of the number.</summary>
    public IReadOnlyDictionary<string, AccountDescription> Descriptions { get; }
    /// <summary>What uses each account.</summary>
    public AccountUses Uses => uses.Value;

    /// <summary>What is said of an account.</summary>
    public AccountDescription DescriptionOf(string number) => Descriptions.GetValueOrDefault(Fold.Of(number)) ?? AccountDescription.None;
}
