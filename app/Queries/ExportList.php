<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\User;
use Illuminate\Contracts\Cache\Repository;
use Illuminate\Support\Facades\Cache;

/**
 * What somebody has had written to files, so that a page that was left, or a tab that was closed, loses none of it.
 */
final readonly class ExportList
{
    /** Files of one person. */
    private const MOST = 20;

    public function __construct(private Repository $cache)
    {
    }

    public function begins(User $person, string $token, string $format, string $sql): void
    {
        $this->change($person, static fn (array $all): array => [$token => ['format' => $format, 'sql' => mb_strimwidth((string) preg_replace('/\s+/', ' ', $sql), 0, 90, '…', 'UTF-8'), 'at' => time(), 'rows' => null, 'bytes' => null, 'fault' => null]] + $all);
    }

    /**
     * @param  string|null  $fault  why there is no file
     */
    public function ends(User $person, string $token, ?int $rows, ?int $bytes, ?string $fault): void
    {
        $this->change($person, static function (array $all) use ($token, $rows, $bytes, $fault): array {
            if (isset($all[$token])) {
                $all[$token] = ['rows' => $rows, 'bytes' => $bytes, 'fault' => $fault] + $all[$token];
            }

            return $all;
        });
    }

    /**
     * The newest first.
     *
     * @return array<string, array{format: string, sql: string, at: int, rows: int|null, bytes: int|null, fault: string|null, written: int|null}> by token; rows: null while it is written, written: how many there are by then
     */
    public function of(User $person): array
    {
        $all = array_filter((array) $this->cache->get(self::key($person), []), static fn (array $one): bool => $one['at'] > time() - ExportFiles::STAYS);
        foreach ($all as $token => $one) {
            $all[$token]['written'] = $one['rows'] === null && $one['fault'] === null ? $this->cache->get("export:$person->id:$token:rows") : null;
        }

        return $all;
    }

    /**
     * @param  \Closure(array<string, array<string, mixed>>): array<string, array<string, mixed>>  $change
     */
    private function change(User $person, \Closure $change): void
    {
        Cache::lock(self::key($person).':change', 10)->block(10, function () use ($person, $change): void {
            $all = array_filter((array) $this->cache->get(self::key($person), []), static fn (array $one): bool => $one['at'] > time() - ExportFiles::STAYS);
            $this->cache->put(self::key($person), array_slice($change($all), 0, self::MOST, true), ExportFiles::STAYS);
        });
    }

    private static function key(User $person): string
    {
        return "exports:$person->id";
    }
}
