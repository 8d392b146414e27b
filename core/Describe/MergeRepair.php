<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\Members;
use DeepSpring\SourceFile\SourceFile;

/**
 * Two changes that are each right can be wrong together: a scale that somebody edited, of a column that the
 * API turned into text. There the side of the person is put back, in as small a part as makes it right.
 */
final readonly class MergeRepair
{
    private const ROUNDS = 40;

    /** The place of a conflict about all of an endpoint. */
    public const WHOLE = 'the whole endpoint';

    /**
     * @param  array<string, mixed>  $endpoint  that can be kept
     * @param  list<array{place: string, kept: mixed, offered: mixed, isTaken: bool}>  $conflicts  where one side was put back
     */
    private function __construct(public array $endpoint, public array $conflicts)
    {
    }

    /**
     * @param  array<string, mixed>  $merged
     * @param  array<string, mixed>  $mine
     * @param  array<string, mixed>  $theirs
     * @param  \Closure(string): bool  $takes  whether a place goes to the API
     */
    public static function of(array $merged, array $mine, array $theirs, \Closure $takes): self
    {
        $conflicts = [];
        for ($round = 0; $round < self::ROUNDS; $round++) {
            $fault = self::fault($merged);
            if ($fault === null) {
                return new self($merged, $conflicts);
            }
            $place = self::place($fault, $merged);
            $name = implode(' › ', $place);
            $isTaken = $takes($name);
            [$kept, $offered] = [self::read($mine, $place), self::read($theirs, $place)];
            $put = self::put($merged, $place, $isTaken ? $offered : $kept);
            if ($place === [] || ! is_array($put) || json_encode($put) === json_encode($merged)) {
                break;
            }
            $merged = $put;
            $conflicts[] = ['place' => $name, 'kept' => $kept, 'offered' => $offered, 'isTaken' => $isTaken];
        }
        $isTaken = $takes(self::WHOLE) && self::fault($theirs) === null;

        return new self($isTaken ? $theirs : $mine, [['place' => self::WHOLE, 'kept' => $mine, 'offered' => $theirs, 'isTaken' => $isTaken]]);
    }

    /**
     * What keeps an endpoint from being stored.
     *
     * @param  array<string, mixed>  $endpoint
     */
    private static function fault(array $endpoint): ?Fault
    {
        $environments = array_fill_keys(['x', ...array_map(strval(...), array_keys((array) ($endpoint['ask']['base'] ?? [])))], ['base' => 'http://x.example']);
        try {
            SourceFile::of(['deepspring' => 1, 'source' => ['slug' => 'x', 'name' => 'x', 'kind' => isset($endpoint['entity_set']) ? 'odata' : 'rest', 'environments' => $environments], 'endpoints' => [$endpoint]]);

            return null;
        } catch (InvalidSourceFile $invalid) {
            return $invalid->faults[0];
        }
    }

    /**
     * The smallest part with a name of its own in which the fault is: a column, an input, a branch, or else
     * a stratum.
     *
     * @param  array<string, mixed>  $endpoint
     * @return list<string>
     */
    private static function place(Fault $fault, array $endpoint): array
    {
        preg_match_all('/[^.\[\]]+/', (string) preg_replace('/^endpoints\[0\]\.?/', '', $fault->path), $found);
        $place = [];
        $deepest = array_slice($found[0], 0, 1);
        $value = $endpoint;
        foreach ($found[0] as $number => $step) {
            $list = $number === 0 ? '' : $found[0][$number - 1];
            $isNamed = ctype_digit($step) && Members::isNamed($list);
            $names = array_map(strval(...), array_keys(Members::of($value, $list) ?? []));
            $step = $isNamed ? $names[(int) $step] ?? $step : $step;
            $place[] = $step;
            if ($isNamed) {
                $deepest = $place;
            }
            $value = (Members::of($value, $list) ?? [])[$step] ?? null;
        }

        return $deepest;
    }

    /**
     * @param  list<string>  $place
     */
    private static function read(mixed $value, array $place): mixed
    {
        $list = '';
        foreach ($place as $step) {
            $value = (Members::of($value, $list) ?? [])[$step] ?? null;
            $list = $step;
        }

        return $value;
    }

    /**
     * @param  list<string>  $place
     */
    private static function put(mixed $value, array $place, mixed $kept, string $list = ''): mixed
    {
        if ($place === []) {
            return $kept;
        }
        $members = Members::of($value, $list) ?? [];
        $step = $place[0];
        $members[$step] = self::put($members[$step] ?? null, array_slice($place, 1), $kept, $step);
        if ($members[$step] === null) {
            unset($members[$step]);
        }

        return Members::isNamed($list) ? array_values($members) : $members;
    }
}
