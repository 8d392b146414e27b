<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Type\Storage;

/**
 * The checks of a main table that one row alone can break, asked before the row is there. Those that are only noted are
 * none of them.
 */
final readonly class RowChecks
{
    /**
     * @param  list<CheckRule>  $rules
     * @param  array<string, Column>  $columns  by name
     */
    private function __construct(private array $rules, private array $columns)
    {
    }

    /**
     * @param  list<array<string, mixed>>  $checks  of `keep` of a source file
     */
    public static function of(array $checks, Plan $plan): self
    {
        try {
            $all = $checks === [] ? [] : Checks::all($checks, $plan);
        } catch (InvalidCheck) {
            $all = [];
        }
        $own = array_filter($all, static fn (TableCheck $one): bool => $one->table === $plan->table->name && $one->on !== TableCheck::NOTE && $one->check->isOfRows());

        return new self(array_values(array_map(static fn (TableCheck $one): CheckRule => $one->check, $own)), array_column($plan->table->columns, null, 'name'));
    }

    /**
     * What a row would break by what changes in it.
     *
     * @param  array<string, string|null>  $row  by name, as the database writes values
     * @param  list<string>  $changed  columns
     * @return array<string, string> column → sentence
     */
    public function broken(array $row, array $changed): array
    {
        $broken = [];
        foreach ($this->rules as $rule) {
            foreach (array_intersect($rule instanceof Every ? $rule->named() : $rule->columns(), $changed) as $name) {
                $says = $this->says($rule, $row, (string) $name);
                if ($says !== null) {
                    $broken[$name] ??= $says;
                    break;
                }
            }
        }

        return $broken;
    }

    /**
     * @param  array<string, string|null>  $row
     */
    private function says(CheckRule $rule, array $row, string $name): ?string
    {
        $value = $row[$name] ?? null;
        if ($rule instanceof NeverEmpty) {
            return $value === null || $value === '' ? 'A check of the table says that it is never empty.' : null;
        }
        if ($rule instanceof Every) {
            foreach ($rule->named() as $one) {
                // Of a new record not all is known, and of a mask nothing is.
                if (! array_key_exists($one, $row) || ! $this->columns[$one]->isPlain()) {
                    return null;
                }
            }

            return $rule->isBrokenBy(array_map(static fn (string $one): ?string => $row[$one] ?? null, array_keys($this->columns))) ? "A check of the table does not hold then: {$rule->words()}." : null;
        }
        $holds = $value === null || match (true) {
            $rule instanceof OneOf => array_filter($rule->values, fn (string $one): bool => self::compared($value, $one, $this->columns[$name]) === 0) !== [],
            $rule instanceof Range => $this->isWithin($rule, $value, $this->columns[$name]),
            $rule instanceof Matches => $rule->holds($value),
            default => true,
        };

        return $holds ? null : "A check of the table says that {$rule->words()}.";
    }

    private function isWithin(Range $rule, string $value, Column $column): bool
    {
        return ($rule->atLeast === null || self::compared($value, $rule->atLeast, $column) >= 0) && ($rule->atMost === null || self::compared($value, $rule->atMost, $column) <= 0);
    }

    private static function compared(string $one, string $other, Column $column): int
    {
        $moment = static fn (string $text): string => str_contains($text, '.') ? rtrim(rtrim($text, '0'), '.') : $text;

        return match ($column->kept->storage()) {
            Storage::Float => (float) $one <=> (float) $other,
            // What is no number says so as a value of its type.
            Storage::Integer, Storage::Decimal => is_numeric($one) && is_numeric($other) ? bccomp($one, $other, 40) : 0,
            Storage::DateTime, Storage::Time => strcmp($moment($one), $moment($other)),
            default => strcmp($one, $other),
        };
    }
}
