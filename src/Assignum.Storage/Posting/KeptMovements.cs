using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using Assignum.Storage.Proving;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>A movement as it is kept, by ids.</summary>
abstract record KeptMovement(Moved Value)
{
    /// <summary>The table of its kind.</summary>
    internal abstract MovementTable Table { get; }

    /// <summary>Writes the columns only its kind has.</summary>
    /// <param name="copy">The row.</param>
    /// <param name="eventId">The event that moves it.</param>
    internal abstract void WriteOwn(NpgsqlBinaryImporter copy, long eventId);

    /// <summary>The subledger it moves.</summary>
    internal abstract Subledger Of { get; }

    /// <summary>Its kind, as the canonical form names it.</summary>
    internal abstract string Kind { get; }

    /// <summary>What only its kind has, in the order of its columns, as the canonical form writes it.</summary>
    internal abstract object?[] Ids(long eventId);

    /// <summary>The movement on the account where it stands now.</summary>
    /// <param name="now">The account on which stands now what was put on one.</param>
    internal virtual KeptMovement On(Func<int, int> now) => this;

    /// <summary>The account it is on; null where none is kept.</summary>
    internal virtual int? Standing => null;

    /// <summary>The account it stands on now, moved item by item.</summary>
    /// <param name="shifts">The moves.</param>
    /// <param name="account">The account it would stand on without them.</param>
    /// <param name="by">The event that put it there.</param>
    internal virtual int Shifted(StandingShifts shifts, int account, long by) => account;

    /// <summary>Whether a ledger line is what it moves.</summary>
    internal virtual bool IsOf(KeptLine line) => false;

    /// <summary>A movement with the ids of what it is of.</summary>
    internal static KeptMovement From(Movement movement, Labels labels) => movement switch
    {
        PartyMovement of => new KeptOfParty(of.Subledger, labels.IdOf("party", of.Party.Code)!.Value, null, of.Due, labels.Account(of.Row?.Account.Number),
            of.Row?.Purpose?.Name, of.Value) { Document = of.Document, Dimensions = of.Row?.Dimensions },
        StockMovement of => new KeptOfStock(of.Subledger, labels.IdOf("item", of.Item?.Code), labels.IdOf(Labels.Family("item"), of.Group),
            labels.IdOf("location", of.Location?.Code), of.Quantity, labels.Account(of.Row?.Account.Number), of.Value),
        TaxMovement of => new KeptOfTax(labels.IdOf(Labels.TaxCodes, of.Code.Code)!.Value, of.Component.Code ?? "", of.Side, of.Base, of.Value),
        MoneyMovement of => new KeptOfMoney(of.MoneyAccount?.Trim(), of.MoneyAccount is null ? of.Method?.Trim() : null,
            of.MoneyAccount is null ? of.Connection?.Trim() : null, of.Value),
        ProjectMovement of => new KeptOfProject(labels.IdOf("project", of.Project)!.Value, labels.IdOf("task", of.Task is null ? null : of.Member), of.Part,
            of.Value),
        AssetMovement of => new KeptOfAsset(labels.IdOf("asset", of.Asset.Code)!.Value, of.Part, of.Value),
        _ => throw new InvalidOperationException($"A {movement.GetType().Name} has no table."),
    };
}

/// <summary>What a party owes or is owed; an item of null is opened by the event itself.</summary>
sealed record KeptOfParty(Subledger Subledger, int Party, long? ItemEvent, DateOnly Due, int? Account, string? Purpose, Moved Value) : KeptMovement(Value)
{
    internal override KeptMovement On(Func<int, int> now) => Account is { } account ? this with { Account = now(account) } : this;

    internal override int? Standing => Account;
    internal override int Shifted(StandingShifts shifts, int account, long by) => shifts.OfItem(account, ItemEvent ?? by, by);
    internal override bool IsOf(KeptLine line) => line.Purpose == Purpose && line.Account == Account && line.Amount == Value.Amount;

    /// <summary>Id, at its source, of the event that opened the item; null where the item's event is known.</summary>
    internal string? Document { get; init; }
    /// <summary>Dimensions of its row; null where their set is known.</summary>
    internal Dimensions? Dimensions { get; init; }
    /// <summary>Their set; null: none.</summary>
    internal int? DimensionSet { get; init; }

    internal override Subledger Of => Subledger;
    internal override string Kind => "party";
    internal override object?[] Ids(long eventId) =>
        [Words<Subledger>.Of(Subledger), Party, ItemEvent ?? eventId, Due, Account, Purpose, DimensionSet];

    internal override MovementTable Table => MovementTable.OfParties;
    internal override void WriteOwn(NpgsqlBinaryImporter copy, long eventId)
    {
        copy.Write(Words<Subledger>.Of(Subledger));
        copy.Write(Party);
        copy.Write(ItemEvent ?? eventId);
        copy.Write(Due);
        copy.WriteOrNull(Account);
        copy.WriteOrNull(Purpose);
        copy.WriteOrNull(DimensionSet);
    }
}

