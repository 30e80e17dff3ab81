using System.Collections.Immutable;
using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Findings;
using Assignum.Core.Groups;
using Assignum.Core.Matching;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Formats.Rulebooks;

/// <summary>A rulebook as read from a file.</summary>
/// <param name="Book">The rulebook, or null when the file can't be read as one.</param>
/// <param name="Findings">What is wrong with the file; what is wrong with the rulebook in it, the checks say.</param>
public sealed record ReadRulebook(Rulebook? Book, IReadOnlyList<Finding> Findings);

/// <summary>Reads the format <c>assignum-rulebook/1</c>.</summary>
public static class RulebookReader
{
    /// <summary>Name of the format.</summary>
    public const string Format = "assignum-rulebook/1";

    /// <summary>Reads a rulebook from JSON. Nothing is taken half: with any finding of the file the rulebook is refused.</summary>
    public static ReadRulebook Read(ReadOnlyMemory<byte> json)
    {
        var findings = new List<Finding>();
        try
        {
            using var document = JsonDocument.Parse(WithoutMark(json), new JsonDocumentOptions { AllowDuplicateProperties = false });
            if (document.RootElement.ValueKind != JsonValueKind.Object)
                return Unreadable("The file holds no JSON object. A rulebook begins with { \"format\": \"assignum-rulebook/1\", … }.");
            var root = new JsonPlace(document.RootElement, "", findings);
            var format = root.Text("format");
            if (format != Format)
                return Unreadable($"The file's format is {format ?? "not given"}. Give it as \"format\": \"{Format}\".");
            var book = ReadBook(root);
            root.Done();
            return new ReadRulebook(findings.Count == 0 ? book : null, findings);
        }
        catch (Exception fault) when (fault is JsonException or InvalidOperationException)
        {
            return Unreadable($"The file can't be read as JSON: {fault.Message} Correct it there, and read it again.");
        }

        static ReadRulebook Unreadable(string message) => new(null, [new Finding("not-a-rulebook", Severity.Error, "", message)]);
    }

    static ReadOnlyMemory<byte> WithoutMark(ReadOnlyMemory<byte> json) =>
        json.Span.StartsWith("\uFEFF"u8) ? json[3..] : json;

    static Rulebook? ReadBook(JsonPlace root)
    {
        if (root.Inner("company") is not { } company)
        {
            root.Note("missing-value", "The rulebook has no company. Give its code, name and currency.");
            return null;
        }
        var ladders = ReadLadders(root);
        return new Rulebook
        {
            Company = ReadCompany(company),
            Accounts = root.List("accounts", ReadAccount, "number"),
            PartyGroups = root.List("partyGroups", ReadGroupWithTax), ItemGroups = root.List("itemGroups", ReadGroupWithTax),
            ProjectGroups = root.List("projectGroups", ReadGroup), AssetGroups = root.List("assetGroups", ReadGroupWithTax),
            PartyTaxGroups = root.List("partyTaxGroups", ReadGroup), ItemTaxGroups = root.List("itemTaxGroups", ReadGroup),
            Parties = root.List("parties", ReadParty), Items = root.List("items", ReadItem),
            Locations = root.List("locations", place => new Location(place.Code("code"), place.Text("name") ?? "")),
            Projects = root.List("projects", ReadProject), Assets = root.List("assets", ReadAsset),
            Partners = root.List("partners", place => new Partner(place.Code("code"), place.Text("name") ?? "")),
            TaxCodes = root.List("taxCodes", TaxCodeReader.Read), TaxRules = root.List("taxRules", TaxCodeReader.ReadRule, "id"),
            Ladders = ladders, Rules = root.List("rules", ReadRule, "id"), Matches = root.List("matches", ReadMatch, "theirs"),
        };
    }

