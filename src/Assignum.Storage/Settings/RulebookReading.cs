using System.Collections.Immutable;
using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>Reads one edition of a rulebook, whole or as it differs from another.</summary>
sealed class RulebookReading(NpgsqlConnection connection, int company, int edition, Labels labels, CancellationToken stop)
{
    // Rows that one of two editions sees and the other does not: those that began or ended between them.
    const string Between = "(introduced_in > $3 and introduced_in <= $4 or retired_in > $3 and retired_in <= $4)";

    internal Labels Labels => labels;

    /// <summary>All of it.</summary>
    internal async Task<Rulebook> Whole()
    {
        var book = await SmallLists();
        await EndedAccounts(Ask("select id, number from account a where company_id = $1 and not exists (select 1 from account_setting s where s.company_id = " +
            "a.company_id and s.account_id = a.id and s.editions @> $2)"));
        var accounts = await Accounts(Ask(AccountRows + " order by a.number_fold"));
        var members = await Members(Ask(MemberRows + " order by m.kind desc, m.code_fold"));
        return book with
        {
            Accounts = accounts,
            Parties = members.Parties, Items = members.Items, Locations = members.Locations, Projects = members.Projects,
            Assets = members.Assets, Partners = members.Partners,
            Rules = await Rules(Ask(RuleRows + " order by id")), Matches = await MatchRows.Read(connection, company, edition, stop),
        };
    }

    /// <summary>What differs from a rulebook that is known; the rest is taken from there as it is.</summary>
    internal async Task<Rulebook> Over(StoredRulebook known)
    {
        labels.SaysAllOf([.. Labels.Families.Select(Labels.Family), Labels.TaxCodes]);
        var book = await SmallLists();
        var (low, high) = (Math.Min(known.Edition, edition), Math.Max(known.Edition, edition));
        // Who names a group or tax code that only one of the two has reads differently, though nothing of its own has changed.
        var groups = Labels.Families.SelectMany(f => Labels.DifferingIds(known.Labels, labels, Labels.Family(f))).ToArray();
        var taxCodes = Labels.DifferingIds(known.Labels, labels, Labels.TaxCodes);
        var accounts = await ChangedAccounts(low, high, groups, taxCodes);
        // Rules come last: they name members that only this edition has.
        book = await OverRules(known, await OverMembers(known, await OverAccounts(known, book, accounts), low, high, groups, accounts), low, high);
        return book with { Matches = await MatchRows.Read(connection, company, edition, stop) };
    }

    Task<List<int>> ChangedAccounts(int low, int high, int[] groups, int[] taxCodes) =>
        groups.Length + taxCodes.Length == 0
            ? connection.Command($"select distinct account_id from account_setting where company_id = $1 and $2 > 0 and {Between}", company, edition, low,
                high).List(row => row.GetInt32(0), stop)
            : connection.Command($"""
                select account_id from account_setting where company_id = $1 and {Between}
                union select account_id from account_setting where company_id = $1 and editions @> $2 and (item_tax_group_id = any($5) or tax_code_id = any($6))
                """, company, edition, low, high, groups, taxCodes).List(row => row.GetInt32(0), stop);

    async Task<Rulebook> OverAccounts(StoredRulebook known, Rulebook book, List<int> ids)
    {
        if (ids.Count == 0)
            return book with { Accounts = known.Book.Accounts };
        var was = ids.Select(id => (Id: id, Code: known.Labels.CodeOrNull(Labels.Accounts, id))).Where(w => w.Code is not null).ToList();
        foreach (var (id, code) in was)
            labels.Remove(Labels.Accounts, id, code!);
        var now = await Accounts(connection.Command(AccountRows + " and a.id = any($3) order by a.number_fold", company, edition, ids.ToArray()));
        await EndedAccounts(connection.Command("select id, number from account where company_id = $1 and id = any($2)", company, ids.ToArray()));
        return book with { Accounts = Laid(known.Book.Accounts, was.Select(w => w.Code!), now, a => a.Number) };
    }

    async Task EndedAccounts(NpgsqlCommand ask)
    {
        foreach (var (id, number) in await ask.List(row => (row.GetInt32(0), row.GetString(1)), stop))
            Labels.AddEnded(Labels.Accounts, id, number);
    }

