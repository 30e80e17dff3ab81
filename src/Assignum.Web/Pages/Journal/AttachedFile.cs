using Assignum.Storage.Journal;

namespace Assignum.Web.Pages.Journal;

/// <summary>A file that somebody adds to an entry: what it is, is found out from its bytes.</summary>
static class AttachedFile
{
    static readonly (string Kind, string Type, byte[] Begins)[] Kinds =
    [
        ("pdf", "application/pdf", "%PDF-"u8.ToArray()), ("png", "image/png", [0x89, (byte)'P', (byte)'N', (byte)'G']), ("jpeg", "image/jpeg", [0xFF, 0xD8,
            0xFF]),
        ("xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", [(byte)'P', (byte)'K', 3, 4]),
    ];

    /// <summary>The kind of a file; null where it is none that is kept.</summary>
    internal static string? KindOf(string name, ReadOnlySpan<byte> content)
    {
        foreach (var (kind, _, begins) in Kinds)
            if (content.StartsWith(begins))
                return kind;
        // A text without a zero byte, named as a sheet.
        return name.EndsWith(".csv", StringComparison.OrdinalIgnoreCase) && !content.Contains((byte)0) ? "csv" : null;
    }

    /// <summary>The media type of a kind.</summary>
    internal static string TypeOf(string kind) => Array.Find(Kinds, k => k.Kind == kind) is { Type: { } type } ? type : "text/csv; charset=utf-8";

    /// <summary>Why a file can't be kept; null when it can.</summary>
    internal static string? Fault(IFormFile? file) => file switch
    {
        null or { Length: 0 } => "No file is chosen, or an empty one. Choose a PDF, a picture or a sheet.",
        { Length: > AttachmentStore.Largest } => $"{file.FileName} has {file.Length >> 20} MB. At most {AttachmentStore.Largest >> 20} MB are kept: " +
            "make it smaller, or split it.",
        _ => null,
    };
}
