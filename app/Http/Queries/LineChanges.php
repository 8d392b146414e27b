<?php

declare(strict_types=1);

namespace App\Http\Queries;

use SebastianBergmann\Diff\Differ;
use SebastianBergmann\Diff\Output\DiffOnlyOutputBuilder;

/**
 * Two texts line by line.
 */
final class LineChanges
{
    /**
     * @return list<array{string, string}> each line with what became of it: same, gone or new
     */
    public static function between(string $before, string $now): array
    {
        $changes = [];
        foreach ((new Differ(new DiffOnlyOutputBuilder))->diffToArray(rtrim($before)."\n", rtrim($now)."\n") as [$text, $kind]) {
            $changes[] = [rtrim((string) $text, "\r\n"), match ($kind) {
                Differ::ADDED => 'new', Differ::REMOVED => 'gone', default => 'same'
            }];
        }

        return $changes;
    }
}
