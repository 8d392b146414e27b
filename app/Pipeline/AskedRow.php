<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Evidence\KnownAnswer;

/**
 * A row for which an endpoint is asked.
 */
final class AskedRow
{
    /** @var array<int, KnownAnswer> by page */
    public array $known = [];

    /** Number of its first request; null where none is needed. */
    public ?int $request = null;

    /**
     * @param  int  $number  among all rows, from 1
     * @param  array<string, string|null>  $carried  columns of it
     * @param  list<string>  $key  of it
     * @param  array<string, list<string>>|null  $inputs  values it is asked for with; null where it has none
     * @param  string  $mark  of what is asked, the same where that is the same
     */
    public function __construct(public readonly int $number, public readonly array $carried, public readonly array $key, public readonly ?array $inputs, public readonly string $mark)
    {
    }

    /**
     * "number = SC-00731"
     */
    public function words(): string
    {
        return implode(', ', array_map(static fn (string $name, array $values): string => "$name = ".implode(' and ', $values), array_keys($this->inputs ?? []), $this->inputs ?? []));
    }
}
