<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\Increment\InvalidIncrement;
use DeepSpring\Increment\RecordKey;
use DeepSpring\Value\Kind\Family;

/**
 * The checks there are. A new one is a class that implements `CheckRule`, a line here, and how its rows are counted in
 * the database.
 */
final class Checks
{
    private const ALL = [Unique::class, NeverEmpty::class, OneOf::class, Range::class, Matches::class, Every::class, Refers::class, Newest::class, RowCount::class];

    /** @var Family<CheckRule>|null */
    private static ?Family $family = null;

    /**
     * @return Family<CheckRule>
     */
    public static function family(): Family
    {
        return self::$family ??= new Family(CheckRule::class, self::ALL);
    }

    /**
     * JSON Schema of one. Which settings go together is said by `all()`, in sentences.
     *
     * @return array<string, mixed>
     */
    public static function schema(): array
    {
        $properties = [];
        foreach (self::family()->kinds() as $kind) {
            foreach ($kind->fields as $field) {
                $properties[$field->name] ??= $field->schema();
            }
        }

        return ['type' => 'object', 'additionalProperties' => false, 'properties' => $properties + [
            'table' => ['type' => 'string', 'maxLength' => 200, 'description' => 'The main table of the endpoint where none is said.'],
            'on' => ['enum' => array_keys(TableCheck::WORDS)],
        ]];
    }

    /**
     * @param  list<array<string, mixed>>  $checks  of `keep` of a source file, valid by the schema
     * @param  \DateTimeImmutable|null  $now  what today() and now() say in conditions
     * @return list<TableCheck> with what holds without being written
     *
     * @throws InvalidCheck
     */
    public static function all(array $checks, Plan $plan, ?\DateTimeImmutable $now = null): array
    {
        $all = [];
        $tables = array_column($plan->tables(), null, 'name');
        foreach ($checks as $number => $settings) {
            try {
                $all[] = self::one($settings, $plan->table, $tables, $number, $now);
            } catch (InvalidCheck $invalid) {
                throw $invalid->at($number);
            }
        }
        $limitsChange = array_filter($all, static fn (TableCheck $one): bool => $one->check instanceof RowCount && $one->check->limitsChange() && $one->table === $plan->table->name);

        return $limitsChange === [] ? [...$all, new TableCheck(RowCount::fall(), $plan->table->name, TableCheck::STOP, self::mark(['rows' => 'fall'], $plan->table->name))] : $all;
    }

    /**
     * Which kind it is, by the setting that bears its name.
     *
     * @param  array<string, mixed>  $settings
     *
     * @throws InvalidCheck
     */
    public static function kindOf(array $settings): string
    {
        $named = array_values(array_intersect(self::family()->names(), array_map(strval(...), array_keys($settings))));

        return match (count($named)) {
            0 => throw InvalidCheck::because(array_key_first($settings) ?? 'unique', 'Say what is checked: '.implode(', ', self::family()->names()).'.'),
            1 => $named[0],
            default => throw InvalidCheck::because($named[1], "Two checks in one, {$named[0]} and {$named[1]}: write each of them alone."),
        };
    }

    /**
     * @param  array<string, mixed>  $settings
     * @param  array<string, TablePlan>  $tables
     *
     * @throws InvalidCheck
     */
    private static function one(array $settings, TablePlan $main, array $tables, int $number, ?\DateTimeImmutable $now): TableCheck
    {
        $name = self::kindOf($settings);
        $class = self::family()->class($name) ?? NeverEmpty::class;
        $known = array_map(static fn (object $field): string => $field->name, $class::kind()->fields);
        foreach (array_diff(array_keys($settings), $known, ['table', 'on']) as $foreign) {
            throw InvalidCheck::because((string) $foreign, "\"$foreign\" is no setting of $name".($known === [$name] ? '.' : ', which has '.implode(', ', $known).'.'));
        }
        $table = $tables[$settings['table'] ?? $main->name] ?? throw InvalidCheck::because('table', "This endpoint fills no table \"{$settings['table']}\", but ".implode(', ', array_keys($tables)).'.');
        $check = $class::of($settings, new CheckedTable($table, $now));
        $on = $settings['on'] ?? TableCheck::STOP;
        if ($on === TableCheck::DROP) {
            self::refuseDrop($check, $table, $main);
        }

        return new TableCheck($check, $table->name, $on, self::mark(array_diff_key($settings, ['on' => 1, 'table' => 1]), $table->name), $number);
    }

    /**
     * @throws InvalidCheck
     */
    private static function refuseDrop(CheckRule $check, TablePlan $table, TablePlan $main): void
    {
        if (! $check->isOfRows()) {
            throw InvalidCheck::because('on', 'No single row breaks this, so none can be left out. It can stop the refresh, or be noted.');
        }
        if ($table->name !== $main->name || $main->branches === []) {
            return;
        }
        try {
            $main->key === [] ? throw InvalidCheck::because('on', "The table $main->name has no key, so the rows of its branch tables cannot be left out with it.") : RecordKey::of($main);
        } catch (InvalidIncrement) {
            throw InvalidCheck::because('on', "Some branch table does not carry the key of $main->name, so its rows cannot be left out with their record. Give it a column with parent, or let the check stop the refresh.");
        }
    }

    /**
     * @param  array<string, mixed>  $settings
     */
    private static function mark(array $settings, string $table): string
    {
        ksort($settings);

        return hash('xxh3', json_encode([$table, $settings], JSON_THROW_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION));
    }
}
