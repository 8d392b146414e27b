<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Principal;
use DeepSpring\Feed\BoundSql;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\OrderPart;

/**
 * Rows of other feeds that belong to the rows of a page, with one statement for each way and some hundred rows.
 */
final readonly class RelatedRows
{
    /** Rows for which others are looked up in one statement. */
    private const AT_ONCE = 500;

    /** Rows of other feeds that come with one page. */
    public const MOST = 50_000;

    public function __construct(private FeedConnections $connections)
    {
    }

    /**
     * @param  list<Expansion>  $expand
     * @return array<string, array<string, FeedPage>> by the name of the way, then by `key()` of the values here; none where no row belongs
     *
     * @throws FeedProblem
     */
    public function of(FeedPage $page, array $expand, Principal $principal, RelatedRowsLeft $left): array
    {
        $found = [];
        foreach ($expand as $one) {
            $values = [];
            foreach ($page->rows as $row) {
                $here = array_map(static fn (FeedColumn $column): ?string => $row[$page->places[$column->name]], $one->link->here());
                if (! in_array(null, $here, true)) {
                    $values[self::key($here)] = array_values(array_filter($here, is_string(...)));
                }
            }
            $found[$one->link->name] = $values === [] ? [] : $this->read($one, array_values($values), $principal, $left);
        }

        return $found;
    }

    /**
     * @param  list<list<string>>  $values  each once
     * @return array<string, FeedPage>
     *
     * @throws FeedProblem
     */
    private function read(Expansion $expansion, array $values, Principal $principal, RelatedRowsLeft $left): array
    {
        $feed = $expansion->link->to->feed;
        $question = $expansion->question;
        $by = $expansion->link->there();
        [$read, $places] = FeedRows::columns($question, $by);
        $pdo = $this->connections->open($feed, $principal, FeedConnections::LONGEST);
        $rows = [];
        $counts = $question->total ? $this->counts($expansion, $values, $pdo) : [];
        foreach (array_chunk($values, self::AT_ONCE) as $some) {
            $condition = BoundSql::all($question->condition, self::anyOf($by, $some));
            foreach (FeedConnections::rows($pdo, self::statement($expansion, $read, $condition), $condition->values) as $row) {
                $left->take();
                array_pop($row);
                $key = self::key(array_map(static fn (FeedColumn $column): ?string => $row[$places[$column->name]], $by));
                $rows[$key][] = $row;
            }
        }

        $pages = [];
        foreach ($rows + array_map(static fn (): array => [], $counts) as $key => $some) {
            $pages[(string) $key] = new FeedPage($question->columns, $some, null, $counts[$key] ?? null, $places);
        }

        return $pages;
    }

    /**
     * How many rows belong to each, whatever of them is answered.
     *
     * @param  list<list<string>>  $values
     * @return array<string, int>
     *
     * @throws FeedProblem
     */
    private function counts(Expansion $expansion, array $values, \PDO $pdo): array
    {
        $by = implode(', ', array_map(static fn (FeedColumn $column): string => $column->sql(), $expansion->link->there()));
        $counts = [];
        foreach (array_chunk($values, self::AT_ONCE) as $some) {
            $condition = BoundSql::all($expansion->question->condition, self::anyOf($expansion->link->there(), $some));
            foreach (FeedConnections::rows($pdo, "SELECT $by, COUNT(*) FROM `{$expansion->link->to->feed->view()}` WHERE $condition->sql GROUP BY $by", $condition->values) as $row) {
                $count = (int) array_pop($row);
                $counts[self::key($row)] = $count;
            }
        }

        return $counts;
    }

    /**
     * @param  list<FeedColumn>  $read
     */
    private static function statement(Expansion $expansion, array $read, BoundSql $condition): string
    {
        $question = $expansion->question;
        $list = static fn (array $columns): string => implode(', ', array_map(static fn (FeedColumn $column): string => $column->sql(), $columns));
        $by = $list($expansion->link->there());
        // A name that no column of a feed has, since these hold no blanks.
        $inner = "SELECT {$list($read)}, ROW_NUMBER() OVER (PARTITION BY $by ORDER BY {$question->order->sql()}) AS `the place` FROM `{$expansion->link->to->feed->view()}` WHERE $condition->sql";
        $cut = [];
        $question->skip > 0 && $cut[] = "`the place` > $question->skip";
        $question->top !== null && $cut[] = '`the place` <= '.($question->skip + $question->top);

        return "SELECT * FROM ($inner) AS _related".($cut === [] ? '' : ' WHERE '.implode(' AND ', $cut))." ORDER BY $by, `the place`";
    }

    /**
     * Rows in which some columns hold one of these.
     *
     * @param  list<FeedColumn>  $columns
     * @param  non-empty-list<list<string>>  $values
     */
    public static function anyOf(array $columns, array $values): BoundSql
    {
        $parts = array_map(static fn (FeedColumn $column): OrderPart => new OrderPart($column), $columns);
        $bound = [];
        $tuples = [];
        foreach ($values as $tuple) {
            $terms = array_map(static fn (OrderPart $part, string $value) => $part->term($value), $parts, $tuple);
            $tuples[] = '('.implode(', ', array_map(static fn ($term): string => $term->sql, $terms)).')';
            foreach ($terms as $term) {
                array_push($bound, ...$term->values);
            }
        }
        $names = array_map(static fn (FeedColumn $column): string => $column->sql(), $columns);

        return new BoundSql('('.implode(', ', $names).') IN ('.implode(', ', $tuples).')', $bound);
    }

    /**
     * @param  list<string|null>  $values
     */
    public static function key(array $values): string
    {
        return (string) json_encode($values, JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE);
    }
}
