<?php

declare(strict_types=1);

namespace App\Http\Shaping;

use App\Models\Endpoint;
use App\Models\User;
use Illuminate\Support\Facades\Cache;

/**
 * The steps that a person took on the shaping page of an endpoint, to be undone and done again.
 */
final readonly class ShapeHistory
{
    private const MOST = 60;

    private const SECONDS = 86400;

    private string $key;

    public function __construct(Endpoint $endpoint, User $person)
    {
        $this->key = "shape.{$person->id}.{$endpoint->id}";
    }

    /**
     * @param  array<string, mixed>  $before  the `flatten` as it was
     */
    public function did(array $before): void
    {
        $steps = $this->steps();
        $this->put(['undo' => array_slice([...$steps['undo'], json_encode($before)], -self::MOST), 'redo' => []]);
    }

    /**
     * @param  array<string, mixed>  $now
     * @return array<string, mixed>|null what it was a step before; null when there is none
     */
    public function undo(array $now): ?array
    {
        return $this->turn('undo', 'redo', $now);
    }

    /**
     * @param  array<string, mixed>  $now
     * @return array<string, mixed>|null
     */
    public function redo(array $now): ?array
    {
        return $this->turn('redo', 'undo', $now);
    }

    /**
     * @return array{int, int} steps that can be undone, and done again
     */
    public function count(): array
    {
        $steps = $this->steps();

        return [count($steps['undo']), count($steps['redo'])];
    }

    /**
     * @param  'undo'|'redo'  $from
     * @param  'undo'|'redo'  $to
     * @param  array<string, mixed>  $now
     * @return array<string, mixed>|null
     */
    private function turn(string $from, string $to, array $now): ?array
    {
        $steps = $this->steps();
        $last = array_pop($steps[$from]);
        if ($last === null) {
            return null;
        }
        $steps[$to][] = (string) json_encode($now);
        $this->put($steps);
        $flatten = json_decode($last, true);

        return is_array($flatten) ? $flatten : null;
    }

    /**
     * @return array{undo: list<string>, redo: list<string>}
     */
    private function steps(): array
    {
        $steps = Cache::get($this->key);

        return is_array($steps) ? ['undo' => array_values($steps['undo']), 'redo' => array_values($steps['redo'])] : ['undo' => [], 'redo' => []];
    }

    /**
     * @param  array<string, list<string|false>>  $steps
     */
    private function put(array $steps): void
    {
        Cache::put($this->key, $steps, self::SECONDS);
    }
}
