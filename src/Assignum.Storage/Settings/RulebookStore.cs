using System.Collections.Immutable;

using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Npgsql;
using IsolationLevel = System.Data.IsolationLevel;

namespace Assignum.Storage.Settings;

/// <summary>Which state of a company's settings somebody looked at.</summary>
/// <param name="Edition">The released edition in force.</param>
/// <param name="Draft">The draft.</param>
/// <param name="AtOnce">Counts changes that hold at once: new members, first groups, names.</param>
/// <param name="InDraft">Counts changes of the draft.</param>
public readonly record struct SettingsState(int Edition, int Draft, long AtOnce, long InDraft);

/// <summary>A rulebook as one edition has it.</summary>
/// <param name="Book">The rulebook.</param>
/// <param name="Labels">Ids of everything in it.</param>
/// <param name="Edition">The edition read.</param>
/// <param name="State">The state of the settings it was read in.</param>
public sealed record StoredRulebook(Rulebook Book, Labels Labels, int Edition, SettingsState State)
{
    /// <summary>The account of an id; null when the edition has none.</summary>
    public Account? AccountOf(int id) => Labels.CodeOrNull(Labels.Accounts, id) is { } number ? Book.Accounts.FirstOrDefault(a => a.Number == number) : null;
}

/// <summary>Reads the rulebook of any edition.</summary>
public sealed class RulebookStore(NpgsqlDataSource source)
{
    /// <summary>The state of a company's settings now.</summary>
    public async Task<SettingsState> StateOf(int company, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        return await StateOf(connection, company, stop);
    }

