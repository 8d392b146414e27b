<?php

declare(strict_types=1);

namespace App\Http\Sheets;

/**
 * What a form shows of each scheme, and how a field becomes a member of the source file and back:
 * `secret:NAME` stands for a secret, `{NAME}` for a variable of the environment.
 *
 * @phpstan-type Field array{label: string, kind: string, default?: string, choices?: array<string, string>, width?: string, hint?: string, at?: list<string>}
 */
final class SchemeFields
{
    public const TITLES = [
        'bearer' => 'Bearer token', 'api-key' => 'Key', 'basic' => 'User name and password',
        'oauth2-client-credentials' => 'OAuth, the application itself', 'oauth2-authorization-code' => 'OAuth, with consent of a person', 'oauth2-refresh-token' => 'OAuth, from a refresh token',
        'jwt-assertion' => 'OAuth, from a signed assertion', 'login' => 'A request that signs in', 'csrf-token' => 'CSRF token for writes', 'client-certificate' => 'Client certificate', 'none' => 'Nothing',
    ];

    /** What a new one of each kind begins with. */
    public const NEW = [
        'basic' => ['scheme' => 'basic', 'username' => ['secret' => 'username'], 'password' => ['secret' => 'password']],
        'bearer' => ['scheme' => 'bearer', 'token' => ['secret' => 'token']],
        'api-key' => ['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Api-Key', 'value' => ['secret' => 'key']],
        'oauth2-client-credentials' => ['scheme' => 'oauth2-client-credentials', 'token_url' => 'https://', 'client_id' => ['secret' => 'client_id'], 'client_secret' => ['secret' => 'client_secret']],
        'oauth2-authorization-code' => ['scheme' => 'oauth2-authorization-code', 'authorize_url' => 'https://', 'token_url' => 'https://', 'client_id' => ['secret' => 'client_id'], 'client_secret' => ['secret' => 'client_secret']],
        'oauth2-refresh-token' => ['scheme' => 'oauth2-refresh-token', 'token_url' => 'https://', 'client_id' => ['secret' => 'client_id'], 'client_secret' => ['secret' => 'client_secret'], 'refresh_token' => ['secret' => 'refresh_token']],
        'jwt-assertion' => ['scheme' => 'jwt-assertion', 'token_url' => 'https://', 'key' => ['secret' => 'private_key'], 'algorithm' => 'RS256', 'issuer' => 'your client id'],
        'login' => ['scheme' => 'login', 'request' => ['path' => '/session', 'body' => ['as' => 'json', 'of' => ['user' => ['secret' => 'username'], 'password' => ['secret' => 'password']]]], 'take' => ['json' => '$.token'], 'send' => ['in' => 'header', 'name' => 'Authorization', 'prefix' => 'Bearer ']],
        'csrf-token' => ['scheme' => 'csrf-token', 'fetch' => ['path' => '/'], 'header' => 'X-CSRF-Token'],
        'client-certificate' => ['scheme' => 'client-certificate', 'certificate' => ['secret' => 'certificate'], 'key' => ['secret' => 'certificate_key']],
    ];

