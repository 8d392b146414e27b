<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;
use App\Models\KeptTable;
use App\Queries\Results\TablesBeneath;
use Illuminate\Support\Carbon;

/**
 * Which rows a feed holds now: since when, and a mark that differs once they do.
 */
final readonly class FeedState
{
    /**
     * @param  string|null  $mark  null where nobody can say when it changes
     * @param  Carbon|null  $since  of the table, or of the one beneath that was refreshed last
     * @param  Carbon|null  $oldest  of the one that was refreshed first
     */
    private function __construct(public ?string $mark, public ?Carbon $since, public ?Carbon $oldest, public ?int $run)
    {
    }

    public static function of(Feed $feed, KeptTable $table): self
    {
        if (! $table->is_view) {
            return new self(hash('xxh128', (string) json_encode([$feed->id, $feed->updated_at->format('Uu'), $table->mark()])), $table->refreshed_at, $table->refreshed_at, $table->run_id);
        }
        $beneath = TablesBeneath::of($feed->environment, 'select * from `'.str_replace('`', '``', $feed->reads).'`');
        $tables = $beneath === null ? null : KeptTable::query()->where(['environment_id' => $feed->environment_id, 'is_view' => false])->whereIn('name', array_keys($beneath))->orderBy('refreshed_at')->get(['name', 'refreshed_at', 'run_id']);
        $last = $tables?->last();

        return new self(
            $beneath === null ? null : hash('xxh128', (string) json_encode([$feed->id, $feed->updated_at->format('Uu'), $beneath])),
            $last->refreshed_at ?? null,
            $tables?->first()->refreshed_at ?? null,
            $last->run_id ?? null,
        );
    }

    /**
     * @throws FeedProblem where the rows are older than the feed hands out
     */
    public function mustBeFresh(Feed $feed): void
    {
        if ($feed->oldest_minutes !== null && ($this->oldest === null || $this->oldest->diffInMinutes(Carbon::now(), true) > $feed->oldest_minutes)) {
            throw new FeedProblem(503, 'The rows are older than this feed hands out'.($this->oldest === null ? '.' : ": they are of {$this->oldest->toIso8601ZuluString()}.").' Whoever answers for it can see why.', ['Retry-After' => '300']);
        }
    }
}
