<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * How several values of one input go into a request.
 */
enum Many: string
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