/// <summary>Goods in stock, or received and not invoiced: those belong to a line of a receipt, or of an invoice that came before it.</summary>
sealed record KeptOfStock(Subledger Subledger, int? Item, int? Group, int? Location, decimal Quantity, int? Account, Moved Value) : KeptMovement(Value)
{
    internal override KeptMovement On(Func<int, int> now) => Account is { } account ? this with { Account = now(account) } : this;

    internal override int? Standing => Account;
    internal override int Shifted(StandingShifts shifts, int account, long by) => Subledger == Subledger.Inventory
        ? shifts.OfStock(account, Item, Location, by) : shifts.OfReceipt(account, ReceiptEvent ?? by, ReceiptLine, by);
    internal override bool IsOf(KeptLine line) => line.Account == Account
        && line.Item == Item && (line.Amount == Value.Amount || Subledger == Subledger.Purchasing)
        && line.Purpose is { } purpose && Core.Rulebooks.Purpose.Find(purpose)?.Control?.Word() == Words<Subledger>.Of(Subledger);

    /// <summary>Id, at its source, of the event whose line it belongs to; null where that event is known, or is the one that moves.</summary>
    internal string? Receipt { get; init; }
    /// <summary>The event itself; null: the one that moves.</summary>
    internal long? ReceiptEvent { get; init; }
    /// <summary>Its line there, from 1; 0: of none.</summary>
    internal int ReceiptLine { get; init; }

    /// <summary>The parts of it that belong to lines of receipts.</summary>
    internal IEnumerable<KeptMovement> By(IReadOnlyList<ReceiptPart> parts)
    {
        var left = Value.DocumentAmount;
        for (var i = 0; i < parts.Count; i++)
        {
            var part = parts[i];
            // A foreign amount follows the company's; the last part takes what is left of it.
            var document = i == parts.Count - 1 || Value.Amount == 0 ? left : Core.Money.Round(Value.DocumentAmount * part.Amount / Value.Amount, 4);
            left -= document;
            yield return this with
            {
                Quantity = part.Quantity, Value = Value with { Amount = part.Amount, DocumentAmount = document }, Receipt = part.Event, ReceiptLine = part.Line,
            };
        }
    }

    internal override Subledger Of => Subledger;
    internal override string Kind => "stock";
    internal override object?[] Ids(long eventId) =>
        [Words<Subledger>.Of(Subledger), Item, Item is null ? Group : null, Location, CanonicalText.Quantity(Quantity), Account, ReceiptOf(eventId),
            ReceiptLine];

    long? ReceiptOf(long eventId) => Subledger == Subledger.Purchasing ? ReceiptEvent ?? eventId : null;

    internal override MovementTable Table => MovementTable.OfStock;
    internal override void WriteOwn(NpgsqlBinaryImporter copy, long eventId)
    {
        copy.Write(Words<Subledger>.Of(Subledger));
        copy.WriteOrNull(Item);
        copy.WriteOrNull(Item is null ? Group : null);
        copy.WriteOrNull(Location);
        copy.Write(Quantity);
        copy.WriteOrNull(Account);
        copy.WriteOrNull(ReceiptOf(eventId));
        copy.Write(ReceiptLine);
    }
}

/// <summary>Base and tax of one component.</summary>
sealed record KeptOfTax(int Code, string Component, TaxSide Side, decimal Base, Moved Value) : KeptMovement(Value)
{
    internal override Subledger Of => Subledger.Tax;
    internal override string Kind => "tax";
    internal override object?[] Ids(long eventId) => [Code, Component, Words<TaxSide>.Of(Side), CanonicalText.Amount(Base)];

    internal override MovementTable Table => MovementTable.OfTax;
    internal override void WriteOwn(NpgsqlBinaryImporter copy, long eventId)
    {
        copy.Write(Code);
        copy.Write(Component);
        copy.Write(Words<TaxSide>.Of(Side));
        copy.Write(Base);
    }
}

/// <summary>Money at a bank, in a till, or under way.</summary>
sealed record KeptOfMoney(string? MoneyAccount, string? Method, string? Connection, Moved Value) : KeptMovement(Value)
{
    internal override Subledger Of => Subledger.Bank;
    internal override string Kind => "money";
    internal override object?[] Ids(long eventId) => [MoneyAccount, Method, Connection];

    internal override MovementTable Table => MovementTable.OfMoney;
    internal override void WriteOwn(NpgsqlBinaryImporter copy, long eventId)
    {
        copy.WriteOrNull(MoneyAccount);
        copy.WriteOrNull(Method);
        copy.WriteOrNull(Connection);
    }
}

/// <summary>Work in progress, what was billed, or what is accrued of a project.</summary>
sealed record KeptOfProject(int Project, int? Task, ProjectPart Part, Moved Value) : KeptMovement(Value)
{
    internal override Subledger Of => Subledger.Projects;
    internal override string Kind => "project";
    internal override object?[] Ids(long eventId) => [Project, Task, Words<ProjectPart>.Of(Part)];

