using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>An entry in the making: finds the account of each amount, and notes every reason that bars it.</summary>
sealed class EntryDraft(CompiledRulebook book, PostingContext posting, List<HeldReason> reasons)
{
    readonly List<EntryRow> rows = [];
    readonly List<Movement> subledger = [];
    readonly List<Warning> warnings = [];
    decimal balance;
    int converted;
    bool lacksAmounts;

    internal IReadOnlyList<EntryRow> Rows => rows;
    internal IReadOnlyList<Movement> Subledger => subledger;
    internal IReadOnlyList<Warning> Warnings => warnings;

    /// <summary>An amount of the document, in its currency, debit positive; converted on its own.</summary>
    /// <param name="purpose">What it is for.</param>
    /// <param name="context">What the row stands with.</param>
    /// <param name="amount">The amount.</param>
    /// <param name="lineAccount">The account its line names, which answers a purpose that takes line choices.</param>
    /// <param name="standsOn">The account it stands on, which answers whatever the rules say today.</param>
    internal void Post(Purpose purpose, RowContext context, decimal amount, Account? lineAccount = null, Account? standsOn = null)
    {
        if (amount != 0 && posting.IsConverted)
            converted++;
        Post(purpose, context, posting.Company(amount), posting.Currency, amount, lineAccount, standsOn, ofDocument: true);
    }

    /// <summary>An amount that arises in company currency, debit positive.</summary>
    internal void PostCompany(Purpose purpose, RowContext context, decimal amount, Account? standsOn = null, Account? lineAccount = null) =>
        Post(purpose, context, amount, posting.CompanyCurrency, amount, lineAccount, standsOn, ofDocument: false);

    /// <summary>An amount of the document that stands in company currency at a rate of its own, debit positive.</summary>
    internal void PostAt(Purpose purpose, RowContext context, decimal amount, decimal company, Account? standsOn = null)
    {
        if (amount != 0 && posting.IsConverted)
            converted++;
        Post(purpose, context, company, posting.Currency, amount, lineAccount: null, standsOn, ofDocument: true);
    }

    /// <summary>What money is worth more or less than what it settles was booked at, debit positive: a loss, or a gain.</summary>
    internal void PostExchange(decimal amount) => PostCompany(amount < 0 ? Purpose.ExchangeGain : Purpose.ExchangeLoss, posting.Row, amount);

    /// <summary>What the rows so far leave unbalanced, company currency, debit positive.</summary>
    internal decimal Balance => balance;

    /// <summary>What is left of an amount of the document once an amount in company currency is taken from it; converted on its own, like every amount of the
    /// document.</summary>
    internal void PostRest(Purpose purpose, RowContext context, decimal amount, decimal taken)
    {
        if (amount != 0 && posting.IsConverted)
            converted++;
        PostCompany(purpose, context, posting.Company(amount) - taken);
    }

    /// <summary>An amount on an account that the event itself gives; no rule is asked.</summary>
    internal void PostGiven(Account account, RowContext context, decimal amount, string currency, decimal documentAmount, Dimensions dimensions)
    {
        balance += amount;
        rows.Add(new EntryRow
        {
            Account = account, Amount = amount, Currency = currency, DocumentAmount = documentAmount, Purpose = null, By = AnsweredBy.Given, Context = context,
                Dimensions = dimensions,
        });
    }

    /// <summary>An amount on an account that a line of the event names, and that must do for it like any other: it takes postings, and has its
    /// dimensions.</summary>
    /// <param name="account">The account.</param>
    /// <param name="context">What the row stands with.</param>
    /// <param name="amount">Debit positive, document currency.</param>
    /// <param name="company">The same in company currency.</param>
    /// <param name="closed">The account may be inactive or past its days: a balance leaves it.</param>
    internal void PostNamed(Account account, RowContext context, decimal amount, decimal company, bool closed = false)
    {
        if (company == 0)
            return;
        if (amount != 0 && posting.IsConverted)
            converted++;
        balance += company;
        var found = new Answered(account, closed ? AnsweredBy.Standing : AnsweredBy.Given, null, null);
        if (!MayCarry(null, context, found, ofDocument: true))
            return;
        rows.Add(new EntryRow
        {
            Account = account, Amount = company, Currency = posting.Currency, DocumentAmount = amount, Purpose = null, By = AnsweredBy.Given, Context = context,
            Dimensions = context.DocumentDimensions.WithoutBarred(account).With(context.OwnDimensions).FilledBy(account),
        });
    }

    /// <summary>What stands on an account is worth more or less, company currency, debit positive; no rule is asked, and the account may be inactive.</summary>
    internal void PostWhereItStands(Account account, RowContext context, decimal amount)
    {
        if (amount == 0)
            return;
        balance += amount;
        if (!MayCarry(null, context, new Answered(account, AnsweredBy.Standing, null, null), ofDocument: false))
            return;
        rows.Add(new EntryRow
        {
            Account = account, Amount = amount, Currency = posting.CompanyCurrency, DocumentAmount = amount, Purpose = null, By = AnsweredBy.Standing,
            Context = context, Dimensions = context.DocumentDimensions.WithoutBarred(account).With(context.OwnDimensions).FilledBy(account),
        });
    }

