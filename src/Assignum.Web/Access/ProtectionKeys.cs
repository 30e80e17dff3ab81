using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using System.Xml.Linq;
using Assignum.Storage.People;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.DataProtection.KeyManagement;
using Microsoft.AspNetCore.DataProtection.Repositories;

namespace Assignum.Web.Access;

/// <summary>Keys of cookies, forms and kept secrets: in the database, so that all instances share them, wrapped by a key from a file outside of it.</summary>
static class ProtectionKeys
{
    internal static void AddProtectionKeys(this IServiceCollection services, IConfiguration configuration)
    {
        services.AddSingleton<IXmlRepository, KeysInDatabase>();
        services.AddOptions<KeyManagementOptions>().Configure<IXmlRepository>((options, keys) => options.XmlRepository = keys);
        var protection = services.AddDataProtection().SetApplicationName("assignum");
        if (configuration["ASSIGNUM_KEY"] is { Length: > 0 } file)
            protection.ProtectKeysWithCertificate(CertificateIn(file, configuration["ASSIGNUM_KEY_PASSWORD"]));
    }

    // The first start makes it. It has a password, or stands where nobody else reads it.
    static X509Certificate2 CertificateIn(string file, string? password)
    {
        if (!File.Exists(file))
            Make(file, password);
        if (!OperatingSystem.IsWindows()
            && (File.GetUnixFileMode(file) & (UnixFileMode.GroupRead | UnixFileMode.OtherRead | UnixFileMode.GroupWrite | UnixFileMode.OtherWrite)) != 0
            && string.IsNullOrEmpty(password))
            throw new InvalidOperationException($"{file} has no password and can be read by others. Run chmod 600 on it, or give it a password in " +
                "ASSIGNUM_KEY_PASSWORD.");
        try
        {
            return X509CertificateLoader.LoadPkcs12FromFile(file, password);
        }
        catch (CryptographicException) when (!string.IsNullOrEmpty(password))
        {
            // One of an older make has none yet.
            var older = X509CertificateLoader.LoadPkcs12FromFile(file, null, X509KeyStorageFlags.Exportable);
            Write(file, older.Export(X509ContentType.Pfx, password));
            return older;
        }
    }

    static void Make(string file, string? password)
    {
        using var key = RSA.Create(3072);
        var request = new CertificateRequest("CN=assignum", key, HashAlgorithmName.SHA256, RSASignaturePadding.Pkcs1);
        using var made = request.CreateSelfSigned(DateTimeOffset.UtcNow.AddDays(-1), DateTimeOffset.UtcNow.AddYears(20));
        Write(file, made.Export(X509ContentType.Pfx, password));
    }

    // Nobody else may read it at any moment, not even while it is written.
    static void Write(string file, byte[] content)
    {
        var open = new FileStreamOptions { Mode = FileMode.Create, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows())
            open.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        using var to = new FileStream(file, open);
        to.Write(content);
    }

    sealed class KeysInDatabase(ProtectionKeyStore store) : IXmlRepository
    {
        public IReadOnlyCollection<XElement> GetAllElements() => [.. store.All().Select(XElement.Parse)];

        public void StoreElement(XElement element, string friendlyName) => store.Add(friendlyName, element.ToString(SaveOptions.DisableFormatting));
    }
}
