using System.Text.Json;

namespace Assignum.Simulators;

/// <summary>Something a stand-in gave or was asked, for whoever compares it with what came of it.</summary>
/// <param name="At">When.</param>
/// <param name="What">"gave", "called", "took".</param>
/// <param name="Id">Id of the event, or number of the batch.</param>
/// <param name="Revision">Its revision.</param>
/// <param name="Answer">What was answered, where something was.</param>
public sealed record Logged(DateTimeOffset At, string What, string Id, int Revision, string? Answer);

/// <summary>A system with its own lists, events and settings, that stands for one of the nurseries' systems.</summary>
public sealed class StandIn
{
    readonly Lock gate = new();
    readonly List<Logged> log = [];
    readonly Dictionary<string, string> settings = new(StringComparer.Ordinal);
    readonly Dictionary<string, string> batches = new(StringComparer.Ordinal);

    internal StandIn(string system, SystemData data, string secret)
    {
        (System, Data, Secret) = (system, data, secret);
        foreach (var (list, entries) in data.Lists)
        {
            Lists[list] = new();
            foreach (var entry in entries)
                Lists[list].Put(entry);
        }
        foreach (var needed in data.Settings)
            settings[needed.Setting] = needed.Value;
    }

    /// <summary>Its code.</summary>
    public string System { get; }
    /// <summary>What it was made from.</summary>
    internal SystemData Data { get; }
    /// <summary>What a caller has to show.</summary>
    public string Secret { get; }
    /// <summary>How it misbehaves at the moment.</summary>
    public Misbehaviour Misbehaviour { get; private set; }
    /// <summary>Its lists.</summary>
    public Dictionary<string, EntryList> Lists { get; } = new(StringComparer.Ordinal);
    /// <summary>What it has been told of our lists.</summary>
    public Dictionary<string, IReadOnlyList<Entry>> Ours { get; } = new(StringComparer.Ordinal);
    /// <summary>Its events.</summary>
    public EventFeed Feed { get; } = new();
    /// <summary>Where it calls for each event; null: nowhere.</summary>
    public Hook? Hook { get; set; }

    /// <summary>Settings it lacks.</summary>
    internal IReadOnlyList<NeededSetting> Missing
    {
        get { lock (gate) return [.. Data.Settings.Where(s => !settings.ContainsKey(s.Setting))]; }
    }

    /// <summary>Its clock.</summary>
    public DateTimeOffset Clock => DateTimeOffset.UtcNow + (Misbehaviour == Misbehaviour.ClockOff ? TimeSpan.FromHours(26) : TimeSpan.Zero);

    /// <summary>Tells it to misbehave, or to be well.</summary>
    public void Behave(Misbehaviour how)
    {
        lock (gate)
        {
            if (how == Misbehaviour.MissingAccount && Data.Settings.Count > 0)
                settings.Remove(Data.Settings[0].Setting);
            if (how == Misbehaviour.RateDiffers && Lists.TryGetValue("tax-codes", out var taxes) && taxes.All.FirstOrDefault(t => t.Rate > 0) is { } code)
                taxes.Put(code with { Rate = code.Rate + 1 });
            Misbehaviour = how;
        }
    }

    /// <summary>Chooses a setting.</summary>
    public bool Set(string setting, string code)
    {
        lock (gate)
        {
            if (Data.Settings.All(s => s.Setting != setting))
                return false;
            settings[setting] = code;
            return true;
        }
    }

    /// <summary>What it gave and was answered.</summary>
    public IReadOnlyList<Logged> Log
    {
        get { lock (gate) return [.. log]; }
    }

    internal void Note(string what, string id, int revision, string? answer = null)
    {
        lock (gate)
            log.Add(new(DateTimeOffset.UtcNow, what, id, revision, answer));
    }

    /// <summary>Takes a batch of entries: one whose accounts it all knows, once.</summary>
    /// <returns>Its number here, or why lines are not taken.</returns>
    internal (string? Number, IReadOnlyList<(int Line, string Reason)> Reasons) Take(JsonElement batch)
    {
        var key = $"{batch.GetProperty("from").GetString()}/{batch.GetProperty("number").GetInt32()}";
        var faults = new List<(int, string)>();
        var sum = 0m;
        foreach (var line in batch.GetProperty("lines").EnumerateArray())
        {
            var account = line.GetProperty("account").GetString()!;
            sum += line.GetProperty("amount").GetDecimal();
            if (Lists.TryGetValue("accounts", out var accounts) && !accounts.Has(account))
                faults.Add((line.GetProperty("line").GetInt32(), $"Account {account} is not in this ledger."));
        }
        if (sum != 0)
            faults.Add((0, FormattableString.Invariant($"The batch is out of balance by {sum}.")));
        lock (gate)
        {
            if (batches.TryGetValue(key, out var known))
                return (known, []);
            if (faults.Count > 0)
                return (null, faults);
            batches[key] = FormattableString.Invariant($"{Data.Series}-{batches.Count + 1:00000}");
            return (batches[key], []);
        }
    }
}

/// <summary>Where a stand-in calls for each event.</summary>
/// <param name="Address">The address.</param>
/// <param name="Secret">What it signs with.</param>
public sealed record Hook(Uri Address, string Secret);
