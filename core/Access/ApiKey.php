<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use GuzzleHttp\Psr7\Uri;
use Psr\Http\Message\RequestInterface;

/**
 * A key under a name that the API chose, in a header, the query or a cookie.
 */
final readonly class ApiKey implements AccessScheme
{
    public static function kind(): Kind
    {
        return new Kind('api-key', 'API key', 'A key under a name that the API chose.', [
            new Field('in', FieldType::Choice, 'in', 'Where the key goes.', true, choices: ['header' => 'header', 'query' => 'query', 'cookie' => 'cookie'], start: 'header'),
            new Field('name', FieldType::Token, 'name', 'Its name there.', true, start: 'X-Api-Key'),
            new Field('prefix', FieldType::Text, 'prefix', 'What stands before the key.'),
            SchemeSettings::secret('value', 'key', 'The key.', 'key'),
        ]);
    }

    public static function of(array $entry, string $base, array $before): self
    {
        return new self($entry['in'], $entry['name'], Value::of($entry['value']), $entry['prefix'] ?? '');
    }

    public function __construct(private string $in, private string $name, private Value $value, private string $prefix = '')
    {
    }

    public function apply(RequestInterface $request, Secrets $secrets): RequestInterface
    {
        $value = $this->prefix.$this->value->reveal($secrets);
        if ($this->in === 'query') {
            return $request->withUri(Uri::withQueryValue($request->getUri(), rawurlencode($this->name), rawurlencode($value)));
        }
        $value = HeaderValue::checked($value, 'key');
        if ($this->in === 'cookie') {
            return Cookies::add($request, [[$this->name, $value]]);
        }

        return $request->withHeader($this->name, $value);
    }

    public function sensitive(Secrets $secrets): array
    {
        return [$this->value->reveal($secrets)];
    }

    public function secretNames(): array
    {
        return $this->value->secretNames();
    }

    public function label(): string
    {
        return $this->in === 'query' ? 'key in the query' : "key in a {$this->in}";
    }

    public function header(): ?string
    {
        return match ($this->in) {
            'header' => strtolower($this->name),
            'cookie' => 'cookie',
            default => null,
        };
    }
}
