<?php

declare(strict_types=1);

namespace App\Pace;

use DeepSpring\Pace\PaceState;
use DeepSpring\Pace\Pacing;
use DeepSpring\Pace\Settings;
use DeepSpring\Pace\Shares;
use Illuminate\Support\Facades\DB;

/**
 * The rows that all workers share.
 */
final class RateLimitStore
{
    /** Seconds after which a reader that was not heard of is gone. */
    private const GONE = 20;

    /** Seconds of a turn, where there are more readers than requests at once. */
    private const TURN = 2;

    public function state(int $source, int $environment): PaceState
    {
        $row = DB::table('paces')->where('source_id', $source)->where('environment_id', $environment)->first();

        return $row === null ? new PaceState : PaceState::fromArray((array) json_decode((string) $row->state, true));
    }

    /**
     * Changes the state of a source in an environment while nobody else does.
     *
     * @template T
     *
     * @param  \Closure(PaceState, float, int): array{PaceState, T}  $how  given the state, the time and the number of the row
     * @param  Settings|null  $settings  of the source, by which a state that cannot be is put right
     * @return T
     */
    public function change(int $source, int $environment, \Closure $how, ?Settings $settings = null): mixed
    {
        return DB::transaction(function () use ($source, $environment, $how, $settings): mixed {
            $where = ['source_id' => $source, 'environment_id' => $environment];
            $row = DB::table('paces')->where($where)->lockForUpdate()->first();
            if ($row === null) {
                DB::table('paces')->insertOrIgnore($where + ['state' => '{}', 'created_at' => now(), 'updated_at' => now()]);
                $row = DB::table('paces')->where($where)->lockForUpdate()->first() ?? throw new \LogicException('It was just made.');
            }
            $before = PaceState::fromArray((array) json_decode((string) $row->state, true));
            $now = microtime(true);
            $usable = $settings === null ? $before : (new Pacing($settings))->righted($before, $now);
            [$after, $result] = $how($usable, $now, (int) $row->id);
            if ($after != $before) {
                DB::table('paces')->where('id', $row->id)->update(['state' => json_encode($after->toArray()), 'breaker' => $after->openUntil === null ? 'closed' : 'open', 'updated_at' => now()]);
            }

            return $result;
        }, 5);
    }

    /**
     * A reader says how many requests it could use, and is told how many are its own.
     *
     * @param  int  $underWay  requests it has under way, which it cannot give back yet
     */
    public function share(int $source, int $environment, Settings $settings, string $reader, int $wants, int $underWay): int
    {
        return $this->change($source, $environment, static function (PaceState $state, float $now, int $pace) use ($settings, $reader, $wants, $underWay): array {
            DB::table('pace_readers')->where('pace_id', $pace)->where(static fn ($gone) => $gone->where('seen_at', '<', $now - self::GONE)->orWhere('seen_at', '>', $now + self::GONE))->delete();
            DB::table('pace_readers')->insertOrIgnore(['pace_id' => $pace, 'reader' => $reader, 'slots' => 0, 'wants' => $wants, 'seen_at' => $now]);
            $rows = DB::table('pace_readers')->where('pace_id', $pace)->orderBy('id')->get()->keyBy('reader');
            $atOnce = (new Pacing($settings))->atOnce($state);
            $all = $rows->map(static fn (object $row): int => (int) $row->wants)->all();
            $fair = Shares::of($atOnce, [$reader => $wants] + $all, count($all) > $atOnce ? intdiv((int) $now, self::TURN) : 0)[$reader];
            $others = (int) $rows->except([$reader])->sum('slots');
            $mine = max(0, min($fair, $atOnce - $others));
            DB::table('pace_readers')->where('reader', $reader)->update(['slots' => max($mine, $underWay), 'wants' => $wants, 'seen_at' => $now]);

            return [$state, $mine];
        }, $settings);
    }

    /**
     * Readings that are under way, seen within the last seconds.
     */
    public function readers(int $source, int $environment): int
    {
        return DB::table('pace_readers')->join('paces', 'paces.id', '=', 'pace_id')->where('source_id', $source)->where('environment_id', $environment)->where('seen_at', '>', microtime(true) - 20)->count();
    }

    public function release(string $reader): void
    {
        DB::transaction(static fn (): int => DB::table('pace_readers')->where('reader', $reader)->delete(), 5);
    }

    /**
     * Closes the breaker and forgets what slowed it.
     */
    public function close(int $source, int $environment, Settings $settings): void
    {
        $this->change($source, $environment, static fn (PaceState $state): array => [(new Pacing($settings))->closed($state), null], $settings);
    }
}
