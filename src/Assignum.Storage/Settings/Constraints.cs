using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>What the database refuses, as a user would say it. What is checked before never comes to this; two people at once may.</summary>
public static class Constraints
{
    /// <summary>Says what is in the way.</summary>
    /// <param name="refused">The database's refusal.</param>
    /// <returns>The thing and the fix; null where it is no user's doing.</returns>
    public static string? InWords(PostgresException refused) => refused.SqlState switch
    {
        PostgresErrorCodes.ExclusionViolation => refused.ConstraintName switch
        {
            "rule_no_overlap" => "Another rule for the same purpose and the same facts holds on some of these days. End the one before the other begins.",
            "tax_rule_no_overlap" => "Another tax rule for the same groups holds on some of these days. End the one before the other begins.",
            "fiscal_year_no_overlap" => "Another fiscal year has some of these days. Choose days that no year has yet.",
            _ => "Somebody else has changed the same setting at this moment. Look at it again, then make your change.",
        },
        PostgresErrorCodes.UniqueViolation =>
            $"There is {Thing(refused.TableName)} with this {(refused.TableName == "account" ? "number" : "code or name")} already, perhaps added at this " +
                "moment. Choose another.",
        PostgresErrorCodes.ForeignKeyViolation => refused.MessageText.Contains("update or delete", StringComparison.Ordinal)
            ? $"It is still used by {Thing(refused.TableName)}. Take that back or change it first."
            : "What it names is not there any more. Look at it again, then choose something else.",
        PostgresErrorCodes.CheckViolation or PostgresErrorCodes.NotNullViolation =>
            $"A value of {Thing(refused.TableName)} is missing or can't be kept. Look at what was typed.",
        PostgresErrorCodes.NumericValueOutOfRange => "A number is larger than can be kept. Amounts stay below 1,000,000,000,000,000.",
        PostgresErrorCodes.StringDataRightTruncation => "A text is longer than can be kept. Shorten it.",
        PostgresErrorCodes.CharacterNotInRepertoire or PostgresErrorCodes.UntranslatableCharacter =>
            "A text has a character that can't be kept. Type it again.",
        PostgresErrorCodes.DeadlockDetected or PostgresErrorCodes.SerializationFailure =>
            "Somebody else was changing the same things at this moment, and nothing was changed. Try once more.",
        _ => null,
    };

    static string Thing(string? table) => table switch
    {
        "account" or "account_setting" => "an account",
        "grouping" or "grouping_setting" or "grouping_alias" => "a group",
        "tax_code" or "tax_code_setting" => "a tax code",
        "member" or "member_setting" or "first_group" => "a member",
        "rule" => "a rule",
        "tax_rule" => "a tax rule",
        "dimension" or "dimension_value" => "a dimension or a value of it",
        "company" => "a company",
        "app_user" => "a person",
        "line" or "entry" or "event" => "what is posted",
        _ => "something",
    };
}
