using Assignum.Core;
using Microsoft.AspNetCore.Mvc.ModelBinding;

namespace Assignum.Web.Sending;

/// <summary>Reads days as whoever typed them writes them, or as addresses have them; what could be meant otherwise is asked back.</summary>
sealed class DayBinder : IModelBinder
{
    public Task BindModelAsync(ModelBindingContext context)
    {
        var sent = context.ValueProvider.GetValue(context.ModelName);
        if (sent == ValueProviderResult.None)
            return Task.CompletedTask;
        context.ModelState.SetModelValue(context.ModelName, sent);
        var typed = sent.FirstValue?.Trim() ?? "";
        if (typed.Length == 0)
            context.Result = context.ModelMetadata.IsReferenceOrNullableType ? ModelBindingResult.Success(null) : context.Result;
        else if (Written.Now.TryDay(typed, out var day))
            context.Result = ModelBindingResult.Success(day);
        else
            context.ModelState.TryAddModelError(context.ModelName, $"“{typed}” can't be read as a day. You write days as {Written.Now.Example.Day}.");
        return Task.CompletedTask;
    }
}

/// <summary>Gives every day of every form to <see cref="DayBinder"/>.</summary>
sealed class DayBinderProvider : IModelBinderProvider
{
    static readonly DayBinder Binder = new();

    public IModelBinder? GetBinder(ModelBinderProviderContext context) => context.Metadata.UnderlyingOrModelType == typeof(DateOnly) ? Binder : null;
}
