<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use GuzzleHttp\Psr7\Request;
use GuzzleHttp\Psr7\Uri;
use Psr\Http\Message\RequestInterface;

/**
 * A request that signs in, and something it hands back that every other request carries.
 */
final readonly class Login implements AccessScheme, TokenScheme
{
    public static function kind(): Kind
    {
        return new Kind('login', 'Sign-in request', 'A request signs in; what it hands back goes with every other request.', [
            new Field('request', FieldType::Group, 'request', 'What signs in: method, path, headers, body.', true, shape: ['type' => 'object', 'required' => ['path'], 'additionalProperties' => false, 'properties' => ['method' => ['enum' => ['GET', 'POST', 'PUT']], 'path' => ['type' => 'string', 'pattern' => '^[^?#\\s]*$'], 'headers' => ['$ref' => '#/$defs/headers'], 'body' => ['type' => 'object', 'required' => ['of'], 'additionalProperties' => false, 'properties' => ['as' => ['enum' => ['json', 'form']], 'of' => ['type' => 'object', 'additionalProperties' => ['$ref' => '#/$defs/value']]]]]], parts: [
                new Field('path', FieldType::RequestPath, 'POST', '', at: ['request', 'path']),
                new Field('as', FieldType::Choice, 'body', '', default: 'json', choices: ['json' => 'JSON', 'form' => 'form'], at: ['request', 'body', 'as']),
                new Field('of', FieldType::Members, 'with', '', example: 'user=secret:username&password=secret:password', at: ['request', 'body', 'of']),
            ], start: ['path' => '/session', 'body' => ['as' => 'json', 'of' => ['user' => ['secret' => 'username'], 'password' => ['secret' => 'password']]]]),
            new Field('take', FieldType::Take, 'token in', 'Where the response holds the token.', true, start: ['json' => '$.token'], example: '$.token, header X-Session or cookie sid', shape: ['type' => 'object', 'minProperties' => 1, 'maxProperties' => 1, 'additionalProperties' => false, 'properties' => ['json' => ['$ref' => '#/$defs/path'], 'header' => ['type' => 'string', 'pattern' => '^[A-Za-z0-9!#$%&\'*+.^_`|~-]+$'], 'cookie' => ['type' => 'string', 'pattern' => '^[A-Za-z0-9!#$%&\'*+.^_`|~-]+$']]]),
            new Field('send', FieldType::Group, 'send', 'Where the token goes: in, name, prefix.', true, shape: ['type' => 'object', 'required' => ['in', 'name'], 'additionalProperties' => false, 'properties' => ['in' => ['enum' => ['header', 'query', 'cookie']], 'name' => ['type' => 'string', 'pattern' => '^[A-Za-z0-9!#$%&\'*+.^_`|~-]+$'], 'prefix' => ['type' => 'string']]], parts: [
                new Field('send_in', FieldType::Choice, 'sent in', '', choices: ['header' => 'header', 'query' => 'query', 'cookie' => 'cookie'], at: ['send', 'in']),
                new Field('send_name', FieldType::Text, 'name', '', at: ['send', 'name']),
                new Field('send_prefix', FieldType::Raw, 'prefix', '', at: ['send', 'prefix']),
            ], start: ['in' => 'header', 'name' => 'Authorization', 'prefix' => 'Bearer ']),
            new Field('lifetime', FieldType::Count, 'lifetime (seconds)', 'After which it signs in again; without it, after a 401.', example: 'until 401', shape: ['type' => 'integer', 'minimum' => 1]),
        ]);
    }

    public static function of(array $entry, string $base, array $before): self
    {
        return new self($entry, $base);
    }

    /**
     * @param  array<string, mixed>  $entry  of a source file
     */
    public function __construct(private array $entry, private string $base)
    {
    }

    public function apply(RequestInterface $request, Secrets $secrets): RequestInterface
    {
        $token = $secrets->token($this);
        $send = $this->entry['send'];
        $value = HeaderValue::checked(($send['prefix'] ?? '').$token->value, 'token');

        return match ($send['in']) {
            'query' => $request->withUri(Uri::withQueryValue($request->getUri(), rawurlencode($send['name']), rawurlencode($value))),
            'cookie' => Cookies::add($request, [[$send['name'], $value]]),
            default => $request->withHeader($send['name'], $value),
        };
    }

    public function id(): string
    {
        return hash('sha256', serialize([$this->entry, $this->base]));
    }

    public function isPersonal(): bool
    {
        return false;
    }

    public function isFor(string $method): bool
    {
        return true;
    }

    public function tokenRequest(Secrets $secrets, ?AccessToken $old, int $now): RequestInterface
    {
        $ask = $this->entry['request'];
        $of = array_map(static fn (Value $value): string => $value->reveal($secrets), $this->fields());
        $as = $ask['body']['as'] ?? 'json';
        $body = match (true) {
            $of === [] => '',
            $as === 'form' => http_build_query($of, '', '&'),
            default => json_encode($of, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_THROW_ON_ERROR),
        };
        $headers = ['accept' => 'application/json'] + ($body === '' ? [] : ['content-type' => $as === 'form' ? 'application/x-www-form-urlencoded' : 'application/json']);

        return new Request($ask['method'] ?? 'POST', rtrim($this->base, '/').'/'.ltrim($ask['path'], '/'), array_change_key_case($ask['headers'] ?? []) + $headers, $body);
    }

    public function read(TokenAnswer $answer, ?AccessToken $old, int $now): AccessToken
    {
        if ($answer->status < 200 || $answer->status > 399) {
            throw TokenRefused::by($answer);
        }
        $take = $this->entry['take'];
        $value = match (true) {
            isset($take['header']) => $answer->headers[strtolower($take['header'])] ?? null,
            isset($take['cookie']) => $answer->cookies()[$take['cookie']] ?? null,
            default => JsonPath::parse($take['json'])->values(json_decode($answer->body))[0] ?? null,
        };
        if (! is_scalar($value) || (string) $value === '') {
            throw TokenRefused::withoutToken($answer, (string) ($take['json'] ?? (isset($take['header']) ? "the header {$take['header']}" : "the cookie {$take['cookie']}")));
        }

        return new AccessToken((string) $value, $now, isset($this->entry['lifetime']) ? $now + (int) $this->entry['lifetime'] : null);
    }

    public function sensitive(Secrets $secrets): array
    {
        return array_values(array_map(static fn (Value $value): string => $value->secret ? $value->reveal($secrets) : '', $this->fields()));
    }

    public function secretNames(): array
    {
        $names = [];
        foreach ($this->fields() as $value) {
            array_push($names, ...$value->secretNames());
        }

        return $names;
    }

    /**
     * @return array<string, Value>
     */
    private function fields(): array
    {
        return array_map(Value::of(...), $this->entry['request']['body']['of'] ?? []);
    }

    public function label(): string
    {
        return 'sign-in request';
    }

    public function header(): ?string
    {
        return match ($this->entry['send']['in']) {
            'header' => strtolower($this->entry['send']['name']),
            'cookie' => 'cookie',
            default => null,
        };
    }
}
