using System.Reflection;
using System.Text.RegularExpressions;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Infrastructure;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;
using Microsoft.Extensions.DependencyInjection;

namespace Assignum.Web.Tests;

/// <summary>A handler of a page, as the code lists it.</summary>
/// <param name="Address">An address of its page.</param>
/// <param name="Verb">"Get" or "Post".</param>
/// <param name="Name">Its name; empty for the page's own.</param>
/// <param name="Need">What it says it needs.</param>
/// <param name="Fields">Names of everything it reads from what is sent.</param>
/// <param name="Json">The type it reads from a body of JSON, or null.</param>
sealed partial record PageHandler(string Address, string Verb, string Name, Need Need, IReadOnlyList<string> Fields, Type? Json)
{
    // Values for the parts of addresses.
    static readonly Dictionary<string,
        string> Parts = new() { ["company"] = "qn", ["purpose"] = "revenue", ["family"] = "item", ["id:long"] = "1", ["number"] = "4010", ["of"] = "account",
        ["what"] = "account" };

    internal string At(string? name) =>
        Address + (string.IsNullOrEmpty(name) ? "" : (Address.Contains('?', StringComparison.Ordinal) ? "&" : "?") + "handler=" + name);

    internal static IReadOnlyList<PageHandler> All(IServiceProvider services)
    {
        var loader = services.GetRequiredService<PageLoader>();
        return [.. from page in services.GetRequiredService<IActionDescriptorCollectionProvider>().ActionDescriptors.Items.OfType<PageActionDescriptor>()
                   let loaded = loader.LoadAsync(page, new()).GetAwaiter().GetResult()
                   from handler in loaded.HandlerMethods!
                   select new PageHandler(AddressOf(page.AttributeRouteInfo!.Template!), handler.HttpMethod, handler.Name ?? "",
                       handler.MethodInfo.GetCustomAttribute<NeedsAttribute>()?.Need
                           ?? throw new InvalidOperationException($"{handler.MethodInfo.DeclaringType}.{handler.MethodInfo.Name} does not say what it needs."),
                       [.. handler.MethodInfo.GetParameters().Where(p => p.GetCustomAttribute<FromBodyAttribute>() is null).SelectMany(p =>
                           FieldsOf(p.Name!, p.ParameterType, isRoot: true)).Concat(Bound(loaded.ModelTypeInfo!)).Distinct()],
                       handler.MethodInfo.GetParameters().FirstOrDefault(p => p.GetCustomAttribute<FromBodyAttribute>() is not null)?.ParameterType)];
    }

    static string AddressOf(string template) =>
        "/" + Part().Replace(template, part => Parts.GetValueOrDefault(part.Groups[1].Value)
        ?? Parts.GetValueOrDefault(part.Groups[1].Value + part.Groups[2].Value) ?? "x");

    static IEnumerable<string> Bound(Type page) =>
        page.GetProperties().Where(p => p.GetCustomAttribute<BindPropertyAttribute>() is not null).Select(p =>
        p.GetCustomAttribute<BindPropertyAttribute>()!.Name ?? p.Name);

    static IEnumerable<string> FieldsOf(string name, Type type, bool isRoot)
    {
        if (type == typeof(CancellationToken) || type.IsInterface || type.Name is "SecondFactor")
            return [];
        if (type.IsGenericType && type.GetGenericTypeDefinition() == typeof(List<>))
            return FieldsOf($"{name}[0]", type.GetGenericArguments()[0], false);
        if (type.Namespace!.StartsWith("Assignum", StringComparison.Ordinal) && type.IsClass)
            return type.GetProperties().Where(p => p.SetMethod is not null).SelectMany(p =>
                FieldsOf(isRoot ? p.Name : $"{name}.{p.Name}", p.PropertyType, false));
        return [name];
    }

    [GeneratedRegex(@"\{(\w+)(:\w+)?\??\}")]
    private static partial Regex Part();
}