    /// <summary>An amount leaves the account it stands on, and comes to the one its ladder answers with.</summary>
    /// <param name="purpose">What it is for.</param>
    /// <param name="context">What both rows stand with.</param>
    /// <param name="amount">Company currency, debit positive.</param>
    /// <param name="currency">Currency in which it arose.</param>
    /// <param name="documentAmount">The amount in that currency.</param>
    /// <param name="from">The account it stands on.</param>
    internal void PostStanding(Purpose purpose, RowContext context, decimal amount, string currency, decimal documentAmount, Account from)
    {
        Post(purpose, context, -amount, currency, -documentAmount, lineAccount: null, from, ofDocument: false);
        Post(purpose, context, amount, currency, documentAmount, lineAccount: null, standsOn: null, ofDocument: false);
    }

    /// <summary>Something worth a look that does not stop it.</summary>
    internal void Warn(Warning warning) => warnings.Add(warning);

    /// <summary>
    /// What converting each row on its own has left unbalanced, on the purpose for it. More than half a minor unit for each converted row
    /// can't come of rounding: it is a fault of ours, and never lands.
    /// </summary>
    internal void PostRounding()
    {
        var most = Rounding.Most(converted, posting.CompanyMinorUnits);
        if (!lacksAmounts && Math.Abs(balance) > most)
            reasons.Add(new HeldReason(HeldCause.Unbalanced,
                FormattableString.Invariant($"The rows of {posting.Happened.TypeName} {posting.Happened.Id} leave {balance} {posting.CompanyCurrency}, ") +
                    FormattableString.Invariant($"and rounding explains at most {most}. ") +
                    "This is a fault of ours; nothing was posted. Report it with this event."));
        else
            PostCompany(Purpose.Rounding, posting.Row, -balance);
    }

    /// <summary>A movement of a subledger. One that moves no money is left out, but for quantity without value and tax at zero.</summary>
    internal void Move(Movement movement)
    {
        if (!movement.Counts)
            return;
        // A movement follows the row it belongs to.
        if (rows.Count > 0 && rows[^1] is var last && last.Amount == movement.Amount && last.Purpose?.Control is { } control
            && (int)control == (int)movement.Subledger)
            movement.Row = last;
        subledger.Add(movement);
    }

    internal void Refuse(HeldReason reason) => reasons.Add(reason);

    void Post(Purpose purpose, RowContext context, decimal company, string currency, decimal amount, Account? lineAccount, Account? standsOn, bool ofDocument)
    {
        if (company == 0)
            return;
        if (Math.Abs(company) >= Money.Limit || Math.Abs(amount) >= Money.Limit)
        {
            lacksAmounts = true;
            reasons.Add(HeldReason.Invalid(context.Line is { } line ? $"lines[{line}]" : "lines",
                $"{(context.Line is { } at ? new Place("lines", at).InWords + ": an" : "An")} amount of {purpose.InWords} comes to {amount} {currency}. " +
                    $"Amounts stay below {Money.Limit:N0}; correct quantity, price or rate."));
            return;
        }
        balance += company;
        if (Find(purpose, context, lineAccount, standsOn) is not { } found || !MayCarry(purpose, context, found, ofDocument))
            return;
        rows.Add(new EntryRow
        {
            Account = found.Account, Amount = company, Currency = currency, DocumentAmount = amount, Purpose = purpose,
            By = found.By, Rung = found.Rung, Rule = found.Rule, Context = context,
            Dimensions = context.DocumentDimensions.WithoutBarred(found.Account).With(context.OwnDimensions).FilledBy(found.Account),
        });
    }

    readonly record struct Answered(Account Account, AnsweredBy By, Rung? Rung, Rule? Rule);

    Answered? Find(Purpose purpose, RowContext context, Account? lineAccount, Account? standsOn)
    {
        if (standsOn is not null)
            return new(standsOn, AnsweredBy.Standing, null, null);
        if (lineAccount is not null && purpose.TakesLineChoice)
            return new(lineAccount, AnsweredBy.Line, null, null);

        var answer = book.Resolve(purpose, context.Facts, posting.Happened.Date);
        if (posting.Control is { } chosen && purpose.TakesAlternates)
            return FindAlternate(purpose, chosen, answer);
        if (answer.Found)
            return new(book.AccountOf(answer), AnsweredBy.Ladder, book.RungOf(answer), book.RuleOf(answer));

        var asked = book.AskedFor(purpose, context.Facts);
        reasons.Add(new HeldReason(HeldCause.NoRule,
            $"{purpose.Title} has no account {InWords(asked)} on {Written.DayNow(posting.Happened.Date)}. Add a rule for {purpose.InWords}, or a company " +
                "default.")
        {
            Purpose = purpose, Facts = asked,
        });
        return null;
    }

