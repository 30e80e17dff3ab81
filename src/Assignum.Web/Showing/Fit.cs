using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Findings;
using Assignum.Core.Rulebooks;

namespace Assignum.Web.Showing;

/// <summary>What speaks against an account, short enough for a list of choices.</summary>
static class Fit
{
    internal static string InShort(Purpose purpose, Account account) => string.Join(", ", AccountFit.Of(purpose, account).Select(fit => fit.Check switch
    {
        "class-mismatch" => account.Class.InWords(),
        "control-missing" => "not a control account",
        _ => $"control account of {account.Control!.Value.InWords()}",
    }));
}