    /**
     * @return array<string, Field> by name in the form
     */
    public static function of(string $scheme): array
    {
        $place = ['label' => 'id, secret in', 'kind' => 'select', 'choices' => ['header' => 'header', 'body' => 'body'], 'default' => 'header'];
        $client = ['client_id' => ['label' => 'client id', 'kind' => 'value', 'default' => 'client_id', 'width' => '!w-44'], 'client_secret' => ['label' => 'client secret', 'kind' => 'secret?', 'default' => 'client_secret', 'width' => '!w-44']];
        $url = static fn (string $label, string $hint = ''): array => ['label' => $label, 'kind' => 'text', 'width' => '!w-full', 'hint' => $hint];
        $scope = ['label' => 'scope', 'kind' => 'text', 'width' => '!w-52', 'hint' => 'parted by spaces'];

        return match ($scheme) {
            'basic' => ['username' => ['label' => 'user name', 'kind' => 'value', 'default' => 'username', 'width' => '!w-44'], 'password' => ['label' => 'password', 'kind' => 'secret', 'default' => 'password']],
            'bearer' => ['token' => ['label' => 'token', 'kind' => 'secret', 'default' => 'token'], 'prefix' => ['label' => 'prefix', 'kind' => 'text', 'width' => '!w-24', 'default' => 'Bearer']],
            'api-key' => ['in' => ['label' => 'in', 'kind' => 'select', 'choices' => ['header' => 'header', 'query' => 'query', 'cookie' => 'cookie'], 'default' => ''], 'name' => ['label' => 'named', 'kind' => 'text', 'width' => '!w-40'], 'prefix' => ['label' => 'prefix', 'kind' => 'text', 'width' => '!w-20'], 'value' => ['label' => 'key', 'kind' => 'secret', 'default' => 'key']],
            'oauth2-client-credentials' => ['issuer' => $url('issuer', 'finds the addresses'), 'token_url' => $url('token address')] + $client + ['scope' => $scope, 'audience' => ['label' => 'audience', 'kind' => 'text', 'width' => '!w-44'], 'credentials_in' => $place, 'extra' => ['label' => 'more', 'kind' => 'pairs', 'width' => '!w-44', 'hint' => 'name=value&…']],
            'oauth2-authorization-code' => ['issuer' => $url('issuer', 'finds the addresses'), 'authorize_url' => $url('authorize address'), 'token_url' => $url('token address'), 'revoke_url' => $url('revoke address', 'if there is one')] + $client + ['scope' => $scope, 'shared' => ['label' => 'consent', 'kind' => 'bool', 'choices' => ['1' => 'one for all', '0' => 'one for each'], 'default' => '1'], 'pkce' => ['label' => 'PKCE', 'kind' => 'bool', 'choices' => ['1' => 'yes', '0' => 'no'], 'default' => '1'], 'credentials_in' => $place, 'extra' => ['label' => 'more', 'kind' => 'pairs', 'width' => '!w-44', 'hint' => 'name=value&…']],
            'oauth2-refresh-token' => ['token_url' => $url('token address')] + $client + ['refresh_token' => ['label' => 'refresh token', 'kind' => 'secret', 'default' => 'refresh_token'], 'scope' => $scope, 'credentials_in' => $place],
            'jwt-assertion' => ['token_url' => $url('token address'), 'issuer' => ['label' => 'issuer', 'kind' => 'value', 'width' => '!w-44'], 'subject' => ['label' => 'subject', 'kind' => 'value', 'width' => '!w-44', 'hint' => 'the issuer'], 'audience' => ['label' => 'audience', 'kind' => 'text', 'width' => '!w-44', 'hint' => 'the token address'], 'scope' => $scope, 'algorithm' => ['label' => 'signed with', 'kind' => 'select', 'choices' => ['RS256' => 'RS256', 'ES256' => 'ES256', 'EdDSA' => 'EdDSA'], 'default' => ''], 'key_id' => ['label' => 'key id', 'kind' => 'text', 'width' => '!w-32'], 'lifetime' => ['label' => 'for seconds', 'kind' => 'number', 'width' => '!w-16', 'hint' => '300'], 'key' => ['label' => 'private key', 'kind' => 'secret', 'default' => 'private_key']],
            'login' => ['path' => ['label' => 'POST', 'kind' => 'text', 'width' => '!w-44', 'at' => ['request', 'path']], 'as' => ['label' => 'as', 'kind' => 'select', 'choices' => ['json' => 'JSON', 'form' => 'form'], 'default' => 'json', 'at' => ['request', 'body', 'as']], 'of' => ['label' => 'with', 'kind' => 'members', 'width' => '!w-full', 'hint' => 'user=secret:username&password=secret:password', 'at' => ['request', 'body', 'of']], 'take' => ['label' => 'hands back in', 'kind' => 'take', 'width' => '!w-full', 'hint' => '$.token, header X-Session or cookie sid'], 'send_in' => ['label' => 'id, secret in', 'kind' => 'select', 'choices' => ['header' => 'header', 'query' => 'query', 'cookie' => 'cookie'], 'default' => '', 'at' => ['send', 'in']], 'send_name' => ['label' => 'named', 'kind' => 'text', 'width' => '!w-36', 'at' => ['send', 'name']], 'send_prefix' => ['label' => 'prefix', 'kind' => 'raw', 'width' => '!w-20', 'at' => ['send', 'prefix']], 'lifetime' => ['label' => 'good for seconds', 'kind' => 'number', 'width' => '!w-20', 'hint' => 'until 401']],
            'csrf-token' => ['path' => ['label' => 'fetched by GET', 'kind' => 'text', 'width' => '!w-40', 'at' => ['fetch', 'path']], 'header' => ['label' => 'header', 'kind' => 'text', 'width' => '!w-40', 'hint' => 'X-CSRF-Token']],
            'client-certificate' => ['certificate' => ['label' => 'certificate', 'kind' => 'secret', 'default' => 'certificate'], 'key' => ['label' => 'key', 'kind' => 'secret', 'default' => 'certificate_key'], 'passphrase' => ['label' => 'passphrase', 'kind' => 'secret?', 'default' => 'passphrase', 'width' => '!w-44']],
            default => [],
        };
    }

