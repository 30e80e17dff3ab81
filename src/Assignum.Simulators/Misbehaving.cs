namespace Assignum.Simulators;

/// <summary>How a stand-in can be told to misbehave, as the systems it stands for do now and then.</summary>
public enum Misbehaviour
{
    /// <summary>It is well.</summary>
    None,
    /// <summary>It answers 503.</summary>
    Down,
    /// <summary>It takes longer than anybody waits.</summary>
    Slow,
    /// <summary>It does not know the secret any more.</summary>
    WrongSecret,
    /// <summary>An account it needs has been taken out of its settings.</summary>
    MissingAccount,
    /// <summary>The rate of a tax code differs from everybody else's.</summary>
    RateDiffers,
    /// <summary>Events come twice, in one page and in two.</summary>
    Duplicates,
    /// <summary>Later revisions come before earlier ones.</summary>
    OutOfOrder,
    /// <summary>An event comes again with other contents under the same revision.</summary>
    ChangedContent,
    /// <summary>Its answer breaks off in the middle.</summary>
    HalfPage,
    /// <summary>Among the events is what is none.</summary>
    Rubbish,
    /// <summary>Its clock is a day ahead.</summary>
    ClockOff,
}