    async Task<Rulebook> OverRules(StoredRulebook known, Rulebook book, int low, int high)
    {
        var names = await connection.Command($"select distinct name from rule where company_id = $1 and $2 > 0 and {Between}", company, edition, low,
            high).List(row => row.GetString(0), stop);
        if (names.Count == 0)
            return book with { Rules = known.Book.Rules };
        foreach (var name in names)
            labels.RemoveRule(name);
        var now = await Rules(connection.Command(RuleRows + " and name = any($3) order by id", company, edition, names.ToArray()));
        var changed = names.ToHashSet(StringComparer.Ordinal);
        return book with { Rules = [.. known.Book.Rules.Where(r => !changed.Contains(r.Id)), .. now] };
    }

    async Task<Rulebook> OverMembers(StoredRulebook known, Rulebook book, int low, int high, int[] groups, List<int> accounts)
    {
        var ids = await ChangedMembers(low, high, groups, accounts);
        var unchanged = book with { Parties = known.Book.Parties, Items = known.Book.Items, Locations = known.Book.Locations, Projects = known.Book.Projects,
            Assets = known.Book.Assets, Partners = known.Book.Partners };
        if (ids.Count == 0)
            return unchanged;
        var kinds = await connection.Command("select distinct kind from member where company_id = $1 and id = any($2)", company, ids.ToArray()).List(row =>
            row.GetString(0), stop);
        // A project is read with all its tasks.
        if (kinds.Exists(k => k is "project" or "task"))
            ids = await connection.Command("select id from member where company_id = $1 and (id = any($2) or kind in ('project', 'task'))", company,
                ids.ToArray()).List(row => row.GetInt32(0), stop);
        var gone = kinds.ToDictionary(kind => kind, kind =>
            ids.Select(id => (Id: id, Code: known.Labels.CodeOrNull(kind, id))).Where(w => w.Code is not null).ToList());
        foreach (var (kind, members) in gone)
            foreach (var (id, code) in members)
                labels.Remove(kind, id, code!);
        var now = await Members(connection.Command(MemberRows + " and m.id = any($3) order by m.kind desc, m.code_fold", company, edition, ids.ToArray()));
        IEnumerable<string> Gone(string kind) => gone.TryGetValue(kind, out var members) ? members.Select(m => m.Code!) : [];
        return unchanged with
        {
            Parties = Laid(unchanged.Parties, Gone("party"), now.Parties, p => p.Code), Items = Laid(unchanged.Items, Gone("item"), now.Items, i => i.Code),
            Locations = Laid(unchanged.Locations, Gone("location"), now.Locations, l => l.Code), Projects = kinds.Exists(k => k is "project" or "task")
                ? now.Projects : unchanged.Projects,
            Assets = Laid(unchanged.Assets, Gone("asset"), now.Assets, a => a.Code),
            Partners = Laid(unchanged.Partners, Gone("partner"), now.Partners, p => p.Code),
        };
    }

    Task<List<int>> ChangedMembers(int low, int high, int[] groups, List<int> accounts) =>
        groups.Length + accounts.Count == 0
            ? connection.Command($"select distinct member_id from member_setting where company_id = $1 and $2 > 0 and {Between}", company, edition, low,
                high).List(row => row.GetInt32(0), stop)
            : connection.Command($"""
                select member_id from member_setting where company_id = $1 and {Between}
                union select member_id from member_setting where company_id = $1 and editions @> $2 and (group_id = any($5) or tax_group_id = any($5)
                    or control_alternates && $6)
                union select member_id from first_group where company_id = $1 and group_id = any($5)
                """, company, edition, low, high, groups, accounts.ToArray()).List(row => row.GetInt32(0), stop);

    // Both lists are in the order of their folded codes, and so is what comes of them.
    static IReadOnlyList<T> Laid<T>(IReadOnlyList<T> known, IEnumerable<string> gone, List<T> now, Func<T, string> code)
    {
        var left = gone.Select(Fold.Of).ToHashSet(StringComparer.Ordinal);
        if (left.Count == 0 && now.Count == 0)
            return known;
        var laid = new List<T>(known.Count + now.Count);
        var next = 0;
        foreach (var thing in known)
        {
            var fold = Fold.Of(code(thing));
            while (next < now.Count && string.CompareOrdinal(Fold.Of(code(now[next])), fold) < 0)
                laid.Add(now[next++]);
            if (!left.Contains(fold))
                laid.Add(thing);
        }
        laid.AddRange(now.Skip(next));
        return laid;
    }

