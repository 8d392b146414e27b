<?php

declare(strict_types=1);

namespace DeepSpring\Increment;

use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\TablePlan;

/**
 * `keep.refresh` of a source file → the way in which only changes are read.
 */
final class Increments
{
    /** Ways as a source file names them → in words. */
    public const WAYS = ['changed' => 'a changed-since value', 'key' => 'a key that grows', 'window' => 'a window of time', 'marker' => 'a marker from the last answer'];

    /** Types by whose values the newest change is known. */
    private const MOMENTS = ['datetime', 'date'];

    /**
     * @param  array<string, mixed>  $refresh  valid by the schema
     * @param  TablePlan  $table  the main one
     * @return Increment|null null where everything is read
     *
     * @throws InvalidIncrement
     */
    public static function of(array $refresh, TablePlan $table): ?Increment
    {
        if (($refresh['mode'] ?? 'whole') !== 'incremental') {
            return null;
        }
        $since = $refresh['since'] ?? throw InvalidIncrement::because('since', 'Say by what changes are asked for: since: {column: changed, send_as: changed_since}.');
        if ($table->key === []) {
            throw InvalidIncrement::because('since', "The table {$table->name} has no key, so a record that changed would become a second row. Choose its key under Flatten.");
        }
        if ($table->where !== null) {
            throw InvalidIncrement::because('mode', "The table {$table->name} leaves out records by a condition. One that comes to be left out when it changes would stay with its old state, so all of it has to be read.");
        }
        RecordKey::of($table);
        self::deleted($refresh, $table);

        return self::way($since, $table);
    }

    /**
     * Which of the ways it is.
     *
     * @param  array<string, mixed>  $since
     */
    public static function kind(array $since, ?TablePlan $table): string
    {
        return $since['by'] ?? match (true) {
            isset($since['marker']) => 'marker',
            isset($since['window']) => 'window',
            default => $table !== null && in_array(self::column($since, $table)?->type->name(), self::MOMENTS, true) ? 'changed' : 'key',
        };
    }

    /**
     * @param  array<string, mixed>  $since
     *
     * @throws InvalidIncrement
     */
    private static function way(array $since, TablePlan $table): Increment
    {
        $kind = self::kind($since, $table);
        $column = self::column($since, $table);
        if (in_array($kind, ['changed', 'key'], true) && $column === null) {
            throw InvalidIncrement::because('since.column', isset($since['column']) ? "The table {$table->name} has no column \"{$since['column']}\"." : 'Say which column tells what changed.');
        }
        if ($column !== null && $column->mask->value !== 'none') {
            throw InvalidIncrement::because('since.column', "\"{$column->name}\" is masked, so nothing can be asked for by its values.");
        }
        $sendAs = $since['send_as'] ?? throw InvalidIncrement::because('since.send_as', 'Say as which parameter it is sent.');
        $format = new SentMoment($since['format'] ?? 'iso', self::zone($since));

        return match ($kind) {
            'changed' => self::byChange($since, $column, $sendAs, $format),
            'key' => self::byKey($since, $column, $sendAs),
            'window' => new ByWindow($sendAs, $since['until_as'] ?? null, $format, new \DateInterval($since['window'] ?? throw InvalidIncrement::because('since.window', 'Say how long the window is, as P7D for seven days.')), self::words($since['window'])),
            default => new ByMarker($since['marker'] ?? throw InvalidIncrement::because('since.marker', 'Say where the answer hands out the marker, as a JSONPath in the whole answer.'), $sendAs),
        };
    }

    /**
     * @param  array<string, mixed>  $since
     *
     * @throws InvalidIncrement
     */
    private static function byChange(array $since, ?Column $column, string $sendAs, SentMoment $format): ByChange
    {
        if ($column === null || ! in_array($column->type->name(), self::MOMENTS, true)) {
            throw InvalidIncrement::because('since.column', "\"{$since['column']}\" holds no moments. Make it a datetime under Flatten, or ask by a key that grows.");
        }
        $overlap = $since['overlap'] ?? 'PT0S';
        if (is_int($overlap)) {
            throw InvalidIncrement::because('since.overlap', 'Of moments it is a duration: PT5M is five minutes.');
        }

        return new ByChange($column->name, $sendAs, $format, new \DateInterval($overlap), $overlap === 'PT0S' ? '' : self::words($overlap));
    }

    /**
     * @param  array<string, mixed>  $since
     *
     * @throws InvalidIncrement
     */
    private static function byKey(array $since, ?Column $column, string $sendAs): ByKey
    {
        $isNumber = $column?->type->name() === 'integer';
        if ($column === null || ! $isNumber && $column->type->name() !== 'text') {
            throw InvalidIncrement::because('since.column', 'A key that grows is a whole number or a text.');
        }
        $overlap = $since['overlap'] ?? 0;
        if (! is_int($overlap) || $overlap > 0 && ! $isNumber) {
            throw InvalidIncrement::because('since.overlap', $isNumber ? 'Of a key that grows it is a number: how many before the last one are read again.' : 'A text has no overlap.');
        }

        return new ByKey($column->name, $sendAs, $isNumber, $overlap);
    }

    /**
     * @param  array<string, mixed>  $since
     *
     * @throws InvalidIncrement
     */
    private static function zone(array $since): string
    {
        $zone = $since['zone'] ?? 'UTC';

        return in_array($zone, \DateTimeZone::listIdentifiers(\DateTimeZone::ALL_WITH_BC), true) ? $zone : throw InvalidIncrement::because('since.zone', "\"$zone\" is no time zone. Give a name such as Europe/Oslo or UTC.");
    }

    /**
     * @param  array<string, mixed>  $since
     */
    private static function column(array $since, TablePlan $table): ?Column
    {
        return array_column($table->columns, null, 'name')[$since['column'] ?? ''] ?? null;
    }

    /**
     * The column and the value by which a record says that it was deleted; null where none does.
     *
     * @param  array<string, mixed>  $refresh
     * @return array{string, string}|null the value as the database keeps it
     *
     * @throws InvalidIncrement
     */
    public static function deleted(array $refresh, TablePlan $table): ?array
    {
        $deleted = $refresh['deleted'] ?? null;
        if ($deleted === null) {
            return null;
        }
        $column = array_column($table->columns, null, 'name')[$deleted['column']] ?? throw InvalidIncrement::because('deleted.column', "The table {$table->name} has no column \"{$deleted['column']}\".");
        $is = $deleted['is'] ?? true;
        if (is_bool($is) && $column->type->name() !== 'boolean') {
            throw InvalidIncrement::because('deleted.is', "Say which value of \"{$column->name}\" means that a record was deleted.");
        }

        return [$column->name, is_bool($is) ? (string) (int) $is : (string) $is];
    }

    /**
     * "5 min", "7 days", "1 day 12 h"
     */
    public static function words(string $duration): string
    {
        $interval = new \DateInterval($duration);
        $words = [];
        foreach (['y' => 'year', 'm' => 'month', 'd' => 'day', 'h' => 'h', 'i' => 'min', 's' => 's'] as $part => $unit) {
            $count = $interval->$part;
            if ($count > 0) {
                $words[] = strlen($unit) > 3 || $unit === 'day' ? \DeepSpring\Value\Phrase::count($count, $unit) : "$count $unit";
            }
        }

        return implode(' ', $words);
    }
}