    internal override MovementTable Table => MovementTable.OfProjects;
    internal override void WriteOwn(NpgsqlBinaryImporter copy, long eventId)
    {
        copy.Write(Project);
        copy.WriteOrNull(Task);
        copy.Write(Words<ProjectPart>.Of(Part));
    }
}

/// <summary>Cost or accumulated depreciation of a fixed asset.</summary>
sealed record KeptOfAsset(int Asset, AssetPart Part, Moved Value) : KeptMovement(Value)
{
    internal override Subledger Of => Subledger.Assets;
    internal override string Kind => "asset";
    internal override object?[] Ids(long eventId) => [Asset, Words<AssetPart>.Of(Part)];

    internal override MovementTable Table => MovementTable.OfAssets;
    internal override void WriteOwn(NpgsqlBinaryImporter copy, long eventId)
    {
        copy.Write(Asset);
        copy.Write(Words<AssetPart>.Of(Part));
    }
}

/// <summary>The table of one kind of movements: the columns that all have, and its own.</summary>
sealed class MovementTable
{
    // Event, place, and the value with its sign turned stand before a table's own columns.
    const int FirstOwn = 5;

    internal static readonly MovementTable
        OfParties = new("party_movement", "subledger, party_id, item_event_id, due_date, account_id, purpose, dimension_set_id", static (row, turned) =>
            new KeptOfParty(Words<Subledger>.Parse(row.GetString(FirstOwn)), row.GetInt32(FirstOwn + 1), row.GetInt64(FirstOwn + 2),
                row.GetFieldValue<DateOnly>(FirstOwn + 3), row.IntOrNull(FirstOwn + 4), row.TextOrNull(FirstOwn + 5), turned)
            {
                DimensionSet = row.IntOrNull(FirstOwn + 6),
            }),
        OfStock = new("stock_movement", "subledger, item_id, item_group_id, location_id, quantity, account_id, receipt_event_id, receipt_line",
            static (row, turned) =>
            new KeptOfStock(Words<Subledger>.Parse(row.GetString(FirstOwn)), row.IntOrNull(FirstOwn + 1), row.IntOrNull(FirstOwn + 2),
                row.IntOrNull(FirstOwn + 3), -row.GetDecimal(FirstOwn + 4), row.IntOrNull(FirstOwn + 5), turned)
            {
                ReceiptEvent = row.LongOrNull(FirstOwn + 6), ReceiptLine = row.GetInt32(FirstOwn + 7),
            }),
        OfTax = new("tax_movement", "tax_code_id, component, side, base", static (row, turned) =>
            new KeptOfTax(row.GetInt32(FirstOwn), row.GetString(FirstOwn + 1), Words<TaxSide>.Parse(row.GetString(FirstOwn + 2)), -row.GetDecimal(FirstOwn + 3),
                turned)),
        OfMoney = new("money_movement", "money_account, method, connection", static (row, turned) =>
            new KeptOfMoney(row.TextOrNull(FirstOwn), row.TextOrNull(FirstOwn + 1), row.TextOrNull(FirstOwn + 2), turned)),
        OfProjects = new("project_movement", "project_id, task_id, part", static (row, turned) =>
            new KeptOfProject(row.GetInt32(FirstOwn), row.IntOrNull(FirstOwn + 1), Words<ProjectPart>.Parse(row.GetString(FirstOwn + 2)), turned)),
        OfAssets = new("asset_movement", "asset_id, part", static (row, turned) =>
            new KeptOfAsset(row.GetInt32(FirstOwn), Words<AssetPart>.Parse(row.GetString(FirstOwn + 1)), turned));

    /// <summary>All of them.</summary>
    internal static readonly IReadOnlyList<MovementTable> All = [OfParties, OfStock, OfTax, OfMoney, OfProjects, OfAssets];

    readonly string name, own;
    readonly Func<NpgsqlDataReader, Moved, KeptMovement> read;

    MovementTable(string name, string own, Func<NpgsqlDataReader, Moved, KeptMovement> read) => (this.name, this.own, this.read) = (name, own, read);

    /// <summary>Begins to copy rows into it.</summary>
    internal Task<NpgsqlBinaryImporter> Copy(NpgsqlConnection connection, CancellationToken stop) =>
        connection.BeginBinaryImportAsync($"copy {name} (company_id, date, event_id, line_no, entry_id, reverses, {own}, amount, currency, document_amount) " +
            "from stdin binary", stop);

    /// <summary>What events moved themselves, with its signs turned.</summary>
    internal Task<List<(long Event, int Place, KeptMovement Movement)>> Turned(NpgsqlConnection connection, int company, long[] events,
        CancellationToken stop) =>
        connection.Command($"""
            select s.event_id, s.line_no, -s.amount, s.currency, -s.document_amount, {string.Join(", ", own.Split(", ").Select(column => "s." + column))}
            from event e join {name} s on s.company_id = e.company_id and s.date = e.date and s.event_id = e.id
            where e.company_id = $1 and e.id = any($2) and s.reverses is null
            """, company, events).List(row =>
                (row.GetInt64(0), row.GetInt32(1), read(row, new Moved(row.GetDecimal(2), row.GetString(3), row.GetDecimal(4)))), stop);
}
