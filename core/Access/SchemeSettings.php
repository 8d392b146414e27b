<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;

/**
 * Settings that several access schemes have in common.
 */
final class SchemeSettings
{
    public static function secret(string $name, string $label, string $help, ?string $secret = null, bool $isRequired = true): Field
    {
        return new Field($name, FieldType::Value, $label, $help, $isRequired, start: ['secret' => $secret ?? $name], isSecret: true);
    }

    public static function value(string $name, string $label, string $help, bool $isRequired = true, ?string $secret = null, string $example = ''): Field
    {
        return new Field($name, FieldType::Value, $label, $help, $isRequired, start: $secret === null ? null : ['secret' => $secret], example: $example);
    }

    public static function tokenUrl(): Field
    {
        return new Field('token_url', FieldType::Url, 'token URL', 'Where a token is asked for.', true, start: 'https://');
    }

    public static function issuer(): Field
    {
        return new Field('issuer', FieldType::Url, 'issuer', 'Where the URLs can be discovered (RFC 8414).', example: 'discovers the URLs');
    }

    /**
     * @return list<Field>
     */
    public static function client(bool $isSecretRequired = true): array
    {
        return [
            self::value('client_id', 'client ID', 'Who the application is.', true, 'client_id'),
            self::secret('client_secret', 'client secret', 'What proves it.', isRequired: $isSecretRequired),
        ];
    }

    public static function scope(): Field
    {
        return new Field('scope', FieldType::VariableText, 'scope', 'What is asked for, separated by spaces.', example: 'separated by spaces');
    }

    public static function audience(string $example = ''): Field
    {
        return new Field('audience', FieldType::VariableText, 'audience', 'Whom the token is for.', example: $example);
    }

    public static function credentialsIn(): Field
    {
        return new Field('credentials_in', FieldType::Choice, 'credentials in', 'Where client ID and secret go (RFC 6749 §2.3.1).', default: 'header', choices: ['header' => 'header', 'body' => 'body']);
    }

    public static function extra(): Field
    {
        return new Field('extra', FieldType::Parameters, 'extra parameters', 'Further parameters of the request.', example: 'name=value&…');
    }

    /**
     * @param  array<int|string, string>  $choices  1 and 0 → label
     */
    public static function flag(string $name, string $label, string $help, array $choices): Field
    {
        return new Field($name, FieldType::Flag, $label, $help, default: true, choices: $choices);
    }
}
