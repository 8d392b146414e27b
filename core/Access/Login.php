<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use DeepSpring\Answer\JsonPath\JsonPath;
use GuzzleHttp\Psr7\Request;
use GuzzleHttp\Psr7\Uri;
use Psr\Http\Message\RequestInterface;

/**
 * A request that signs in, and something it hands back that every other request carries.
 */
final readonly class Login implements TokenScheme
{
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
            'cookie' => Cookies::add($request, [$send['name'] => $value]),
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
