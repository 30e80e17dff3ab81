using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages;

/// <summary>What is said when a page can't be shown.</summary>
[AllowAnonymous, IgnoreAntiforgeryToken, ResponseCache(NoStore = true)]
public sealed class ErrorModel : PageModel
{
    /// <summary>What happened.</summary>
    public string Title { get; private set; } = "";
    /// <summary>What to do now.</summary>
    public string Mend { get; private set; } = "";

    /// <summary>Says it.</summary>
    [Needs(Need.Nothing)]
    public void OnGet(int? code) => Say(code);

    /// <summary>Says it after a form.</summary>
    [Needs(Need.Nothing)]
    public void OnPost(int? code) => Say(code);

    void Say(int? code) => (Title, Mend) = code switch
    {
        403 => ("Not for your role", "Your role in this company does not allow this. Ask an administrator for another role, or somebody who has it to do it."),
        404 => ("Nothing is here", "The address leads to nothing. It may have been typed with a mistake, or what it named is gone."),
        400 => ("The form is too old", "The page was open for too long, or you have signed in anew since. Go back, load it again, and repeat the act. Nothing was changed."),
        _ => ("A fault of ours", "Something went wrong on our side, and nothing was changed. Try it once more; if it comes again, tell whoever runs this installation the time."),
    };
}