    static Company ReadCompany(JsonPlace company)
    {
        var options = company.Inner("options");
        var read = new Company(company.Code("code"), company.Text("name") ?? "", Fold.Of(company.Code("currency")), new CompanyOptions
        {
            SeparateDiscounts = options?.Flag("separateDiscounts") ?? false,
            PerpetualStock = options?.Flag("perpetualStock") ?? true,
            TaxRounding = options?.Word<TaxRounding>("taxRounding") ?? TaxRounding.Document,
            TaxTolerance = options?.Amount("taxTolerance"),
            LineText = options?.Word<LineText>("lineText") ?? LineText.Line,
        });
        if (!Money.TryMinorUnits(read.Currency, out _))
            company.Note("bad-value", $"company: currency {read.Currency} is no ISO 4217 code. Write one of three letters, such as EUR.");
        if (read.Options.TaxTolerance < 0)
            company.Note("bad-value", $"company/options: taxTolerance is {read.Options.TaxTolerance}. It is 0 or more.");
        options?.Done();
        company.Done();
        return read;
    }

    static Match ReadMatch(JsonPlace place) => new()
    {
        Connection = place.Code("connection"), List = place.RequiredWord<SettingList>("list"), Theirs = place.Code("theirs"), Ours = place.Code("ours"),
    };

    static Account ReadAccount(JsonPlace place)
    {
        var dimensions = new Dictionary<string, DimensionNeed>();
        if (place.Inner("dimensions") is { } needs)
            foreach (var property in needs.Properties())
                dimensions[property.Name] = needs.RequiredWord<DimensionNeed>(property.Name);
        var defaults = new Dictionary<string, string>();
        if (place.Inner("dimensionDefaults") is { } values)
            foreach (var property in values.Properties())
                defaults[property.Name] = values.Code(property.Name);
        var currencies = place.Texts("currencies");
        if (currencies.Find(c => !Money.TryMinorUnits(Fold.Of(c), out _)) is { } unknown)
            place.Note("bad-value", $"{place.Where}: currency {unknown} is no ISO 4217 code. Write codes of three letters, such as EUR.");
        return new Account
        {
            Number = place.Code("number"), Name = place.Text("name") ?? "", Class = place.RequiredWord<AccountClass>("class"),
                Kind = place.RequiredWord<AccountKind>("kind"),
            Parent = place.Text("parent"), Control = place.Word<Control>("control"), Manual = place.Word<ManualPolicy>("manual") ?? ManualPolicy.Open,
            ItemTaxGroup = place.Text("itemTaxGroup"), TaxCode = place.Text("taxCode"), Active = place.Flag("active") ?? true,
            ValidFrom = place.Date("validFrom"), ValidTo = place.Date("validTo"), Suspense = place.Flag("suspense") ?? false, Dimensions = dimensions,
                DimensionDefaults = defaults,
            TaxRelevance = place.Word<TaxRelevance>("taxRelevance"), PartyRole = place.Word<PartyRole>("partyRole"), Currencies = currencies,
        };
    }

    static Group ReadGroup(JsonPlace place) => new(place.Code("code"), place.Text("name") ?? "");

    static Group ReadGroupWithTax(JsonPlace place) => new(place.Code("code"), place.Text("name") ?? "", place.Text("taxGroup"));

    static Party ReadParty(JsonPlace place) => new()
    {
        Code = place.Code("code"), Name = place.Text("name") ?? "", Role = place.RequiredWord<PartyRole>("role"), Group = place.Text("group"),
        TaxGroup = place.Text("taxGroup"), TaxArea = place.Text("taxArea"), Partner = place.Text("partner"),
            ControlAlternates = place.Texts("controlAlternates"),
    };

    static Item ReadItem(JsonPlace place)
    {
        var cost = place.Amount("cost");
        if (cost is < 0 || (cost is { } known && !Money.HasAtMost(known, 6)))
            place.Note("bad-value", $"{place.Where}: cost is {cost}. It is 0 or more, with at most 6 decimals.");
        return new Item
        {
            Code = place.Code("code"), Name = place.Text("name") ?? "", Kind = place.RequiredWord<ItemKind>("kind"),
            Group = place.Text("group"), TaxGroup = place.Text("taxGroup"), Cost = cost,
        };
    }

    static Project ReadProject(JsonPlace place) => new()
    {
        Code = place.Code("code"), Name = place.Text("name") ?? "", Group = place.Text("group"), Method = place.Word<ProjectMethod>("method"),
        Tasks = place.List("tasks", task => new ProjectTask(task.Code("code"), task.Text("name") ?? "", task.Text("group"))),
    };

