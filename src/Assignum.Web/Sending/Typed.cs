using Assignum.Core;

namespace Assignum.Web.Sending;

/// <summary>What is said where something typed can't be read: never a guess, always the way of whoever typed it.</summary>
static class Typed
{
    internal static string NotANumber(string typed) => $"“{typed.Trim()}” can't be read as a number. You write numbers as {Written.Now.Example.Number}.";
}
