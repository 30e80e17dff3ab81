using Assignum.Web.Showing;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages;

/// <summary>A page that shows what holds on a day.</summary>
public abstract class DatedPage(TimeProvider clock) : CompanyPage
{
    /// <summary>The day asked for.</summary>
    [BindProperty(SupportsGet = true, Name = "on")]
    public DateOnly? On { get; set; }
    /// <summary>The day it is shown for: the one asked for, else today.</summary>
    public DateOnly Date => On ?? clock.Today();
}
