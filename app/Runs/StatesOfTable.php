<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\KeptTable;
use App\Models\TableState;
use App\Reservoir\StateRows;
use App\Reservoir\TableHistory;
use Illuminate\Support\Carbon;
use Illuminate\Support\Collection;

/**
 * The states of a table that can be compared: the present one, earlier ones, and what its versions were at a time.
 */
final class StatesOfTable
{
    /** What the present state is called. */
    public const NOW = 'now';

    /** Moments of versions that are listed. */
    private const MOMENTS = 50;

    /** @var Collection<int, TableState> the newest first */
    public readonly Collection $snapshots;

    /** Versions of rows that go on. */
    public readonly ?TableState $versions;

    /** @var Collection<int, TableState> versions that others took the place of */
    public readonly Collection $ended;

    /** @var list<array{at: string, came: int, changed: int, went: int}> the newest first */
    public readonly array $moments;

    /** @var array<string, int> bytes by name */
    public readonly array $bytes;

    public function __construct(public readonly KeptTable $table, TableHistory $history)
    {
        $this->snapshots = TableState::of($table, TableState::SNAPSHOT)->get()->toBase();
        $this->versions = TableState::of($table, TableState::CHANGES)->first();
        $this->ended = TableState::of($table, TableState::ENDED)->get()->toBase();
        $this->moments = $this->versions === null ? [] : $history->moments($table->environment, $this->versions->name, $this->versions->key, self::MOMENTS);
        $this->bytes = $history->bytes($table->environment, array_values([...$this->snapshots->pluck('name'), ...$this->ended->pluck('name'), ...($this->versions === null ? [] : [$this->versions->name])]));
    }

    public function isEmpty(): bool
    {
        return $this->snapshots->isEmpty() && $this->versions === null && $this->ended->isEmpty();
    }

    /**
     * Rows of all earlier states together.
     */
    public function rows(): int
    {
        return (int) $this->snapshots->sum('rows') + (int) $this->ended->sum('rows') + ($this->versions->rows ?? 0);
    }

    /**
     * @return list<string> what can be compared, the newest first: "now", names of states, moments
     */
    public function choices(): array
    {
        return array_values([self::NOW, ...$this->snapshots->pluck('name')->map(strval(...)), ...array_column($this->moments, 'at')]);
    }

    /**
     * The two that are compared where nothing else is said.
     *
     * @return array{string, string}|null
     */
    public function usual(): ?array
    {
        $before = $this->snapshots->first()->name ?? $this->moments[1]['at'] ?? null;

        return $before === null ? null : [$before, self::NOW];
    }

    /**
     * @param  string  $which  "now", the name of a state, or a moment in UTC
     */
    public function pick(string $which): ?StateRows
    {
        if ($which === self::NOW) {
            return new StateRows($this->table->name, array_column($this->table->columns, 'name'), $this->table->key);
        }
        $state = $this->snapshots->firstWhere('name', $which);
        if ($state !== null) {
            return new StateRows($state->name, array_column($state->columns, 'name'), $state->key);
        }
        if ($this->versions === null || preg_match('/^\d{4}-\d{2}-\d{2}[ T]\d{2}:\d{2}(:\d{2}(\.\d{1,6})?)?Z?$/D', $which) !== 1) {
            return null;
        }
        try {
            $at = Carbon::parse(rtrim(strtr($which, 'T', ' '), 'Z'), 'UTC');
        } catch (\InvalidArgumentException) {
            return null;
        }

        return new StateRows($this->versions->name, array_column($this->versions->columns, 'name'), $this->versions->key, $at);
    }
}