    static Asset ReadAsset(JsonPlace place)
    {
        var asset = new Asset
        {
            Code = place.Code("code"), Name = place.Text("name") ?? "", Group = place.Text("group"), TaxGroup = place.Text("taxGroup"),
            Method = place.Word<AssetMethod>("method"), LifeMonths = place.Whole("lifeMonths"), Percent = place.Amount("percent"),
            Residual = place.Amount("residual") ?? 0,
        };
        if (asset.WhyMalformed is { } why)
            place.Note("bad-value", $"{place.Where}: {why}");
        return asset;
    }

    static Dictionary<Purpose, ImmutableArray<Rung>> ReadLadders(JsonPlace root)
    {
        var ladders = new Dictionary<Purpose, ImmutableArray<Rung>>();
        if (root.Inner("ladders") is not { } places)
            return ladders;
        foreach (var property in places.Properties())
        {
            if (Purpose.Find(property.Name) is not { } purpose)
            {
                places.Note("unknown-purpose", $"ladders/{property.Name}: there is no purpose {property.Name}. Correct its name; docs/formats.md lists them.");
                continue;
            }
            if (ReadLadder(places, property) is { } ladder)
                ladders[purpose] = ladder;
        }
        return ladders;
    }

    static ImmutableArray<Rung>? ReadLadder(JsonPlace places, JsonProperty property)
    {
        var rungs = ImmutableArray.CreateBuilder<Rung>();
        foreach (var (value, i) in places.Elements(property.Name))
        {
            var names = value.ValueKind == JsonValueKind.Array && value.EnumerateArray().All(n => n.ValueKind == JsonValueKind.String)
                ? value.EnumerateArray().Select(n => n.GetString()!).ToList() : null;
            if (names is null)
            {
                places.Note("bad-rung", $"ladders/{property.Name}: rung {i} must be a list of facts, such as [\"itemGroup\", \"partyGroup\"].");
                return null;
            }
            if (names.FirstOrDefault(n => !FactNames.TryParse(n, out _)) is { } unknown)
            {
                places.Note("bad-rung", $"ladders/{property.Name}: rung {i} asks for {unknown}, which is no fact. Facts are " +
                    $"{string.Join(", ", FactNames.OfPurposes.Select(f => f.Name()))}.");
                return null;
            }
            if (names.Distinct().Count() < names.Count)
            {
                places.Note("bad-rung", $"ladders/{property.Name}: rung {i} names a fact twice. Keep it once.");
                return null;
            }
            rungs.Add(new Rung([.. names.Select(Parse)]));
        }
        return rungs.ToImmutable();
    }

    static Fact Parse(string name) => FactNames.TryParse(name, out var fact) ? fact : throw new ArgumentException(name);

    static Rule? ReadRule(JsonPlace place)
    {
        var name = place.Code("purpose");
        var purpose = Purpose.Find(name);
        if (purpose is null && name.Length > 0)
            place.Note("unknown-purpose", $"{place.Where}: there is no purpose {name}. Correct its name; docs/formats.md lists them.");
        var when = ReadWhen(place, name);
        var (id, account, from, to, note) = (place.Code("id"), place.Code("account"), place.Date("from"), place.Date("to"), place.Text("note"));
        return purpose is null || when is null ? null
            : new Rule { Id = id, Purpose = purpose, When = when, Account = account, From = from, To = to, Note = note };
    }

    static List<FactValue>? ReadWhen(JsonPlace place, string purpose)
    {
        var when = new List<FactValue>();
        if (place.Inner("when") is not { } facts)
            return when;
        foreach (var property in facts.Properties())
        {
            if (!FactNames.TryParse(property.Name, out var fact))
            {
                facts.Note("rule-off-ladder", $"{place.Where} asks for {property.Name}, which is no fact and so no rung of the ladder of {purpose}. Facts " +
                    $"are {string.Join(", ", FactNames.OfPurposes.Select(f => f.Name()))}.");
                return null;
            }
            when.Add(new FactValue(fact, facts.Code(property.Name)));
        }
        return when;
    }
}