    async Task<Rulebook> SmallLists()
    {
        var groups = await Groups();
        var taxCodes = await TaxCodes();
        return new Rulebook
        {
            Company = await Company(),
            PartyGroups = groups["party"], ItemGroups = groups["item"], ProjectGroups = groups["project"], AssetGroups = groups["asset"],
            PartyTaxGroups = groups["party-tax"], ItemTaxGroups = groups["item-tax"],
            TaxCodes = taxCodes, TaxRules = await TaxRules(), Ladders = await Ladders(),
        };
    }

    NpgsqlCommand Ask(string sql) => connection.Command(sql, company, edition);

    async Task<Company> Company()
    {
        var options = await Ask("select separate_discounts, perpetual_stock, tax_rounding, tax_tolerance, line_text from company_option " +
            "where company_id = $1 and editions @> $2")
            .FirstOrDefault(row => new CompanyOptions
            {
                SeparateDiscounts = row.GetBoolean(0), PerpetualStock = row.GetBoolean(1),
                TaxRounding = Word<TaxRounding>(row.GetString(2)), TaxTolerance = row.DecimalOrNull(3),
                LineText = Word<LineText>(row.GetString(4)),
            }, stop) ?? new CompanyOptions();
        return (await connection.Command("select code, name, currency from company where id = $1", company)
            .FirstOrDefault(row => new Company(row.GetString(0), row.GetString(1), row.GetString(2), options), stop))!;
    }

    async Task<Dictionary<string, List<Group>>> Groups()
    {
        var rows = await Ask("""
            select g.family, g.id, g.code, g.name, tax.code
            from grouping g
            join grouping_setting s on s.company_id = g.company_id and s.grouping_id = g.id
            left join grouping tax on tax.company_id = s.company_id and tax.id = s.tax_group_id
            where g.company_id = $1 and s.editions @> $2
            order by g.code_fold
            """).List(row => (Family: row.GetString(0), Id: row.GetInt32(1), Group: new Group(row.GetString(2), row.GetString(3), row.TextOrNull(4))), stop);
        var byFamily = Labels.Families.ToDictionary(f => f, _ => new List<Group>());
        foreach (var (family, id, group) in rows)
        {
            Labels.Add(Labels.Family(family), id, group.Code);
            byFamily[family].Add(group);
        }
        foreach (var (family, id, code) in await Ask("select family, id, code from grouping g where company_id = $1 and not exists (select 1 from " +
            "grouping_setting s where s.company_id = g.company_id and s.grouping_id = g.id and s.editions @> $2)")
            .List(row => (row.GetString(0), row.GetInt32(1), row.GetString(2)), stop))
            Labels.AddEnded(Labels.Family(family), id, code);
        return byFamily;
    }

    async Task<List<TaxCode>> TaxCodes() =>
        await Ask("""
            select t.id, t.code, t.name, s.category, s.direction, s.reverse_charge, s.components
            from tax_code t
            join tax_code_setting s on s.company_id = t.company_id and s.tax_code_id = t.id
            where t.company_id = $1 and s.editions @> $2
            order by t.id
            """).List(row =>
        {
            Labels.Add(Labels.TaxCodes, row.GetInt32(0), row.GetString(1));
            return new TaxCode
            {
                Code = row.GetString(1), Name = row.GetString(2), Category = row.TextOrNull(3), Direction = Word<TaxDirection>(row.GetString(4)),
                ReverseCharge = row.GetBoolean(5), Components = TaxComponentJson.Read(row.GetString(6)),
            };
        }, stop);

    const string AccountRows = """
        select a.id, a.number, a.name, s.class, parent.number, s.kind, s.active, s.valid_from, s.valid_to, s.control, s.manual,
               s.item_tax_group_id, s.tax_code_id, s.suspense, s.dimensions, s.tax_relevance, s.party_role, s.currencies, s.dimension_defaults
        from account a
        join account_setting s on s.company_id = a.company_id and s.account_id = a.id
        left join account parent on parent.company_id = a.company_id and parent.id = a.parent_id
        where a.company_id = $1 and s.editions @> $2
        """;

