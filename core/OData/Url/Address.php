<?php

declare(strict_types=1);

namespace DeepSpring\OData\Url;

/**
 * An address as it is sent, and as a person reads it.
 */
final readonly class Address
{
    /**
     * @param  array<string, string>  $options
     */
    public function __construct(public string $path, public array $options)
    {
    }

    public function readable(): string
    {
        return $this->path.($this->options === [] ? '' : '?'.implode('&', array_map(static fn (string $name, string $value): string => "$name=$value", array_keys($this->options), $this->options)));
    }

    /**
     * Percent-encoded (RFC 3986 §2.1).
     */
    public function encoded(): string
    {
        return $this->path.($this->options === [] ? '' : '?'.implode('&', array_map(static fn (string $name, string $value): string => rawurlencode($name).'='.rawurlencode($value), array_keys($this->options), $this->options)));
    }
}
