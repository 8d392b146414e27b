<?php

declare(strict_types=1);

namespace StandIns\Registrar;

use StandIns\Notebook;
use StandIns\Words;

/**
 * What the registrar holds, the same data for both versions: made from a seed, and what was changed
 * since in a file.
 */
final class Collection
{
    public const KEYS = ['Venues' => ['Slug'], 'Objects' => ['Number'], 'Exhibitions' => ['ID'], 'Couriers' => ['ID'], 'ConditionReports' => ['ObjectNumber', 'Line']];

    /**
     * set → navigation → the set it leads to, and whether to several
     *
     * @var array<string, array<string, array{string, bool}>>
     */
    public const WAYS = [
        'Venues' => ['Objects' => ['Objects', true], 'Exhibitions' => ['Exhibitions', true]],
        'Objects' => ['Venue' => ['Venues', false], 'Exhibitions' => ['Exhibitions', true], 'Reports' => ['ConditionReports', true]],
        'Exhibitions' => ['Venue' => ['Venues', false], 'Objects' => ['Objects', true]],
        'Couriers' => [],
        'ConditionReports' => ['Object' => ['Objects', false], 'Courier' => ['Couriers', false]],
    ];

    private const OBJECTS = 930;

    private const EXHIBITIONS = 60;

    /** The property that holds the key of what single navigation leads to. */
    public const HELD_IN = ['Venue' => 'VenueSlug', 'Object' => 'ObjectNumber', 'Courier' => 'CourierID'];

    /** @var array<string, array<string, array<string, mixed>>> set → key → record */
    private array $sets = [];

    public function __construct(private readonly Notebook $notes)
    {
    }

    /**
     * @return array<string, array<string, mixed>> by key
     */
    public function all(string $set): array
    {
        return $this->sets[$set] ??= $this->made($set);
    }

    /**
     * @param  array<string, mixed>  $record
     */
    public static function key(string $set, array $record): string
    {
        return implode("\x1f", array_map(static fn (string $name): string => (string) $record[$name], self::KEYS[$set]));
    }

    /**
     * @param  array<string, mixed>  $record
     * @return list<array<string, mixed>>
     */
    public function related(string $set, array $record, string $way): array
    {
        $target = self::WAYS[$set][$way][0] ?? '';
        $all = $this->all($target);

        return array_values(match ("$set/$way") {
            'Objects/Venue', 'Exhibitions/Venue' => array_filter([$all[$record['VenueSlug']] ?? null]),
            'Venues/Objects', 'Venues/Exhibitions' => array_filter($all, static fn (array $one): bool => $one['VenueSlug'] === $record['Slug']),
            'Objects/Exhibitions' => array_filter($all, static fn (array $one): bool => self::isShown($record['Number'], $one['ID'])),
            'Exhibitions/Objects' => array_filter($all, static fn (array $one): bool => self::isShown($one['Number'], $record['ID'])),
            'Objects/Reports' => array_filter(array_map(static fn (int $line): ?array => $all["{$record['Number']}\x1f$line"] ?? null, range(1, 40))),
            'ConditionReports/Object' => array_filter([$all[$record['ObjectNumber']] ?? null]),
            default => array_filter([$all[(string) $record['CourierID']] ?? null]),
        });
    }

    /**
     * Keeps a record as it is now, or as gone, and says which change of all it was.
     *
     * @param  array<string, mixed>|null  $record
     */
    public function keep(string $set, string $key, ?array $record): int
    {
        $number = (int) $this->notes->change(static function (array $state) use ($set, $key, $record): array {
            $state['number'] = ($state['number'] ?? 0) + 1;
            $state['sets'][$set][$key] = ['at' => $state['number'], 'record' => $record];

            return [$state, $state['number']];
        });
        unset($this->sets[$set]);

        return $number;
    }

    /**
     * What was changed after a number.
     *
     * @return array<string, array<string, mixed>|null> key → record, null for what is gone
     */
    public function since(string $set, int $number): array
    {
        $changed = array_filter($this->notes->read()['sets'][$set] ?? [], static fn (array $one): bool => $one['at'] > $number);

        return array_map(static fn (array $one): ?array => $one['record'], $changed);
    }

    /**
     * @return array<string, mixed>
     */
    public function state(): array
    {
        return $this->notes->read();
    }

    /**
     * @param  array<string, mixed>  $state
     */
    public function restore(array $state): void
    {
        $this->notes->change(static fn (array $now): array => [$state, null]);
        $this->sets = [];
    }

    public function number(): int
    {
        return $this->notes->read()['number'] ?? 0;
    }

    private static function isShown(string $object, int $exhibition): bool
    {
        return Words::number("shown$object", 1, self::EXHIBITIONS) === $exhibition || Words::number("again$object", 1, 2 * self::EXHIBITIONS) === $exhibition;
    }