    Task<List<Account>> Accounts(NpgsqlCommand ask) => ask.List(ReadAccount, stop);

    Account ReadAccount(NpgsqlDataReader row)
    {
        Labels.Add(Labels.Accounts, row.GetInt32(0), row.GetString(1));
        return new Account
        {
            Number = row.GetString(1), Name = row.GetString(2), Class = Word<AccountClass>(row.GetString(3)), Parent = row.TextOrNull(4),
            Kind = Word<AccountKind>(row.GetString(5)), Active = row.GetBoolean(6), ValidFrom = row.DateOrNull(7), ValidTo = row.DateOrNull(8),
            Control = WordOrNull<Control>(row.TextOrNull(9)), Manual = Word<ManualPolicy>(row.GetString(10)),
            ItemTaxGroup = Labels.CodeOrNull(Labels.Family("item-tax"), row.IntOrNull(11)), TaxCode = Labels.CodeOrNull(Labels.TaxCodes, row.IntOrNull(12)),
            Suspense = row.GetBoolean(13),
            Dimensions = row.GetString(14) is "{}" ? Account.NoDimensions
                : JsonSerializer.Deserialize<Dictionary<string, string>>(row.GetString(14))!.ToDictionary(d => d.Key, d => Word<DimensionNeed>(d.Value)),
            TaxRelevance = WordOrNull<TaxRelevance>(row.TextOrNull(15)), PartyRole = WordOrNull<PartyRole>(row.TextOrNull(16)),
            Currencies = row.GetFieldValue<string[]>(17), DimensionDefaults = row.GetString(18) is "{}" ? Account.NoDefaults
                : JsonSerializer.Deserialize<Dictionary<string, string>>(row.GetString(18))!,
        };
    }

    sealed record MemberLists(List<Party> Parties, List<Item> Items, List<Location> Locations, List<Project> Projects, List<Asset> Assets,
        List<Partner> Partners);

    const string MemberRows = """
        select m.kind, m.id, m.code, m.name, m.unit_cost, m.owner_id, coalesce(s.group_id, f.group_id), s.tax_group_id, s.role, s.item_kind,
               s.tax_area, s.method, s.control_alternates, owner.code, partner.code, s.life_months, s.percent, s.residual
        from member m
        join member_setting s on s.company_id = m.company_id and s.member_id = m.id
        left join first_group f on f.company_id = m.company_id and f.member_id = m.id
        left join member owner on owner.company_id = m.company_id and owner.id = m.owner_id
        left join member partner on partner.company_id = s.company_id and partner.id = s.partner_id
        where m.company_id = $1 and s.editions @> $2
        """;

    async Task<MemberLists> Members(NpgsqlCommand ask)
    {
        var lists = new MemberLists([], [], [], [], [], []);
        var tasks = new Dictionary<int, List<ProjectTask>>();
        await foreach (var row in ask.Stream(row => row, stop))
            Take(row, lists, tasks);
        return lists;
    }

