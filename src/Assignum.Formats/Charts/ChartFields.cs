using Assignum.Core;

namespace Assignum.Formats.Charts;

/// <summary>A field of an account that a column of a file can fill.</summary>
/// <param name="Name">Its name in mappings and templates: "taxCode".</param>
/// <param name="Title">Its title on screens.</param>
/// <param name="Says">What belongs in it.</param>
/// <param name="Required">Whether an account can't do without it.</param>
/// <param name="Headings">Headings under which files have it, folded, in the languages in which charts are kept.</param>
public sealed record ChartField(string Name, string Title, string Says, bool Required, IReadOnlyList<string> Headings);

/// <summary>The fields of an account that a file can fill.</summary>
public static class ChartFields
{
    /// <summary>All of them, in the order of a template.</summary>
    public static IReadOnlyList<ChartField> All { get; } =
    [
        Field("number", "Number", "Account number; capitals and spaces make no difference.", true,
            "number|no|nr|account number|account no|account nr|account code|account|acct|code|konto|kontonummer|konto " +
                "nr|kontonr|sachkonto|nummer|compte|numero de compte|numero|n compte|no compte|cuenta|numero de cuenta|codigo|codigo de cuenta|conto|codice " +
                    "conto|codice|numero conto|rekening|rekeningnummer|grootboekrekening|conta|numero da conta|kontonummer|numer konta|cislo uctu|ucet"),
        Field("name", "Name", "The name people read.", true,
            "name|account name|title|label|caption|account title|bezeichnung|kontobezeichnung|kontoname|beschriftung|libelle|intitule|intitule du " +
                "compte|nom|nom du compte|nombre|denominacion|nombre de la cuenta|titulo|nome|denominazione|descrizione|descrizione " +
                    "conto|naam|omschrijving|benaming|benamning|navn|kontonavn|nazwa|nazwa konta|nazev|designacao|text"),
        Field("class", "Class", "Where it stands in the statements. Empty: as its parent.", false,
            "class|account class|type|account type|category|statement|kontoart|art|klasse|kontenklasse|kontoklasse|typ|classe|nature|nature du compte|type " +
                "de compte|clase|tipo|tipo de cuenta|naturaleza|tipo di conto|tipo conto|natura|soort|categorie|rubriek|kategorie|kontotyp"),
        Field("kind", "Kind", "Posting account, heading or subtotal. Empty: posting.", false,
            "kind|posting|postable|row type|line type|heading|level type|zeilenart|zeilentyp|buchbar|bebuchbar|satzart|imputable|saisissable|type de " +
                "ligne|imputable si no|tipo de linea|movimentabile|movimiento|tipo riga|boekbaar|regeltype|bokforbar"),
        Field("parent", "Stands under", "Number of the account above it, in the file or in the chart.", false,
            "parent|parent account|parent number|under|unter|steht unter|stands under|belongs to|rolls up " +
                "to|summenkonto|oberkonto|ubergeordnet|ubergeordnetes konto|uebergeordnetes konto|gehort zu|sammelkonto|compte parent|compte de " +
                    "regroupement|rattachement|regroupement|cuenta padre|padre|cuenta mayor|cuenta superior|conto padre|mastro|conto " +
                        "superiore|hoofdrekening|bovenliggende rekening|conta pai|overordnet|konto nadrzedne"),
        Field("shortName", "Short name", $"At most {Core.Charts.AccountCheck.LongestShortName} characters.", false,
            "short name|short|abbreviation|kurzname|kurzbezeichnung|kurztext|libelle court|libelle abrege|nombre corto|abreviatura|nome breve|korte " +
                "naam|kortnavn"),
        Field("description", "Description", "What belongs on it.", false,
            "description|notes|note|remark|remarks|comment|bemerkung|beschreibung|erlauterung|hinweis|commentaire|remarque|observaciones|comentario|notas|" +
                "opmerking|toelichting|osservazioni|beskrivelse"),
        Field("control", "Control of", $"Subledger that owns it: {string.Join(", ", Words<Core.Charts.Control>.All)}.", false,
            "control|control of|subledger|sub ledger|control account|nebenbuch|sammelkonto|abstimmkonto|mitbuchkonto|collectif|compte " +
                "collectif|subdiario|sottoconto|subadministratie"),
        Field("manual", "By hand", "open, warn or block.", false, "by hand|manual|manual entry|hand"),
        Field("taxCode", "Tax code", "Tax code of lines that name the account.", false,
            "tax code|tax|vat code|vat|steuerschlussel|steuercode|steuer|ust|mwst|mwst code|code tva|tva|taux tva|iva|codigo iva|tipo iva|codice " +
                "iva|aliquota|btw|btw code|momskod|moms|stawka vat"),
        Field("itemTaxGroup", "Item tax group", "Tax group of lines that name the account.", false,
            "item tax group|tax group|steuergruppe|groupe de taxe|grupo de impuesto"),
        Field("active", "Active", "yes or no.", false, "active|status|in use|aktiv|actif|activo|attivo|actief|ativo|aktivni"),
    ];

    /// <summary>The field of a name; null when there is none.</summary>
    public static ChartField? Find(string name) => All.FirstOrDefault(f => f.Name == name);

    static ChartField Field(string name, string title, string says, bool required, string headings) =>
        new(name, title, says, required, [.. headings.Split('|').Append(name).Select(Headings.Folded).Distinct()]);
}