    /**
     * @return array<string, array<string, mixed>>
     */
    private function made(string $set): array
    {
        $records = match ($set) {
            'Venues' => array_map($this->venue(...), array_keys(Words::HOUSES)),
            'Objects' => array_map($this->object(...), range(1, self::OBJECTS)),
            'Exhibitions' => array_map($this->exhibition(...), range(1, self::EXHIBITIONS)),
            'Couriers' => array_map(static fn (int $n): array => ['ID' => $n, 'Name' => Words::PEOPLE[$n - 1], 'Licence' => sprintf('%05d', Words::number("licence$n", 1, 99999)), 'Mileage' => $n === 3 ? 9007199254740993 : Words::number("mileage$n", 10_000, 90_000_000)], range(1, count(Words::PEOPLE))),
            default => array_merge(...array_map($this->reports(...), range(1, self::OBJECTS))),
        };
        $all = [];
        foreach ($records as $record) {
            $all[self::key($set, $record)] = $record;
        }
        foreach ($this->notes->read()['sets'][$set] ?? [] as $key => $change) {
            if ($change['record'] === null) {
                unset($all[$key]);
            } else {
                $all[$key] = $change['record'];
            }
        }

        return $all;
    }

    /**
     * @return array<string, mixed>
     */
    private function venue(string $slug): array
    {
        [$name, $town, $postCode] = Words::HOUSES[$slug];

        return ['Slug' => $slug, 'Name' => $name, 'Address' => ['Street' => Words::number("door$slug", 1, 90).' '.Words::pick("street$slug", ['Quay Street', 'Salters Row', 'Mill Lane', 'The Strand']), 'Town' => $town, 'PostCode' => $postCode], 'Rooms' => Words::number("rooms$slug", 2, 30), 'Climate' => Words::pick("climate$slug", ['Open', 'Steady', 'Sealed'])];
    }

    private static function objectNumber(int $n): string
    {
        return sprintf('%04d.%02d', $n, 1 + $n % 3);
    }

    /**
     * @return array<string, mixed>
     */
    private function object(int $n): array
    {
        return [
            'Number' => self::objectNumber($n),
            'Title' => Words::pick("title$n", Words::THINGS),
            'MadeOf' => array_values(array_unique([Words::pick("a$n", Words::MATERIALS), Words::pick("b$n", Words::MATERIALS)])),
            'Value' => number_format(Words::number("value$n", 1000, 9_000_000) / 100, 2, '.', ''),
            'Weight' => $n % 17 === 0 ? null : Words::number("weight$n", 1, 4000) / 8,
            'Acquired' => $n % 11 === 0 ? null : gmdate('Y-m-d', gmmktime(0, 0, 0, 1, 1, 1950) + 86400 * Words::number("acquired$n", 0, 28_000)),
            'Changed' => gmdate('Y-m-d\TH:i:s\Z', gmmktime(0, 0, 0, 1, 1, 2030) + 977 * $n),
            'OnLoan' => $n % 7 === 0,
            'Mark' => substr_replace(substr_replace(substr_replace(substr_replace(hash('xxh128', "mark$n"), '-', 20, 0), '-', 16, 0), '-', 12, 0), '-', 8, 0),
            'VenueSlug' => array_keys(Words::HOUSES)[$n % count(Words::HOUSES)],
            'Remarks' => $n % 5 === 0 ? "Kept by {$this->person($n)}'s desk" : null,
        ];
    }

    private function person(int $n): string
    {
        return Words::PEOPLE[$n % count(Words::PEOPLE)];
    }

    /**
     * @return array<string, mixed>
     */
    private function exhibition(int $n): array
    {
        $opens = gmmktime(0, 0, 0, 1, 1, 2030) + 86400 * Words::number("opens$n", 0, 500);

        return ['ID' => $n, 'Title' => Words::pick("subject$n", ['Salt', 'Tide', 'Lamps', 'Nets', 'Charts', 'Amber']).' and '.Words::pick("other$n", ['trade', 'weather', 'song', 'silence', 'work']), 'Opens' => gmdate('Y-m-d', $opens), 'Closes' => gmdate('Y-m-d', $opens + 86400 * Words::number("runs$n", 20, 120)), 'Doors' => $n % 9 === 0 ? null : sprintf('%02d:30:00', Words::number("doors$n", 8, 11)), 'VenueSlug' => array_keys(Words::HOUSES)[$n * 5 % count(Words::HOUSES)]];
    }

    /**
     * @return list<array<string, mixed>>
     */
    private function reports(int $n): array
    {
        return array_map(static fn (int $line): array => [
            'ObjectNumber' => self::objectNumber($n),
            'Line' => $line,
            'Seen' => gmdate('Y-m-d\TH:i:s', gmmktime(9, 0, 0, 1, 1, 2030) + 86400 * Words::number("seen$n.$line", 0, 400)).sprintf('.%03dZ', Words::number("ms$n.$line", 0, 999)),
            'Grade' => Words::pick("grade$n.$line", ['Sound', 'Worn', 'Fragile']),
            'Note' => Words::number("note$n.$line", 0, 2) === 0 ? null : Words::pick("text$n.$line", ['Crack at the rim', "Label reads 'Perpetua'", 'Rust, stable', 'Joint loose; keep flat']),
            'CourierID' => Words::number("courier$n.$line", 0, count(Words::PEOPLE)) ?: null,
        ], range(1, Words::number("lines$n", 1, 5)));
    }
}
