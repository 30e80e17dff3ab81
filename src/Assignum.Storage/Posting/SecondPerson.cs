using Assignum.Core;
using Assignum.Core.Posting;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>Journals by hand above an amount the company sets are posted by a second person, whichever way they come.</summary>
sealed class SecondPerson
{
    static readonly SecondPerson NotWanted = new(decimal.MaxValue, "", 2);

    readonly decimal above;
    readonly string currency;
    readonly int minorUnits;

    SecondPerson(decimal above, string currency, int minorUnits) => (this.above, this.currency, this.minorUnits) = (above, currency, minorUnits);

    internal static async Task<SecondPerson> Read(NpgsqlConnection connection, int company, PostableEvent[] events, CancellationToken stop) =>
        !Array.Exists(events, IsByHand) ? NotWanted
            : await connection.Command("select second_person_above, currency from company where id = $1 and second_person_above is not null", company)
                .FirstOrDefault(row => new SecondPerson(row.GetDecimal(0), row.GetString(1), Money.MinorUnits(row.GetString(1))), stop) ?? NotWanted;

    /// <summary>The answer for an event that one person alone may not post; null where anybody may.</summary>
    internal Posted? Judge(PostableEvent posted)
    {
        if (!IsByHand(posted) || ((ManualJournal)posted.Happened).Sum(minorUnits) is var sum && sum <= above)
            return null;
        string Shown(decimal amount) => $"{amount.ToString("N" + minorUnits, Written.Now)} {currency}";
        return Posted.Refuse($"The journal {posted.Happened.Id} comes to {Shown(sum)}, and above {Shown(above)} a second person posts. Hand it over from the " +
            "try-out.");
    }

    static bool IsByHand(PostableEvent posted) =>
        posted is { SeenByTwo: false, Happened: ManualJournal { Withdrawn: false } } && posted.FoldedSource == Fold.Of(PostableEvent.Own);
}
