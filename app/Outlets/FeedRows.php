<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;
use App\Models\Principal;
use App\Queries\ViewOwners;
use App\Reservoir\ReaderAccounts;
use App\Secrets\Vault;
use DeepSpring\Feed\BoundSql;
use DeepSpring\Feed\CannotGoOn;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\Keyset;
use DeepSpring\Feed\OrderPart;
use DeepSpring\Feed\SealedPlace;
use Illuminate\Contracts\Cache\Repository;

/**
 * Answers what is asked of a feed, as the account of whoever asks, which may read the feed's view and nothing else.
 */
final readonly class FeedRows
{
    /** Seconds of the statement for a page, and for all rows. */
    private const LONGEST = 20;

    private const LONGEST_WHOLE = 600;

    /** Seconds for which rights that were brought up to date are taken to be so. */
    private const ALIGNED = 3;

    private const BEYOND_NUMBERS = 1690;

    private const TOO_LONG = 1969;

    /** No such table, column, right; a view that reads one of these; all connections of the account are taken. */
    private const NOT_THERE = [1054, 1142, 1143, 1146, 1356, 1044, 1045];

    private const ALL_TAKEN = 1226;

    public function __construct(private ReaderAccounts $accounts, private ViewOwners $owners, private Vault $vault, private Repository $cache)
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
        // What rows are sorted by is read, too, where it is not shown.
        $shown = count($question->columns);
        $places = array_flip(array_map(static fn (FeedColumn $column): string => $column->name, $question->columns));
        $read = $question->columns;
        foreach ($order as $part) {
            if (! isset($places[$part->column->name])) {
                $places[$part->column->name] = count($read);
                $read[] = $part->column;
            }
        }
        $pdo = $this->connect($feed, $principal, self::LONGEST);
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
        $total = $question->total ? $this->total($feed, $pdo, $question->condition) : null;

        return new FeedPage($question->columns, count($read) === $shown ? $rows : array_map(static fn (array $row): array => array_slice($row, 0, $shown), $rows), $next, $total);
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
        yield from $this->read($feed, $this->connect($feed, $principal, self::LONGEST_WHOLE), $question->columns, $question->condition, $question, $question->top);
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
     * @throws FeedProblem
     */
    private function connect(Feed $feed, Principal $principal, int $seconds): \PDO
    {
        if ($feed->user->isOff()) {
            throw new FeedProblem(503, 'Whoever answers for this feed can no longer read anything here. It needs another owner.');
        }
        // Rights are brought up to date once in a while: what is taken away is gone within seconds.
        $mark = "feed-rights:$feed->id:{$feed->updated_at->format('Uu')}:{$principal->account()}";
        $isAligned = $this->cache->get($mark) !== null;
        try {
            if (! $isAligned) {
                $this->owners->align($feed->environment, [$feed->reads]);
                $this->accounts->align($feed->user, $feed->environment);
                $this->cache->put($mark, true, self::ALIGNED);
            }

            return $this->accounts->connect($principal, $feed->environment, $seconds, isAligned: $isAligned);
        } catch (\PDOException $refused) {
            throw $this->problem($refused);
        }
    }

    /**
     * @param  list<FeedColumn>  $columns
     * @return \Generator<int, list<string|null>>
     *
     * @throws FeedProblem
     */
    private function read(Feed $feed, \PDO $pdo, array $columns, BoundSql $condition, FeedQuestion $question, ?int $most, int $skip = 0): \Generator
    {
        $sql = 'SELECT '.implode(', ', array_map(static fn (FeedColumn $column): string => $column->sql(), $columns))." FROM `{$feed->view()}` WHERE $condition->sql ORDER BY {$question->order->sql()}".($most === null ? '' : " LIMIT $skip, $most");
        try {
            $statement = $pdo->prepare($sql);
            $statement->execute($condition->values);
            // The connection gives every value as a text.
            while (is_array($row = $statement->fetch(\PDO::FETCH_NUM))) {
                yield $row;
            }
            $statement->closeCursor();
        } catch (\PDOException $refused) {
            throw $this->problem($refused);
        }
    }

    /**
     * Rows for which the condition of a question holds.
     *
     * @throws FeedProblem
     */
    public function count(Feed $feed, FeedQuestion $question, Principal $principal): int
    {
        return $this->total($feed, $this->connect($feed, $principal, self::LONGEST), $question->condition);
    }

    /**
     * @throws FeedProblem
     */
    private function total(Feed $feed, \PDO $pdo, BoundSql $condition): int
    {
        try {
            $statement = $pdo->prepare("SELECT COUNT(*) FROM `{$feed->view()}` WHERE $condition->sql");
            $statement->execute($condition->values);

            return (int) $statement->fetchColumn();
        } catch (\PDOException $refused) {
            throw $this->problem($refused);
        }
    }

    private function problem(\PDOException $refused): FeedProblem
    {
        $code = (int) ($refused->errorInfo[1] ?? $refused->getCode());

        return match (true) {
            $code === self::BEYOND_NUMBERS => new FeedProblem(400, 'A sum or product in the filter goes beyond the numbers there are.', [], 'filter', $refused),
            $code === self::TOO_LONG => new FeedProblem(503, 'The database took longer than it may for this. Ask for fewer rows, or with a condition or an order for which there is an index.', ['Retry-After' => '60'], null, $refused),
            $code === self::ALL_TAKEN => new FeedProblem(429, 'As many requests as this key may make at the same time are being answered. Wait for one of them.', ['Retry-After' => '1'], null, $refused),
            in_array($code, self::NOT_THERE, true) => new FeedProblem(503, 'What this feed reads is not there now. Whoever answers for it can see why.', ['Retry-After' => '60'], null, $refused),
            default => throw $refused,
        };
    }
}
