<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;
use App\Models\Principal;
use App\Secrets\Vault;
use DeepSpring\Feed\BoundSql;
use DeepSpring\Feed\CannotGoOn;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\Keyset;
use DeepSpring\Feed\OrderPart;
use DeepSpring\Feed\SealedPlace;

/**
 * Answers what is asked of a feed, as the account of whoever asks, which may read the feed's view and nothing else.
 */
final readonly class FeedRows
{
    public function __construct(private FeedConnections $connections, private Vault $vault)
    {
    }

    /**
     * @param  int  $size  rows of a page
     *
     * @throws FeedProblem
     */
    public function page(Feed $feed, FeedShape $shape, FeedState $state, FeedQuestion $question, Principal $principal, int $size): FeedPage
    {
        $order = $question->order->parts;
        $place = $this->place($feed, $shape, $state, $question);
        $conditions = [$question->condition];
        if ($question->after !== '') {
            try {
                $conditions[] = Keyset::after($order, $this->values($place->open($question->after), count($order)));
            } catch (CannotGoOn $cannot) {
                throw FeedProblem::ofPlace('after', $cannot);
            }
        }
        [$read, $places] = self::columns($question);
        $pdo = $this->connections->open($feed, $principal, FeedConnections::LONGEST, $question->asked);
        $rows = [];
        foreach ($this->read($feed, $pdo, $read, BoundSql::all(...$conditions), $question, $size + 1, $question->after === '' ? $question->skip : 0) as $row) {
            $rows[] = $row;
        }
        $goesOn = count($rows) > $size;
        $rows = $goesOn ? array_slice($rows, 0, $size) : $rows;
        try {
            $next = $goesOn && $rows !== [] ? $place->seal(array_map(static fn (OrderPart $part): ?string => $rows[count($rows) - 1][$places[$part->column->name]], $order)) : null;
        } catch (CannotGoOn $cannot) {
            throw FeedProblem::ofPlace('order', $cannot);
        }
        $total = $question->total ? $this->total($feed, $pdo, $question) : null;

        return new FeedPage($question->columns, $rows, $next, $total, $places);
    }

    /**
     * Columns that are answered, and behind them those by which rows are sorted or followed.
     *
     * @param  list<FeedColumn>  $more
     * @return array{list<FeedColumn>, array<string, int>} and their places by name
     */
    public static function columns(FeedQuestion $question, array $more = []): array
    {
        $read = $question->columns;
        $places = array_flip(array_map(static fn (FeedColumn $column): string => $column->name, $read));
        array_push($more, ...array_map(static fn (OrderPart $part): FeedColumn => $part->column, $question->order->parts));
        foreach ($question->expand as $one) {
            array_push($more, ...$one->link->here());
        }
        foreach ($more as $column) {
            if (! isset($places[$column->name])) {
                $places[$column->name] = count($read);
                $read[] = $column;
            }
        }

        return [$read, $places];
    }

    /**
     * All rows, as the database gives them.
     *
     * @return \Generator<int, list<string|null>>
     *
     * @throws FeedProblem
     */
    public function all(Feed $feed, FeedQuestion $question, Principal $principal): \Generator
    {
        yield from $this->read($feed, $this->connections->open($feed, $principal, FeedConnections::LONGEST_WHOLE, $question->asked), $question->columns, $question->condition, $question, $question->top);
    }

    /**
     * Whether the account of a reader can read the feed now.
     *
     * @throws FeedProblem
     */
    public function mayBeRead(Feed $feed, Principal $principal): bool
    {
        $pdo = $this->connections->open($feed, $principal, FeedConnections::LONGEST);
        foreach (FeedConnections::rows($pdo, "SELECT 1 FROM `{$feed->view()}` LIMIT 1", []) as $row) {
            continue;
        }

        return true;
    }

    /**
     * Where readers of one question go on. Rows without a key have their numbers for as long as they are not replaced.
     */
    private function place(Feed $feed, FeedShape $shape, FeedState $state, FeedQuestion $question): SealedPlace
    {
        $isNumbered = $shape->key !== [] && $shape->key[0]->column->name === FeedShape::ROW;

        return new SealedPlace($this->vault->derive("feed $feed->id"), $question->mark, (string) json_encode([$feed->columns, $feed->condition, $feed->key, $feed->sort, $isNumbered ? $state->mark : null]));
    }

    /**
     * @param  list<string|null>  $values
     * @return list<string|null>
     *
     * @throws CannotGoOn
     */
    private function values(array $values, int $count): array
    {
        return count($values) === $count ? $values : throw CannotGoOn::isNone();
    }

    /**
     * @param  list<FeedColumn>  $columns
     * @return \Generator<int, list<string|null>>
     *
     * @throws FeedProblem
     */
    private function read(Feed $feed, \PDO $pdo, array $columns, BoundSql $condition, FeedQuestion $question, ?int $most, int $skip = 0): \Generator
    {
        $from = self::source($feed, $question);
        $sql = 'SELECT '.implode(', ', array_map(static fn (FeedColumn $column): string => $column->sql(), $columns))." FROM $from->sql WHERE $condition->sql ORDER BY {$question->order->sql()}".($most === null ? '' : " LIMIT $skip, $most");
        yield from FeedConnections::rows($pdo, $sql, [...$from->values, ...$condition->values]);
    }

    private static function source(Feed $feed, FeedQuestion $question): BoundSql
    {
        return $question->source->sql ?? new BoundSql("`{$feed->view()}`", []);
    }

    /**
     * Rows for which the condition of a question holds.
     *
     * @throws FeedProblem
     */
    public function count(Feed $feed, FeedQuestion $question, Principal $principal): int
    {
        return $this->total($feed, $this->connections->open($feed, $principal, FeedConnections::LONGEST, $question->asked), $question);
    }

    /**
     * @throws FeedProblem
     */
    private function total(Feed $feed, \PDO $pdo, FeedQuestion $question): int
    {
        $from = self::source($feed, $question);
        foreach (FeedConnections::rows($pdo, "SELECT COUNT(*) FROM $from->sql WHERE {$question->condition->sql}", [...$from->values, ...$question->condition->values]) as $row) {
            $count = (int) $row[0];
        }

        return $count ?? 0;
    }
}
