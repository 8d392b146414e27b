<?php

declare(strict_types=1);

namespace DeepSpring\Suggest;

use DeepSpring\Ask\Input;
use DeepSpring\Ask\InputType;

/**
 * Which column of a table an input probably takes its values from: by name, by type, and by whether the values look
 * like the one it is tried with.
 */
final readonly class RowBinding
{
    /** Points without which nothing is proposed. */
    private const LEAST = 50;

    /**
     * @param  string  $why  in words
     */
    private function __construct(public string $column, public int $points, public string $why)
    {
    }

    /**
     * @param  array<string, array{type: string, values: list<string>}>  $columns  by name, with some of their values as they would be sent
     */
    public static function of(Input $input, array $columns, string $table): ?self
    {
        $best = null;
        foreach ($columns as $name => ['type' => $type, 'values' => $values]) {
            [$points, $why] = self::judge($input, (string) $name, $type, $values, $table);
            if ($points >= self::LEAST && ($best === null || $points > $best->points)) {
                $best = new self((string) $name, $points, implode(', ', $why));
            }
        }

        return $best;
    }

    /**
     * @param  list<string>  $values
     * @return array{int, list<string>}
     */
    private static function judge(Input $input, string $column, string $type, array $values, string $table): array
    {
        $points = self::likeness(self::bare($input->name), self::bare($column), self::bare($table));
        $why = $points >= 40 ? ['the names are alike'] : [];
        $tried = $input->try[0] ?? null;
        $points += $points > 0 && $input->type->value === $type ? 5 : 0;
        if ($input->type === InputType::Integer && $type !== 'integer' && array_filter($values, static fn (string $one): bool => ! ctype_digit($one)) !== []) {
            return [0, []];
        }
        if ($tried !== null && $values !== []) {
            if (in_array($tried, $values, true)) {
                $points += 50;
                $why[] = 'the test value is one of its values';
            } elseif (self::form($tried) !== '' && array_filter($values, static fn (string $one): bool => self::form($one) !== self::form($tried)) === []) {
                $points += strlen($tried) > 3 ? self::LEAST : 35;
                $points += $input->type->value === $type ? 10 : 0;
                $why[] = 'its values look like the test value';
            }
        }

        return [$points, $why];
    }

    private static function likeness(string $input, string $column, string $table): int
    {
        $singular = rtrim($table, 's');

        return match (true) {
            $input === $column => 70,
            $input === $singular.$column, $singular.$input === $column => 65,
            strlen($input) > 2 && str_ends_with($column, $input), strlen($column) > 2 && str_ends_with($input, $column) => 50,
            strlen($input) > 3 && levenshtein($input, $column) <= 2 => 45,
            strlen($input) > 3 && str_contains($column, $input), strlen($column) > 3 && str_contains($input, $column) => 40,
            default => 0,
        };
    }

    private static function bare(string $name): string
    {
        return strtolower((string) preg_replace('/[^A-Za-z0-9]/', '', $name));
    }

    /**
     * "70412" and "70001" have one form, "SC-1" and "SC-2" another.
     */
    private static function form(string $text): string
    {
        $form = (string) preg_replace(['/\d/', '/[A-Z]/', '/[a-z]/'], ['0', 'A', 'a'], $text);

        // Words have no form that says much.
        return preg_match('/\d/', $text) === 1 ? $form : '';
    }
}
