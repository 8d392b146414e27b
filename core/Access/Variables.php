<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * Puts the variables of an environment in the place of `{variable: name}`.
 */
final readonly class Variables
{
    /**
     * @param  array<string, string>  $values
     */
    public function __construct(private array $values, private string $environment)
    {
    }

    /**
     * @throws MissingVariable
     */
    public function fill(mixed $value): mixed
    {
        if (! is_array($value)) {
            return $value;
        }
        if (count($value) === 1 && is_string($value['variable'] ?? null)) {
            return $this->values[$value['variable']] ?? throw MissingVariable::named($value['variable'], $this->environment);
        }

        return array_map($this->fill(...), $value);
    }

    /**
     * Names that a part of a document asks for.
     *
     * @return list<string>
     */
    public static function names(mixed $value): array
    {
        if (! is_array($value)) {
            return [];
        }
        if (count($value) === 1 && is_string($value['variable'] ?? null)) {
            return [$value['variable']];
        }

        return array_values(array_unique(array_merge(...array_map(self::names(...), array_values($value)), ...[[]])));
    }
}