    Answered? FindAlternate(Purpose purpose, Account chosen, Answer answer)
    {
        var onList = posting.Party?.ControlAlternates.Any(number => Fold.Same(number, chosen.Number)) ?? false;
        var byLadder = answer.Found && ReferenceEquals(book.AccountOf(answer), chosen);
        if ((onList || byLadder) && chosen.Control == purpose.Control)
            return new(chosen, AnsweredBy.Control, null, null);
        reasons.Add(new HeldReason(HeldCause.ControlNotPermitted, onList || byLadder
            ? $"Account {chosen.Number} {chosen.Name} is not a control account of {purpose.Control!.Value.InWords()}. Choose another control account for the " +
                "document, or correct the account."
            : $"Account {chosen.Number} {chosen.Name} is not a control account that {posting.Party?.Code} {posting.Party?.Name} may choose. Choose another " +
                "for the document, or add it to the party.")
        {
            Purpose = purpose, Account = chosen.Number,
        });
        return null;
    }

    bool MayCarry(Purpose? purpose, RowContext context, Answered found, bool ofDocument)
    {
        var what = purpose?.InWords ?? "an amount";
        var before = reasons.Count;
        var account = found.Account;
        if (WhyNotPostable(found) is { } why)
            Refuse(HeldCause.AccountNotPostable,
                $"Account {account.Number} {account.Name} {why}, and {Chooser(found)} sends {what} there. Choose a posting account that is active " +
                    $"and valid on {Written.DayNow(posting.Happened.Date)}.");
        else if (ofDocument && !account.TakesCurrency(posting.Currency))
            Refuse(HeldCause.AccountNotPostable,
                $"Account {account.Number} {account.Name} takes {string.Join(" and ", account.Currencies)} only, and {Chooser(found)} sends " +
                    $"{what} in {posting.Currency} there. Choose another account, or add {posting.Currency} to its currencies.");
        else if (purpose?.TakesAlternates == true && context.Party is { } party && !account.TakesRole(party.Role))
            Refuse(HeldCause.AccountNotPostable,
                $"Account {account.Number} {account.Name} takes {account.PartyRole!.Value.Word()}s only, and party {party.Code} is a {party.Role.Word()}; " +
                    $"{Chooser(found)} sends {what} there. Choose another account, or change the roles it takes.");
        else if (found.By == AnsweredBy.Line && account.Control is { } control && control != purpose!.Control)
            CheckByHand(purpose, account, control);
        if (account.Dimensions.Count > 0)
            CheckDimensions();
        return reasons.Count == before;

        void Refuse(HeldCause cause, string message) =>
            reasons.Add(new HeldReason(cause, message) { Purpose = purpose, Account = account.Number, Rule = found.Rule?.Id });

        void CheckDimensions()
        {
            foreach (var (name, need) in account.Dimensions)
            {
                if (need == DimensionNeed.Required && !context.OwnDimensions.Has(name) && !context.DocumentDimensions.Has(name) && !account.HasDefault(name))
                    Refuse(HeldCause.DimensionMissing,
                        $"Account {account.Number} {account.Name} requires dimension {name}, and none is given for {what}. Give it one, or make " +
                            "it optional on the account.");
                else if (need == DimensionNeed.Barred && context.OwnDimensions.Has(name))
                    Refuse(HeldCause.DimensionBarred,
                        $"Account {account.Number} {account.Name} bars dimension {name}, and the line gives it for {what}. Take it off the line, " +
                            "or make it optional on the account.");
            }
        }
    }

    // What stands on an account that has been closed since must still be settled or moved.
    string? WhyNotPostable(Answered found)
    {
        if (found.By != AnsweredBy.Standing)
            return found.Account.WhyNotPostable(posting.Happened.Date);
        return found.Account.Kind == AccountKind.Posting ? null : $"is a {found.Account.Kind.Word()}";
    }

    // A line's account that is a control account of something else is an entry by hand.
    void CheckByHand(Purpose purpose, Account account, Control control)
    {
        var said = $"Account {account.Number} {account.Name} is a control account of {control.InWords()}, and the line names it for {purpose.InWords}.";
        if (account.Manual == ManualPolicy.Block)
            reasons.Add(new HeldReason(HeldCause.ManualBlocked, said + " Entries by hand are blocked there: name another account.") { Purpose = purpose,
                Account = account.Number });
        else if (account.Manual == ManualPolicy.Warn)
            warnings.Add(new Warning(purpose, account.Number, said + " Ledger and subledger will differ."));
    }

    string Chooser(Answered found) => found.By switch
    {
        AnsweredBy.Ladder => $"the rule for {new Findings.Called(book.Book).Of(found.Rule!.When)}",
        AnsweredBy.Standing => "what it stands on",
        AnsweredBy.Control => "the control account chosen",
        _ => "the line",
    };

    static string InWords(IReadOnlyList<FactValue> facts) =>
        facts.Count == 0 ? "without any fact" : "for " + string.Join(", ", facts.Select(f => $"{f.Fact.InWords()} {f.Code}"));
}