    // Tasks come before projects, which take them in.
    void Take(NpgsqlDataReader row, MemberLists lists, Dictionary<int, List<ProjectTask>> tasks)
    {
        var (kind, id, code, name) = (row.GetString(0), row.GetInt32(1), row.GetString(2), row.GetString(3));
        Labels.Add(kind, id, kind == "task" ? row.GetString(13) + "/" + code : code);
        switch (kind)
        {
            case "task":
                if (!tasks.TryGetValue(row.GetInt32(5), out var list))
                    tasks[row.GetInt32(5)] = list = [];
                list.Add(new ProjectTask(code, name, Labels.CodeOrNull(Labels.Family("project"), row.IntOrNull(6))));
                break;
            case "project":
                lists.Projects.Add(new Project
                {
                    Code = code, Name = name, Group = Labels.CodeOrNull(Labels.Family("project"), row.IntOrNull(6)),
                        Method = WordOrNull<ProjectMethod>(row.TextOrNull(11)),
                    Tasks = tasks.GetValueOrDefault(id) ?? [],
                });
                break;
            case "party":
                lists.Parties.Add(new Party
                {
                    Code = code, Name = name, Role = Word<PartyRole>(row.GetString(8)), Group = Labels.CodeOrNull(Labels.Family("party"), row.IntOrNull(6)),
                    TaxGroup = Labels.CodeOrNull(Labels.Family("party-tax"), row.IntOrNull(7)), TaxArea = row.TextOrNull(10), Partner = row.TextOrNull(14),
                    ControlAlternates = [.. row.GetFieldValue<int[]>(12).Select(a => Labels.CodeOrNull(Labels.Accounts, a)).OfType<string>()],
                });
                break;
            case "item":
                lists.Items.Add(new Item
                {
                    Code = code, Name = name, Kind = Word<ItemKind>(row.GetString(9)), Group = Labels.CodeOrNull(Labels.Family("item"), row.IntOrNull(6)),
                    TaxGroup = Labels.CodeOrNull(Labels.Family("item-tax"), row.IntOrNull(7)), Cost = row.DecimalOrNull(4),
                });
                break;
            case "asset":
                lists.Assets.Add(new Asset
                {
                    Code = code, Name = name, Group = Labels.CodeOrNull(Labels.Family("asset"), row.IntOrNull(6)),
                    TaxGroup = Labels.CodeOrNull(Labels.Family("item-tax"), row.IntOrNull(7)), Method = WordOrNull<AssetMethod>(row.TextOrNull(11)),
                    LifeMonths = row.IntOrNull(15), Percent = row.DecimalOrNull(16), Residual = Money.Plain(row.GetDecimal(17)),
                });
                break;
            case "partner":
                lists.Partners.Add(new Partner(code, name));
                break;
            case "location":
                lists.Locations.Add(new Location(code, name));
                break;
            default:
                break;
        }
    }

    async Task<List<TaxRule>> TaxRules() =>
        await Ask("""
            select tax_area, party_tax_group_id, item_tax_group_id, tax_code_id, lower(validity), upper(validity)
            from tax_rule where company_id = $1 and editions @> $2 order by id
            """).List(row => new TaxRule
        {
            TaxArea = row.TextOrNull(0), PartyTaxGroup = Labels.CodeOrNull(Labels.Family("party-tax"), row.IntOrNull(1)),
            ItemTaxGroup = Labels.CodeOrNull(Labels.Family("item-tax"), row.IntOrNull(2)), TaxCode = Labels.CodeOf(Labels.TaxCodes, row.GetInt32(3)),
            From = row.DateOrNull(4), To = row.DateOrNull(5)?.AddDays(-1),
        }, stop);

    async Task<Dictionary<Purpose, ImmutableArray<Rung>>> Ladders() =>
        (await Ask("select purpose, rungs from ladder where company_id = $1 and editions @> $2")
            .List(row => (Purpose.Find(row.GetString(0))!, row.GetFieldValue<string[]>(1)), stop))
        .ToDictionary(l => l.Item1, l => l.Item2.Select(RungNames.Parse).ToImmutableArray());

    const string RuleRows = """
        select id, name, purpose, rung, keys, account_id, lower(validity), upper(validity), note
        from rule where company_id = $1 and editions @> $2
        """;

    Task<List<Rule>> Rules(NpgsqlCommand ask) => ask.List(row =>
    {
        Labels.AddRule(row.GetString(1), row.GetInt64(0));
        var names = row.GetFieldValue<string[]>(3);
        var keys = row.GetFieldValue<string[]>(4);
        var when = new FactValue[keys.Length];
        for (var i = 0; i < keys.Length; i++)
            when[i] = Labels.ValueOf(RungNames.FactOf(names[i]), keys[i]);
        return new Rule
        {
            Id = row.GetString(1), Purpose = Purpose.Find(row.GetString(2))!, When = when, Account = Labels.CodeOf(Labels.Accounts, row.GetInt32(5)),
            From = row.DateOrNull(6), To = row.DateOrNull(7)?.AddDays(-1), Note = row.GetString(8) is { Length: > 0 } note ? note : null,
        };
    }, stop);

    static T? WordOrNull<T>(string? word) where T : struct, Enum => word is null ? null : Word<T>(word);

    static T Word<T>(string word) where T : struct, Enum =>
        Words<T>.TryParse(word, out var value) ? value : throw new InvalidOperationException($"{word} is no {typeof(T).Name}.");
}
