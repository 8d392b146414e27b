<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\Principal;
use App\Secrets\NamedLock;
use Illuminate\Database\Connection;
use Illuminate\Support\Facades\DB;

/**
 * How many statements run at once: so many of one person, and so many of all. A place is a lock of the
 * database, which goes with the connection, so a process that dies gives it up. Those of a person who
 * wait go in the order in which they came.
 */
final readonly class QuerySlots
{
    /** Seconds after which somebody who waits and is not heard of has gone. */
    private const GONE = 5.0;

    /**
     * @param  string|null  $ticket  of an earlier attempt, which keeps its place among those who wait
     */
    public function take(Principal $principal, ?string $ticket): QuerySlot|Waiting
    {
        $connection = DB::connection('app');
        $ticket = $ticket !== null && preg_match('/^[0-9a-f]{32}$/D', $ticket) === 1 ? $ticket : bin2hex(random_bytes(16));
        $now = microtime(true);
        $row = $connection->table('statement_turns')->where('ticket', $ticket)->where('principal', $principal->account())->first();
        $before = $connection->table('statement_turns')->where('principal', $principal->account())->where('seen_at', '>', $now - self::GONE)->where('seen_at', '<', $now + self::GONE)
            ->when($row !== null, static fn ($query) => $query->where('id', '<', $row->id))->count();
        if ($before === 0) {
            $turn = $this->place($connection, $principal);
            if ($turn !== null) {
                $connection->table('statement_turns')->where('ticket', $ticket)->delete();

                return $turn;
            }
        }
        $connection->table('statement_turns')->upsert(['principal' => $principal->account(), 'ticket' => $ticket, 'seen_at' => $now], ['ticket'], ['seen_at']);
        $connection->table('statement_turns')->where('seen_at', '<', $now - 60)->orWhere('seen_at', '>', $now + 60)->delete();

        return new Waiting($ticket, $before, $this->running($connection, $principal));
    }

    /**
     * Waits in this process.
     *
     * @param  (\Closure(Waiting): void)|null  $tell  told once that it waits
     *
     * @throws QueryRefused when that takes too long
     */
    public function await(Principal $principal, float $seconds, ?\Closure $tell = null): QuerySlot
    {
        $ticket = null;
        for ($until = microtime(true) + $seconds; ; usleep(200_000)) {
            $turn = $this->take($principal, $ticket);
            if ($turn instanceof QuerySlot) {
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

    private function place(Connection $connection, Principal $principal): ?QuerySlot
    {
        $own = self::free($this->locks($connection, $principal));
        if ($own === null) {
            return null;
        }
        $all = self::free($this->locks($connection, null));
        if ($all === null) {
            $own->release();

            return null;
        }

        return new QuerySlot([$own, $all]);
    }

    /**
     * @param  list<NamedLock>  $locks
     * @return NamedLock|null the one that was taken
     */
    private static function free(array $locks): ?NamedLock
    {
        foreach ($locks as $lock) {
            // A connection may take its own lock again, which would be no place of its own.
            if ($lock->takeFree()) {
                return $lock;
            }
        }

        return null;
    }

    private function running(Connection $connection, Principal $principal): int
    {
        return count(array_filter($this->locks($connection, $principal), static fn (NamedLock $lock): bool => $lock->holder() !== null));
    }

    /**
     * Places of one who asks, or those of all.
     *
     * @return list<NamedLock>
     */
    private function locks(Connection $connection, ?Principal $principal): array
    {
        $schema = (string) config('database.connections.app.database');
        $many = (int) config($principal === null ? 'spring.query.at_once' : 'spring.query.person_at_once');

        return array_map(static fn (int $place): NamedLock => NamedLock::of($connection, 'statement', $schema, $principal === null ? 'all' : "of {$principal->account()}", (string) $place), range(1, max(1, $many)));
    }
}
