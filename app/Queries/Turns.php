<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\User;
use App\Secrets\LockName;
use Illuminate\Database\Connection;
use Illuminate\Support\Facades\DB;

/**
 * How many statements run at once: so many of one person, and so many of all. A place is a lock of the
 * database, which goes with the connection, so a process that dies gives it up. Those of a person who
 * wait go in the order in which they came.
 */
final readonly class Turns
{
    /** Seconds after which somebody who waits and is not heard of has gone. */
    private const GONE = 5.0;

    /**
     * @param  string|null  $ticket  of an earlier attempt, which keeps its place among those who wait
     */
    public function take(User $person, ?string $ticket): Turn|Waiting
    {
        $connection = DB::connection('app');
        $ticket = $ticket !== null && preg_match('/^[0-9a-f]{32}$/D', $ticket) === 1 ? $ticket : bin2hex(random_bytes(16));
        $now = microtime(true);
        $row = $connection->table('statement_turns')->where('ticket', $ticket)->where('user_id', $person->id)->first();
        $before = $connection->table('statement_turns')->where('user_id', $person->id)->where('seen_at', '>', $now - self::GONE)->where('seen_at', '<', $now + self::GONE)
            ->when($row !== null, static fn ($query) => $query->where('id', '<', $row->id))->count();
        if ($before === 0) {
            $turn = $this->place($connection, $person, $ticket);
            if ($turn !== null) {
                $connection->table('statement_turns')->where('ticket', $ticket)->delete();

                return $turn;
            }
        }
        $connection->table('statement_turns')->upsert(['user_id' => $person->id, 'ticket' => $ticket, 'seen_at' => $now], ['ticket'], ['seen_at']);
        $connection->table('statement_turns')->where('seen_at', '<', $now - 60)->orWhere('seen_at', '>', $now + 60)->delete();

        return new Waiting($ticket, $before, $this->running($connection, $person));
    }

    /**
     * Waits in this process.
     *
     * @param  (\Closure(Waiting): void)|null  $tell  told once that it waits
     *
     * @throws QueryRefused when that takes too long
     */
    public function await(User $person, float $seconds, ?\Closure $tell = null): Turn
    {
        $ticket = null;
        for ($until = microtime(true) + $seconds; ; usleep(200_000)) {
            $turn = $this->take($person, $ticket);
            if ($turn instanceof Turn) {
                return $turn;
            }
            if ($ticket === null && $tell !== null) {
                $tell($turn);
            }
            $ticket = $turn->ticket;
            if (microtime(true) > $until) {
                DB::connection('app')->table('statement_turns')->where('ticket', $ticket)->delete();

                throw QueryRefused::because($turn->sentence().' It waited '.round($seconds).' s. Repeat it when one of them has ended.');
            }
        }
    }

    private function place(Connection $connection, User $person, string $ticket): ?Turn
    {
        $own = $this->free($connection, $this->names($person));
        if ($own === null) {
            return null;
        }
        $all = $this->free($connection, $this->names(null));
        if ($all === null) {
            $connection->selectOne('select release_lock(?)', [$own], false);

            return null;
        }

        return new Turn($connection, [$own, $all]);
    }

    /**
     * @param  list<string>  $names
     * @return string|null the one that was taken
     */
    private function free(Connection $connection, array $names): ?string
    {
        foreach ($names as $name) {
            $row = $connection->selectOne('select is_used_lock(?) is null as free', [$name], false);
            // A connection may take its own lock again, which would be no place of its own.
            if ((int) ($row->free ?? 0) === 1 && (int) ($connection->selectOne('select get_lock(?, 0) as got', [$name], false)->got ?? 0) === 1) {
                return $name;
            }
        }

        return null;
    }

    private function running(Connection $connection, User $person): int
    {
        $used = array_filter($this->names($person), static fn (string $name): bool => (int) ($connection->selectOne('select is_used_lock(?) is null as free', [$name], false)->free ?? 0) === 0);

        return count($used);
    }

    /**
     * Places of a person, or those of all.
     *
     * @return list<string>
     */
    private function names(?User $person): array
    {
        $schema = (string) config('database.connections.app.database');
        $many = (int) config($person === null ? 'spring.query.at_once' : 'spring.query.person_at_once');

        return array_map(static fn (int $place): string => LockName::of('statement', $schema, $person === null ? 'all' : "person $person->id", (string) $place), range(1, max(1, $many)));
    }
}
