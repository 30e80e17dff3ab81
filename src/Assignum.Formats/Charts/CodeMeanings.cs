using Assignum.Core;
using Assignum.Core.Charts;

namespace Assignum.Formats.Charts;

/// <summary>What the codes of foreign charts for class and kind seem to mean, by the words of several languages, or by the names of the accounts that carry
/// them.</summary>
static class CodeMeanings
{
    static readonly (AccountClass Class, string[] Words)[] ClassWords =
    [
        (AccountClass.OtherIncome, Folded("other income|other revenue|financial income|sonstige ertrage|sonstiger ertrag|finanzertrag|zinsertrag|neutraler " +
            "ertrag|produits financiers|autres produits|otros ingresos|ingresos financieros|altri proventi|proventi finanziari|financiele baten")),
        (AccountClass.OtherExpense, Folded("other expense|other expenses|financial expense|financial expenses|sonstiger " +
            "aufwand|finanzaufwand|zinsaufwand|neutraler aufwand|charges financieres|autres charges|otros gastos|gastos financieros|altri oneri|oneri " +
                "finanziari|financiele lasten")),
        (AccountClass.CostOfSales, Folded("cost of sales|cost of goods|cost of goods sold|direct cost|direct " +
            "costs|wareneinsatz|materialaufwand|wareneinkauf|cout des ventes|achats|coste de ventas|costo de ventas|compras|costo del " +
                "venduto|acquisti|kostprijs omzet|inkoopwaarde|varekob|kostnad salda varor")),
        (AccountClass.Asset, Folded("asset|assets|current asset|fixed " +
            "asset|aktiva|aktiv|aktivkonto|vermogen|anlagevermogen|umlaufvermogen|actif|actifs|activo|activos|attivo|attivita|activa|bezittingen|tillgang|" +
                "tillgangar|aktiver|aktywa")),
        (AccountClass.Equity, Folded("equity|capital|owners equity|eigenkapital|kapital|capitaux propres|capitaux|patrimonio|patrimonio neto|patrimonio " +
            "netto|capitale|eigen vermogen|eget kapital|egenkapital|kapitaly")),
        (AccountClass.Liability, Folded("liability|liabilities|passiva|passiv|passivkonto|verbindlichkeit|verbindlichkeiten|fremdkapital|schulden|passif|" +
            "dettes|pasivo|pasivos|passivo|passivita|debiti|verplichtingen|skulder|gaeld|zobowiazania")),
        (AccountClass.Income, Folded("income|revenue|revenues|sales|turnover|ertrag|ertrage|erlos|erlose|umsatz|umsatzerlose|produit|produits|ventes|" +
            "ingreso|ingresos|ventas|ricavi|ricavo|proventi|opbrengst|opbrengsten|omzet|baten|intakter|indtaegter|przychody")),
        (AccountClass.Expense, Folded("expense|expenses|cost|costs|overhead|overheads|aufwand|aufwendungen|kosten|betriebsaufwand|charge|charges|depenses|" +
            "gasto|gastos|costi|costo|spese|kosten|lasten|kostnader|omkostninger|koszty")),
    ];

    // Beginnings of words that tell the class of an account by its name.
    static readonly (AccountClass Class, string[] Stems)[] NameStems =
    [
        (AccountClass.OtherIncome, Folded("interest received|zinsertr|habenzins|produits financiers|interets percus|ingresos financieros|exchange " +
            "gain|kursgewinn")),
        (AccountClass.OtherExpense, Folded("interest paid|zinsaufw|sollzins|interets payes|charges d interet|gastos financieros|exchange loss|kursverlust")),
        (AccountClass.CostOfSales, Folded("cost of|wareneinsatz|wareneing|materialaufw|materialeinsatz|fremdleistung|achat|compras|coste de|inkoop|acquisti")),
        (AccountClass.Asset, Folded("bank|cash|kasse|forderung|receivable|inventor|stock|vorrat|vorrate|lager|maschine|fahrzeug|gebaude|grundst|vorsteuer|" +
            "banque|caisse|client|creance|stocks|immobilis|materiel|banco|caja|existencias|deudores|magazzino|crediti|debiteuren|voorraad")),
        (AccountClass.Liability, Folded("payable|verbindlich|darlehen|loan|umsatzsteuer|ruckstell|lieferant|fournisseur|emprunt|dette|tva " +
            "collect|proveedor|acreedor|prestamo|fornitori|debiti|crediteuren|accrued|kredit")),
        (AccountClass.Equity, Folded("capital|kapital|reserve|rucklage|gewinnvortrag|eigenkap|resultat reporte|patrimonio|capitale|retained|eigen " +
            "vermogen|privatentnahme")),
        (AccountClass.Income, Folded("sales|revenue|erlos|umsatzerl|verkauf|vente|prestation|ventas|ingresos|vendite|ricavi|omzet|fees earned")),
        (AccountClass.Expense, Folded("wage|lohn|lohne|gehalt|salar|salair|rent|miete|loyer|insurance|versicher|telefon|telephone|strom|energie|heiz|reise|" +
            "travel|werbe|werbung|publicite|abschreib|depreciation|amortiss|reparatur|entretien|office|buro|gastos|sueldos|alquiler|seguros|affitto|" +
            "stipendi|huur|lonen")),
    ];