    /// <summary>Reads a rulebook whole, in one snapshot.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="edition">A released edition or the draft; null: the released edition in force.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<StoredRulebook> Load(int company, int? edition, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(IsolationLevel.RepeatableRead, stop);
        return await Load(connection, company, edition, stop);
    }

    internal static async Task<StoredRulebook> Load(NpgsqlConnection connection, int company, int? edition, CancellationToken stop)
    {
        var state = await StateOf(connection, company, stop);
        var reading = new Reading(connection, company, edition ?? state.Edition, stop);
        var book = await reading.Book();
        return new StoredRulebook(book, reading.Labels, reading.Edition, state);
    }

    internal static async Task<SettingsState> StateOf(NpgsqlConnection connection, int company, CancellationToken stop) =>
        await connection.Command("""
            select posting_row.edition, draft_row.edition, posting_row.stamp, draft_row.stamp
            from posting_row join draft_row using (company_id)
            where company_id = $1
            """, company).FirstOrDefault(row => new SettingsState(row.GetInt32(0), row.GetInt32(1), row.GetInt64(2), row.GetInt64(3)), stop);

    sealed class Reading(NpgsqlConnection connection, int company, int edition, CancellationToken stop)
    {
        internal Labels Labels { get; } = new();
        internal int Edition => edition;

        internal async Task<Rulebook> Book()
        {
            var groups = await Groups();
            var taxCodes = await TaxCodes();
            var accounts = await Accounts();
            var members = await Members();
            return new Rulebook
            {
                Company = await Company(),
                PartyGroups = groups["party"], ItemGroups = groups["item"], ProjectGroups = groups["project"], AssetGroups = groups["asset"],
                PartyTaxGroups = groups["party-tax"], ItemTaxGroups = groups["item-tax"],
                TaxCodes = taxCodes, Accounts = accounts,
                Parties = members.Parties, Items = members.Items, Locations = members.Locations, Projects = members.Projects,
                TaxRules = await TaxRules(), Ladders = await Ladders(), Rules = await Rules(),
            };
        }

        NpgsqlCommand Ask(string sql) => connection.Command(sql, company, edition);

        async Task<Company> Company()
        {
            var options = await Ask("select separate_discounts, perpetual_stock, tax_rounding, tax_tolerance from company_option where company_id = $1 and editions @> $2")
                .FirstOrDefault(row => new CompanyOptions
                {
                    SeparateDiscounts = row.GetBoolean(0), PerpetualStock = row.GetBoolean(1),
                    TaxRounding = Word<TaxRounding>(row.GetString(2)), TaxTolerance = row.DecimalOrNull(3),
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

        async Task<List<Account>> Accounts() =>
            await Ask("""
                select a.id, a.number, a.name, a.class, parent.number, s.kind, s.active, s.valid_from, s.valid_to, s.control, s.manual,
                       s.item_tax_group_id, s.tax_code_id, s.suspense, s.dimensions, s.tax_relevance, s.party_role, s.currencies, s.dimension_defaults
                from account a
                join account_setting s on s.company_id = a.company_id and s.account_id = a.id
                left join account parent on parent.company_id = a.company_id and parent.id = a.parent_id
                where a.company_id = $1 and s.editions @> $2
                order by a.number_fold
                """).List(ReadAccount, stop);

        Account ReadAccount(NpgsqlDataReader row)
        {
            Labels.Add(Labels.Accounts, row.GetInt32(0), row.GetString(1));
            return new Account
            {
                Number = row.GetString(1), Name = row.GetString(2), Class = Word<AccountClass>(row.GetString(3)), Parent = row.TextOrNull(4),
                Kind = Word<AccountKind>(row.GetString(5)), Active = row.GetBoolean(6), ValidFrom = row.DateOrNull(7), ValidTo = row.DateOrNull(8),
                Control = row.TextOrNull(9) is { } control ? Word<Control>(control) : null, Manual = Word<ManualPolicy>(row.GetString(10)),
                ItemTaxGroup = Labels.CodeOrNull(Labels.Family("item-tax"), row.IntOrNull(11)), TaxCode = Labels.CodeOrNull(Labels.TaxCodes, row.IntOrNull(12)),
                Suspense = row.GetBoolean(13),
                Dimensions = row.GetString(14) is "{}" ? Account.NoDimensions
                    : JsonSerializer.Deserialize<Dictionary<string, string>>(row.GetString(14))!.ToDictionary(d => d.Key, d => Word<DimensionNeed>(d.Value)),
                TaxRelevance = row.TextOrNull(15) is { } relevance ? Word<TaxRelevance>(relevance) : null, PartyRole = row.TextOrNull(16) is { } role ? Word<PartyRole>(role) : null,
                Currencies = row.GetFieldValue<string[]>(17), DimensionDefaults = row.GetString(18) is "{}" ? Account.NoDefaults : JsonSerializer.Deserialize<Dictionary<string, string>>(row.GetString(18))!,
            };
        }

        sealed record MemberLists(List<Party> Parties, List<Item> Items, List<Location> Locations, List<Project> Projects);

        async Task<MemberLists> Members()
        {
            var lists = new MemberLists([], [], [], []);
            var tasks = new Dictionary<int, List<ProjectTask>>();
            var command = Ask("""
                select m.kind, m.id, m.code, m.name, m.unit_cost, m.owner_id, coalesce(s.group_id, f.group_id), s.tax_group_id, s.role, s.item_kind,
                       s.tax_area, s.method, s.control_alternates, owner.code
                from member m
                join member_setting s on s.company_id = m.company_id and s.member_id = m.id
                left join first_group f on f.company_id = m.company_id and f.member_id = m.id
                left join member owner on owner.company_id = m.company_id and owner.id = m.owner_id
                where m.company_id = $1 and s.editions @> $2
                order by m.kind desc, m.code_fold
                """);
            await foreach (var row in command.Stream(row => row, stop))
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
                        Code = code, Name = name, Group = Labels.CodeOrNull(Labels.Family("project"), row.IntOrNull(6)), Method = row.TextOrNull(11),
                        Tasks = tasks.GetValueOrDefault(id) ?? [],
                    });
                    break;
                case "party":
                    lists.Parties.Add(new Party
                    {
                        Code = code, Name = name, Role = Word<PartyRole>(row.GetString(8)), Group = Labels.CodeOrNull(Labels.Family("party"), row.IntOrNull(6)),
                        TaxGroup = Labels.CodeOrNull(Labels.Family("party-tax"), row.IntOrNull(7)), TaxArea = row.TextOrNull(10),
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

        async Task<List<Rule>> Rules()
        {
            return await Ask("""
                select id, name, purpose, rung, keys, account_id, lower(validity), upper(validity), note
                from rule where company_id = $1 and editions @> $2 order by id
                """).List(row =>
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
        }

        static T Word<T>(string word) where T : struct, Enum =>
            Words<T>.TryParse(word, out var value) ? value : throw new InvalidOperationException($"{word} is no {typeof(T).Name}.");
    }
}
