namespace Assignum.Core.Matching;

/// <summary>Words of the trade that mean the same, also in other languages and as they are cut short, and words that exclude each other.</summary>
static class TradeWords
{
    // One meaning a line. Words stand as they are compared: lower case, without accents.
    const string SameMeaning = """
        sales sale sold revenue revenues turnover ventes vente ventas venta erlose erloes umsatz umsatze turnovers
        shipping shipment delivery deliveries carriage freight postage versand versandkosten lieferung livraison port envio envios porte
        voucher vouchers gutschein gutscheine cheque bono bonos giftcard giftcards
        discount discounts disc rabatt rabatte remise remises descuento descuentos
        customer customers client clients buyer buyers kunde kunden cliente clientes
        receivable receivables debtor debtors forderungen creances
        payable payables creditor creditors verbindlichkeiten
        supplier suppliers vendor vendors lieferant lieferanten fournisseur fournisseurs proveedor proveedores
        cost costs cogs kosten cout couts coste costes compra compras
        stock stocks inventory inventories vorrat bestand
        seed seeds saatgut samen semences graines semilla semillas
        sapling saplings young setzlinge jeunes
        pot pots topf topfe toepfe tontopf macetas maceta
        tool tools werkzeug werkzeuge outils herramientas herramienta
        compost kompost composts
        wage wages lohn lohne loehne salaires
        rent miete loyer alquiler
        electricity power strom electricite electricidad
        water wasser eau agua
        insurance insurances versicherung versicherungen assurance assurances seguro seguros
        telephone telephones telefon phone phones telefono
        advertising advert adverts ads werbung publicite publicidad
        vat tax taxes steuer umsatzsteuer vorsteuer tva iva
        bank banks banque banco
        charge charges fee fees gebuhr gebuhren frais comision
        interest zinsen interet interets interes intereses
        received erhalten recu recus recibidos
        paid bezahlt paye payes pagados
        earning earnings profit profits benefice benefices gewinn
        retained reported reportes
        exchange fx currency
        depreciation deprec depr wear abschreibung
        difference differences diff diffs variance variances
        return returns returned refund refunds
        payment payments paymts paymt pmt pmts
        export exports abroad foreign ausland overseas
        vehicle vehicles fahrzeuge
        equipment equip machines
        company companies co cos
        group groups gruppe groupe grupo
        web online webshop website
        card cards karte karten carte cartes
        advice adv consulting
        lost losses loss verlust pertes perdidas
        gain gains gewinne
        tree trees
        gift gifts
        council cl ccl councils
        gartnerei gaertnerei
        payroll wage
        bag sac sack
        """;

    // Who has the one does not have the other.
    const string Opposites = """
        input output
        receivable payable
        given taken
        gain lost
        received paid
        local far
        local export
        far export
        state town
        purchase sales
        customer supplier
        alta baja
        upper lower
        """;

    // Words that say where a tax stands beside what kind of thing it is.
    static readonly Dictionary<string, string> AlsoMean = new(StringComparer.Ordinal)
    {
        ["umsatzsteuer"] = "output", ["vorsteuer"] = "input", ["recoverable"] = "input", ["webshop"] = "shop", ["giftcard"] = "gift", ["tontopf"] = "clay",
        ["losses"] = "lost", ["payroll"] = "wage", ["creditors"] = "payable", ["cogs"] = "cost", ["versandkosten"] = "cost",
    };

    /// <summary>Words that say nothing by themselves.</summary>
    internal static readonly IReadOnlySet<string> Empty = new HashSet<string>(StringComparer.Ordinal)
    {
        "of", "the", "and", "to", "for", "in", "on", "a", "an", "by", "not", "net", "der", "die", "das", "und", "an", "von", "de", "du",
        "la", "le", "les", "des", "el", "y", "et",
        "ltd", "limited", "inc", "gmbh", "plc", "soc", "eur", "one",
    };

    static readonly Dictionary<string, string> Meanings = Read();

    static readonly HashSet<(string, string)> Excluding = [.. Lines(Opposites).SelectMany(l =>
        new[] { (Of(l[0]), Of(l[1])), (Of(l[1]), Of(l[0])) })];

    /// <summary>All words that have a meaning here, for finding what begins with one cut short.</summary>
    internal static IEnumerable<string> All => Meanings.Keys;

    /// <summary>The word that stands for a word's meaning; the word itself where it has none here.</summary>
    internal static string Of(string word) => Meanings.GetValueOrDefault(word, word);

    /// <summary>What a word says beside its meaning; null: nothing.</summary>
    internal static string? Also(string word) => AlsoMean.GetValueOrDefault(word);

    /// <summary>Whether two meanings exclude each other.</summary>
    internal static bool Exclude(string one, string other) => Excluding.Contains((one, other));

    static Dictionary<string, string> Read()
    {
        var meanings = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var line in Lines(SameMeaning))
            foreach (var word in line)
                meanings.TryAdd(word, line[0]);
        return meanings;
    }

    static IEnumerable<string[]> Lines(string text) => text.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(l =>
        l.Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)).Where(l => l.Length > 0);
}
