<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;
use DeepSpring\Feed\BoundSql;
use DeepSpring\Feed\CannotFilter;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\FeedOrder;
use DeepSpring\Feed\FilterSql;
use DeepSpring\Feed\OrderPart;
use DeepSpring\Feed\RowSource;
use DeepSpring\OData\ODataVersion;
use DeepSpring\Value\NearestName;

/**
 * What a reader asks of a feed.
 */
final readonly class FeedQuestion
{
    /** What can stand in the address of a REST reader. */
    public const PARAMETERS = ['fields', 'filter', 'order', 'search', 'top', 'after', 'total', 'as'];

    private const LONGEST_SEARCH = 200;

    /**
     * @param  list<FeedColumn>  $columns  that are answered, in their order
     * @param  int|null  $top  rows at most; null for as many as the form of the answer has by itself
     * @param  string  $after  where to go on; empty for the beginning
     * @param  string  $mark  all of it that has to stay the same from page to page
     * @param  int  $skip  rows that are passed over at the beginning
     * @param  RowSource|null  $source  what the rows are made of; null for the feed as it is
     * @param  list<Expansion>  $expand  rows of other feeds that come with each
     * @param  array<string, string>  $asked  values for the query that the feed reads
     */
    public function __construct(public array $columns, public BoundSql $condition, public FeedOrder $order, public ?int $top, public string $after, public bool $total, public string $mark, public int $skip = 0, public ?RowSource $source = null, public array $expand = [], public array $asked = [])
    {
    }

    /**
     * @param  array<string, mixed>  $asked  parameters of the address
     * @param  list<string>  $more  names of others that there are
     *
     * @throws FeedProblem
     */
    public static function rest(Feed $feed, FeedShape $shape, array $asked, \DateTimeImmutable $now, array $more = []): self
    {
        $texts = [];
        foreach ($asked as $name => $value) {
            $name = (string) $name;
            if (! in_array($name, self::PARAMETERS, true)) {
                $near = NearestName::to($name, [...self::PARAMETERS, ...$more]);
                throw FeedProblem::wrong($name, "There is no parameter \"$name\" here".($near === null ? '. There are '.implode(', ', [...self::PARAMETERS, ...$more]).'.' : "; \"$near\" was probably meant."));
            }
            $texts[$name] = is_string($value) ? $value : throw FeedProblem::wrong($name, "\"$name\" is said once.");
        }
        $conditions = [];
        if (trim($texts['filter'] ?? '') !== '') {
            try {
                $conditions[] = (new FilterSql($shape->columns, ODataVersion::V4, $now))->condition($texts['filter']);
            } catch (CannotFilter $cannot) {
                throw FeedProblem::ofFilter('filter', $cannot);
            }
        }
        if (($texts['search'] ?? '') !== '') {
            $conditions[] = self::search($texts['search'], $shape->columns);
        }

        return new self(
            self::fields($texts['fields'] ?? '', $shape->columns), BoundSql::all(...$conditions), self::order(($texts['order'] ?? '') === '' ? $feed->sort : $texts['order'], $shape->columns, $shape->key),
            self::number('top', $texts['top'] ?? '', $feed->most), $texts['after'] ?? '', in_array($texts['total'] ?? '', ['1', 'true'], true),
            (string) json_encode([$texts['filter'] ?? '', $texts['search'] ?? '', $texts['order'] ?? '']),
        );
    }

    /**
     * @param  list<FeedColumn>  $columns
     * @param  list<OrderPart>  $key
     *
     * @throws FeedProblem
     */
    public static function order(string $text, array $columns, array $key, string $parameter = 'order'): FeedOrder
    {
        try {
            return FeedOrder::read($text, $columns, $key);
        } catch (CannotFilter $cannot) {
            throw FeedProblem::ofFilter($parameter, $cannot);
        }
    }

    /**
     * @param  list<FeedColumn>  $columns
     * @return list<FeedColumn>
     *
     * @throws FeedProblem
     */
    public static function fields(string $text, array $columns, string $parameter = 'fields'): array
    {
        if (trim($text) === '' || trim($text) === '*') {
            return $columns;
        }
        $known = array_column($columns, null, 'name');
        $chosen = [];
        foreach (explode(',', $text) as $name) {
            $name = trim($name);
            if (! isset($known[$name])) {
                $near = NearestName::to($name, array_map(strval(...), array_keys($known)));
                throw FeedProblem::wrong($parameter, "There is no column \"$name\"".($near === null ? '.' : "; \"$near\" was probably meant."));
            }
            $chosen[$name] = $known[$name];
        }

        return array_values($chosen);
    }

    /**
     * @throws FeedProblem
     */
    public static function number(string $name, string $text, int $most): ?int
    {
        if ($text === '') {
            return null;
        }
        if (preg_match('/^\d{1,9}$/D', $text) !== 1) {
            throw FeedProblem::wrong($name, "\"$text\" is no number of rows.");
        }

        return (int) $text;
    }

    /**
     * The same, of fewer rows.
     */
    public function where(BoundSql $condition, ?int $top = null): self
    {
        return new self($this->columns, BoundSql::all($this->condition, $condition), $this->order, $top ?? $this->top, $this->after, $this->total, "$this->mark ".json_encode($condition), $this->skip, $this->source, $this->expand, $this->asked);
    }

    /**
     * The same, with values for the query that the feed reads.
     *
     * @param  array<string, string>  $asked
     */
    public function with(array $asked): self
    {
        return $asked === [] ? $this : new self($this->columns, $this->condition, $this->order, $this->top, $this->after, $this->total, "$this->mark ".json_encode($asked), $this->skip, $this->source, $this->expand, $asked);
    }

    /**
     * Rows with a text in one of their columns, whatever its letter case.
     *
     * @param  list<FeedColumn>  $columns
     *
     * @throws FeedProblem
     */
    public static function search(string $text, array $columns): BoundSql
    {
        if (mb_strlen($text) > self::LONGEST_SEARCH) {
            throw FeedProblem::wrong('search', 'What is searched for has at most '.self::LONGEST_SEARCH.' characters.');
        }
        $texts = array_values(array_filter($columns, static fn (FeedColumn $column): bool => $column->type !== 'json'));
        $pattern = '%'.strtr($text, ['\\' => '\\\\', '%' => '\\%', '_' => '\\_']).'%';

        return $texts === [] ? new BoundSql('FALSE', []) : new BoundSql(
            implode(' OR ', array_map(static fn (FeedColumn $column): string => "CONVERT({$column->sql()} USING utf8mb4) COLLATE utf8mb4_general_ci LIKE ?", $texts)),
            array_fill(0, count($texts), $pattern),
        );
    }
}