    static readonly (AccountKind Kind, string[] Words)[] KindWords =
    [
        (AccountKind.Posting, Folded("p|posting|account|detail|d|k|konto|sachkonto|buchungskonto|buchbar|ja|yes|y|oui|si|j|compte|imputable|cuenta|conto|" +
            "rekening|c|movimento|1|true")),
        (AccountKind.Heading, Folded("h|heading|header|title|titel|uberschrift|gruppe|group|g|titre|rubrique|titulo|grupo|titolo|kop|groep|nein|no|n|non|" +
            "nee|0|false|u|ueberschrift|kopf")),
        (AccountKind.Subtotal, Folded("t|total|subtotal|sub total|summe|zwischensumme|s|sum|sous total|suma|totale|subtotale|totaal|subtotaal")),
    ];

    /// <summary>The class a code names; null when it names none.</summary>
    internal static AccountClass? ClassOf(string code)
    {
        if (Words<AccountClass>.TryRead(code, out var own))
            return own;
        var folded = Joined(Headings.Folded(code));
        foreach (var (accountClass, words) in ClassWords)
            if (words.Any(w => Joined(w) == folded))
                return accountClass;
        return null;

        // Written as one word or as several.
        static string Joined(string words) => words.Replace(" ", "", StringComparison.Ordinal);
    }

    /// <summary>The class that most names suggest, when it clearly leads; null otherwise.</summary>
    internal static AccountClass? ClassByNames(IEnumerable<string> names)
    {
        var votes = names.Select(Headings.Folded).Select(ByName).OfType<AccountClass>().GroupBy(c => c).OrderByDescending(g => g.Count()).ToList();
        return votes.Count > 0 && (votes.Count == 1 || votes[0].Count() >= 2 * votes[1].Count()) ? votes[0].Key : null;
    }

    static AccountClass? ByName(string folded)
    {
        foreach (var (accountClass, stems) in NameStems)
            if (stems.Any(stem => $" {folded}".Contains(" " + stem, StringComparison.Ordinal)))
                return accountClass;
        return null;
    }

    /// <summary>The kind a code names; null when it names none.</summary>
    internal static AccountKind? KindOf(string code)
    {
        var folded = Headings.Folded(code);
        foreach (var (kind, words) in KindWords)
            if (words.Contains(folded))
                return kind;
        return null;
    }

    // Words in which files say control, policy and activity, beside our own.
    static readonly (string Field, string Meaning, string[] Words)[] ValueWords =
    [
        ("control", Control.Receivables.Word(),
            Folded("receivables|receivable|ar|debtors|customers|debitoren|debitor|forderungen|kunden|clients|deudores|clienti|debiteuren|d")),
        ("control", Control.Payables.Word(),
            Folded("payables|payable|ap|creditors|suppliers|vendors|kreditoren|kreditor|verbindlichkeiten|lieferanten|fournisseurs|acreedores|proveedores|" +
                "fornitori|crediteuren|k")),
        ("control", Control.Inventory.Word(), Folded("inventory|stock|lager|vorrate|bestand|stocks|existencias|magazzino|voorraad")),
        ("control", Control.Bank.Word(), Folded("bank|cash|money|kasse|banque|banco|cassa")),
        ("control", Control.Tax.Word(), Folded("tax|vat|steuer|ust|vorsteuer|tva|iva|btw")),
        ("control", ChartMapping.None, Folded("no|none|nein|non|nee|0|false|n|keine|aucun")),
        ("manual", ManualPolicy.Open.Word(), Folded("open|yes|y|allowed|allow|frei|ja|erlaubt|oui|si|1|true|x")),
        ("manual", ManualPolicy.Warn.Word(), Folded("warn|warning|warnung|hinweis|avertir")),
        ("manual", ManualPolicy.Block.Word(), Folded("block|blocked|no|n|nein|gesperrt|non|nee|0|false|verboten|bloque")),
        ("active", "yes", Folded("yes|y|true|1|x|active|aktiv|ja|j|oui|actif|si|activo|attivo|actief|in use|open|offen")),
        ("active", "no", Folded("no|n|false|0|inactive|inaktiv|nein|non|nee|inactif|inactivo|inattivo|inactief|closed|blocked|gesperrt|archived|archiviert|" +
            "geschlossen")),
    ];

    /// <summary>What a code of a further field means; null when it is not known.</summary>
    internal static string? ValueOf(string field, string code)
    {
        var folded = Headings.Folded(code);
        if (ChartMapping.FieldsOfValues[field].FirstOrDefault(w => Headings.Folded(w) == folded) is { } own)
            return own;
        foreach (var (of, meaning, words) in ValueWords)
            if (of == field && words.Contains(folded))
                return meaning;
        return null;
    }

    static string[] Folded(string words) => [.. words.Split('|').Select(Headings.Folded)];
}
