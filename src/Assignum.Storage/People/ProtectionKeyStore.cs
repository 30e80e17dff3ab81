using Npgsql;

namespace Assignum.Storage.People;

/// <summary>Keys of sign-in cookies, so that every instance reads the cookies of the others.</summary>
public sealed class ProtectionKeyStore(NpgsqlDataSource source)
{
    /// <summary>All keys, as XML.</summary>
    public IReadOnlyList<string> All()
    {
        using var command = source.CreateCommand("select xml from protection_key order by id");
        using var reader = command.ExecuteReader();
        var keys = new List<string>();
        while (reader.Read())
            keys.Add(reader.GetString(0));
        return keys;
    }

    /// <summary>Keeps a key.</summary>
    public void Add(string name, string xml)
    {
        using var command = source.Command("insert into protection_key (name, xml) values ($1, $2)", name, xml);
        command.ExecuteNonQuery();
    }
}
