<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * How several values of one input go into a request.
 */
enum ListStyle: string
{
    case Comma = 'comma';
    case Repeat = 'repeat';
    case Brackets = 'brackets';
    case Pipe = 'pipe';
    case Space = 'space';

    /**
     * @param  list<string>  $values
     * @return list<array{string, string}> name and value, not yet encoded
     */
    public function pairs(string $name, array $values): array
    {
        return match ($this) {
            self::Repeat => array_map(static fn (string $value): array => [$name, $value], $values),
            self::Brackets => array_map(static fn (string $value): array => [$name.'[]', $value], $values),
            default => [[$name, $this->joined($values)]],
        };
    }

    /**
     * As a part of a query, percent-encoded (RFC 3986 §3.4). A comma between values stays as it is, one
     * inside a value does not, so that they can be told apart.
     *
     * @param  list<string>  $values
     * @param  bool  $isBare  whether an empty value is left out together with its "="
     * @return list<string>
     */
    public function query(string $name, array $values, bool $isBare = false): array
    {
        if ($isBare && implode('', $values) === '') {
            return array_fill(0, count($this->pairs($name, $values)), rawurlencode($this->pairs($name, $values)[0][0] ?? $name));
        }

        return $this === self::Comma ? [rawurlencode($name).'='.$this->path($values)] : array_map(static fn (array $pair): string => rawurlencode($pair[0]).'='.rawurlencode($pair[1]), $this->pairs($name, $values));
    }

    /**
     * As a segment of a path, percent-encoded.
     *
     * @param  list<string>  $values
     * @param  string|null  $with  what parts them instead of a comma
     */
    public function path(array $values, ?string $with = null): string
    {
        return $this === self::Comma ? implode($with ?? ',', array_map(rawurlencode(...), $values)) : rawurlencode($this->joined($values));
    }

    /**
     * @param  list<string>  $values
     */
    public function joined(array $values): string
    {
        return implode(match ($this) {
            self::Pipe => '|',
            self::Space => ' ',
            default => ',',
        }, $values);
    }
}
