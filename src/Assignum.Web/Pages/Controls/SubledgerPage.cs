using Assignum.Storage.Settings;

namespace Assignum.Web.Pages.Controls;

/// <summary>A subledger on a day.</summary>
public abstract class SubledgerPage(TimeProvider clock) : DatedPage(clock)
{
    /// <summary>Most rows of a page, and of an export.</summary>
    protected const int Most = 200, MostExported = 200_000;

    /// <inheritdoc/>
    public override string Step => "Controls";

    /// <summary>Rows that fit a page.</summary>
    public int Shown => AtMost(Most);

    /// <summary>Number of an account; empty where it is not known.</summary>
    public string NumberOf(int account) => account == 0 ? "" : Books.Released.Stored.NumberOf(account) ?? "";

    /// <summary>Id of a member of a list by its code.</summary>
    protected int? IdOf(string list, string? code) => Books.Released.Stored.Labels.IdOf(list, code);
}
