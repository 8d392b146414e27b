<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use GuzzleHttp\Psr7\Request;
use Psr\Http\Message\RequestInterface;

/**
 * A token against forged requests, fetched by a reading request and carried by writing ones,
 * together with the cookies that came with it.
 */
final readonly class CsrfToken implements AccessScheme, TokenScheme
{
    public static function kind(): Kind
    {
        return new Kind('csrf-token', 'CSRF token for writes', 'A token that is fetched before a write, as OData services ask for it.', [
            new Field('fetch', FieldType::Group, 'fetch', 'What fetches it: method, path, value of the header.', shape: ['type' => 'object', 'additionalProperties' => false, 'properties' => ['method' => ['enum' => ['GET', 'HEAD']], 'path' => ['type' => 'string', 'pattern' => '^[^?#\\s]*$'], 'value' => ['type' => 'string']]], parts: [
                new Field('path', FieldType::RequestPath, 'fetch path', '', at: ['fetch', 'path']),
            ], start: ['path' => '/']),
            new Field('header', FieldType::Token, 'header', 'The header that carries it.', start: 'X-CSRF-Token', example: 'X-CSRF-Token'),
        ]);
    }

    public static function of(array $entry, string $base, array $before): self
    {
        return new self($entry, $base, $before);
    }

    /**
     * @param  array<string, mixed>  $entry  of a source file
     * @param  list<Scheme>  $before  schemes that the fetching request needs
     */
    public function __construct(private array $entry, private string $base, private array $before)
    {
    }

    public function apply(RequestInterface $request, Secrets $secrets): RequestInterface
    {
        if (! $this->isFor($request->getMethod())) {
            return $request;
        }
        $token = $secrets->token($this);

        $cookies = [];
        foreach ($token->cookies as $name => $value) {
            $cookies[] = [(string) $name, $value];
        }

        return Cookies::add($request, $cookies)->withHeader($this->name(), HeaderValue::checked($token->value, 'token'));
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
        return ! in_array($method, ['GET', 'HEAD', 'OPTIONS'], true);
    }

    public function tokenRequest(Secrets $secrets, ?AccessToken $old, int $now): RequestInterface
    {
        $fetch = $this->entry['fetch'] ?? [];
        $path = $fetch['path'] ?? '';
        $request = new Request($fetch['method'] ?? 'GET', rtrim($this->base, '/').($path === '' ? '' : '/'.ltrim($path, '/')), [$this->name() => $fetch['value'] ?? 'Fetch', 'accept' => 'application/json']);
        foreach ($this->before as $scheme) {
            $request = $scheme->apply($request, $secrets);
        }

        return $request;
    }

    public function read(TokenAnswer $answer, ?AccessToken $old, int $now): AccessToken
    {
        $value = $answer->headers[strtolower($this->name())] ?? '';
        if ($value === '' || strcasecmp($value, 'required') === 0) {
            throw $answer->status >= 400 ? TokenRefused::by($answer) : TokenRefused::withoutToken($answer, "the header {$this->name()}");
        }

        return new AccessToken($value, $now, null, cookies: $answer->cookies());
    }

    public function sensitive(Secrets $secrets): array
    {
        return [];
    }

    public function secretNames(): array
    {
        return [];
    }

    public function label(): string
    {
        return 'CSRF token for writes';
    }

    public function header(): string
    {
        return strtolower($this->name());
    }

    private function name(): string
    {
        return $this->entry['header'] ?? 'X-CSRF-Token';
    }
}
