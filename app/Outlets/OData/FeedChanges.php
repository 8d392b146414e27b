<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Models\Feed;
use App\Models\Principal;
use App\Models\TableState;
use App\Outlets\FeedConnections;
use App\Outlets\FeedProblem;
use App\Outlets\FeedQuestion;
use App\Secrets\Vault;
use DeepSpring\Feed\BoundSql;
use DeepSpring\Feed\CannotGoOn;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\SealedPlace;
use DeepSpring\History\HistorySettings;
use Illuminate\Support\Carbon;

/**
 * What has become of the rows of a feed since a moment, where versions of them are kept (OData 4.01 protocol §11.3).
 * A moment is that of the last change that was written down, read before any row of the answer: so a change that
 * happens meanwhile is told once more, and never left out.
 */
final readonly class FeedChanges
{
    /** Rows that are gone which one answer tells. */
    private const MOST = 50_000;

    private const BEGINNING = '0001-01-01 00:00:00.000000';

    public function __construct(private FeedConnections $connections, private Vault $vault)
    {
    }

    /**
     * The moment up to which everything that is there now is told.
     *
     * @throws FeedProblem
     */
    public function now(FeedEntity $entity, Principal $reader): string
    {
        [$from, $to] = [HistorySettings::FROM, HistorySettings::TO];
        foreach (FeedConnections::rows($this->open($entity->feed, $reader), "SELECT GREATEST(COALESCE(MAX(`$from`), ?), COALESCE(MAX(`$to`), ?)) FROM `{$entity->feed->changes()}`", [self::BEGINNING, self::BEGINNING]) as $row) {
            $found = $row[0];
        }

        return $found ?? self::BEGINNING;
    }

    public function seal(FeedEntity $entity, FeedQuestion $question, string $moment): string
    {
        return $this->place($entity->feed, $question)->seal([$moment, Carbon::now()->format('Y-m-d H:i:s')]);
    }

    /**
     * @return string the moment
     *
     * @throws FeedProblem where it is none, or what happened since is no longer known
     */
    public function since(FeedEntity $entity, FeedQuestion $question, string $token): string
    {
        try {
            [$moment, $given] = $this->place($entity->feed, $question)->open($token) + [null, null];
        } catch (CannotGoOn $cannot) {
            throw FeedProblem::ofPlace('$deltatoken', $cannot);
        }
        if ($moment === null || $given === null) {
            throw FeedProblem::ofPlace('$deltatoken', CannotGoOn::isNone());
        }
        $this->mustBeKnown($entity, $moment, Carbon::parse($given, 'UTC'));

        return $moment;
    }

    /**
     * Versions go after some time, and the oldest where there are too many.
     *
     * @throws FeedProblem
     */
    private function mustBeKnown(FeedEntity $entity, string $moment, Carbon $given): void
    {
        $table = $entity->table;
        $definition = $table?->endpoint->source->published()?->endpoint($table->endpoint->slug);
        $settings = $definition === null ? null : HistorySettings::of($definition->endpoint['keep']['history'] ?? [], $definition->plan());
        $versions = $table === null ? null : TableState::of($table, TableState::CHANGES)->first();
        $isKnown = $settings !== null && $versions !== null && $settings->isOfChanges() && $given->gt(Carbon::now()->subDays($settings->days)) && $versions->rows < $settings->rows && ($moment === self::BEGINNING || $versions->state_at->lte(Carbon::parse($moment, 'UTC')));
        if (! $isKnown) {
            throw new FeedProblem(410, 'What has changed since is no longer known. Read all rows again.', [], '$deltatoken');
        }
    }

    /**
     * Rows that are new or have changed.
     */
    public static function changed(FeedEntity $entity, string $since): BoundSql
    {
        $keys = self::names($entity);

        return new BoundSql("($keys) IN (SELECT $keys FROM `{$entity->feed->changes()}` WHERE `".HistorySettings::FROM.'` > CAST(? AS DATETIME(6)))', [$since]);
    }

    /**
     * Keys of rows that were there, and are not, or no longer answer to what is asked.
     *
     * @return list<list<string|null>>
     *
     * @throws FeedProblem
     */
    public function removed(FeedEntity $entity, FeedQuestion $question, string $since, Principal $reader): array
    {
        $keys = self::names($entity);
        [$from, $to] = [HistorySettings::FROM, HistorySettings::TO];
        $moment = 'CAST(? AS DATETIME(6))';
        $sql = "SELECT DISTINCT $keys FROM `{$entity->feed->changes()}` WHERE (`$to` > $moment OR `$from` > $moment) AND ($keys) NOT IN (SELECT $keys FROM `{$entity->feed->view()}` WHERE {$question->condition->sql}) ORDER BY $keys LIMIT ".(self::MOST + 1);
        $rows = [];
        foreach (FeedConnections::rows($this->open($entity->feed, $reader), $sql, [$since, $since, ...$question->condition->values]) as $row) {
            $rows[] = $row;
        }

        return count($rows) <= self::MOST ? $rows : throw new FeedProblem(410, 'More than '.self::MOST.' rows are gone since. Read all rows again.', [], '$deltatoken');
    }

    /**
     * @throws FeedProblem
     */
    private function open(Feed $feed, Principal $reader): \PDO
    {
        return $this->connections->open($feed, $reader, FeedConnections::LONGEST);
    }

    private static function names(FeedEntity $entity): string
    {
        return implode(', ', array_map(static fn (FeedColumn $column): string => $column->sql(), $entity->key));
    }

    private function place(Feed $feed, FeedQuestion $question): SealedPlace
    {
        return new SealedPlace($this->vault->derive("changes of feed $feed->id"), $question->mark, (string) json_encode([array_map(static fn (array $one): array => [$one['name'], $one['column']], $feed->columns), $feed->condition, $feed->key]));
    }
}