    /**
     * What stands in a field of the form.
     *
     * @param  Field  $field
     * @param  array<string, mixed>  $entry
     */
    public static function shown(string $name, array $field, array $entry): string
    {
        if ($field['kind'] === 'take') {
            $take = $entry['take'] ?? [];

            return isset($take['json']) ? $take['json'] : (isset($take['header']) ? "header {$take['header']}" : (isset($take['cookie']) ? "cookie {$take['cookie']}" : ''));
        }
        $value = $entry;
        foreach ($field['at'] ?? [$name] as $step) {
            $value = is_array($value) ? $value[$step] ?? null : null;
        }
        if ($field['kind'] === 'bool') {
            return $value === null ? ($field['default'] ?? '1') : ($value === true ? '1' : '0');
        }
        if (in_array($field['kind'], ['pairs', 'members'], true)) {
            return is_array($value) ? urldecode(str_replace('%26', '%2526', http_build_query(array_map(self::text(...), $value), '', '&', PHP_QUERY_RFC3986))) : '';
        }

        return $value === null ? (in_array($field['kind'], ['select', 'text'], true) && in_array($name, ['prefix', 'credentials_in', 'as'], true) ? ($field['default'] ?? '') : '') : self::text($value);
    }

    /**
     * The entry of the source file for what a form sent.
     *
     * @param  array<string, mixed>  $row
     * @param  array<string, mixed>  $was
     * @return array<string, mixed>
     */
    public static function entry(string $scheme, array $row, array $was): array
    {
        $entry = ['scheme' => $scheme] + (($was['scheme'] ?? '') === $scheme ? $was : []);
        foreach (self::of($scheme) as $name => $field) {
            if (! array_key_exists($name, $row)) {
                continue;
            }
            $typed = is_string($row[$name]) ? ($field['kind'] === 'raw' ? $row[$name] : trim($row[$name])) : '';
            $value = self::member($typed, $field);
            if ($field['kind'] === 'take') {
                $entry['take'] = $value ?? $entry['take'] ?? [];
            } else {
                $entry = self::put($entry, $field['at'] ?? [$name], $value === ($field['default'] ?? null) && in_array($name, ['prefix', 'credentials_in'], true) ? null : $value);
            }
        }

        return $entry;
    }

    /**
     * @param  Field  $field
     */
    private static function member(string $typed, array $field): mixed
    {
        return match ($field['kind']) {
            'secret' => ['secret' => preg_match('/^secret:([A-Za-z0-9_-]{1,64})$/D', $typed, $part) === 1 ? $part[1] : ($field['default'] ?? 'secret')],
            'secret?' => $typed === '' ? null : ['secret' => preg_match('/^secret:([A-Za-z0-9_-]{1,64})$/D', $typed, $part) === 1 ? $part[1] : ($field['default'] ?? 'secret')],
            'value' => $typed === '' && isset($field['default']) ? ['secret' => $field['default']] : self::parsed($typed),
            'number' => preg_match('/^\d{1,6}$/D', $typed) === 1 ? (int) $typed : ($typed === '' ? null : $typed),
            'bool' => $typed === ($field['default'] ?? '1') ? null : $typed === '1',
            'pairs', 'members' => self::pairs($typed, $field['kind'] === 'members'),
            'take' => match (true) {
                preg_match('/^(header|cookie)\s+(\S+)$/iD', $typed, $part) === 1 => [strtolower($part[1]) => $part[2]],
                $typed === '' => null,
                default => ['json' => $typed],
            },
            'raw' => $typed === '' ? null : $typed,
            default => self::parsed($typed),
        };
    }

    public static function parsed(string $typed): mixed
    {
        return match (true) {
            $typed === '' => null,
            preg_match('/^secret:([A-Za-z0-9_-]{1,64})$/D', $typed, $part) === 1 => ['secret' => $part[1]],
            preg_match('/^\{([A-Za-z0-9_-]{1,64})\}$/D', $typed, $part) === 1 => ['variable' => $part[1]],
            default => $typed,
        };
    }

    public static function text(mixed $value): string
    {
        return match (true) {
            is_array($value) && isset($value['secret']) => 'secret:'.$value['secret'],
            is_array($value) && isset($value['variable']) => '{'.$value['variable'].'}',
            is_scalar($value) => (string) $value,
            default => '',
        };
    }

    /**
     * @return array<string, mixed>|null
     */
    private static function pairs(string $typed, bool $values): ?array
    {
        $pairs = [];
        foreach (array_filter(explode('&', $typed), static fn (string $one): bool => trim($one) !== '') as $pair) {
            [$name, $value] = array_map(trim(...), explode('=', $pair, 2) + [1 => '']);
            $pairs[$name] = $values ? self::parsed($value) ?? '' : $value;
        }

        return $pairs === [] ? null : $pairs;
    }

    /**
     * @param  array<array-key, mixed>  $into
     * @param  list<string>  $at
     * @return array<array-key, mixed>
     */
    private static function put(array $into, array $at, mixed $value): array
    {
        $step = array_shift($at);
        if ($at !== []) {
            $into[$step] = self::put(is_array($into[$step] ?? null) ? $into[$step] : [], $at, $value);
            if ($into[$step] === []) {
                unset($into[$step]);
            }
        } elseif ($value === null) {
            unset($into[$step]);
        } else {
            $into[$step] = $value;
        }

        return $into;
    }
}
