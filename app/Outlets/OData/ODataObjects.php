<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Models\Feed;
use App\Models\Principal;
use App\Outlets\FeedPage;
use App\Outlets\FeedProblem;
use App\Outlets\FeedQuestion;
use App\Outlets\RelatedRows;
use App\Outlets\RelatedRowsLeft;
use DeepSpring\Feed\FeedColumn;

/**
 * Rows of a page as objects, with the rows of other feeds that were asked for inside them.
 */
final class ODataObjects
{
    /** @var array<int, array{Feed, int}> feeds that were read, and how many rows of each, by the feed */
    private array $read = [];

    private readonly RelatedRowsLeft $left;

    public function __construct(private readonly RelatedRows $related, private readonly ODataWriting $writing, private readonly string $root, private readonly FeedLinks $links, private readonly Principal $reader)
    {
        $this->left = new RelatedRowsLeft;
    }

    /**
     * @return list<string> in the order of the rows
     *
     * @throws FeedProblem
     */
    public function of(FeedEntity $entity, FeedQuestion $question, FeedPage $page): array
    {
        $this->read[$entity->feed->id] = [$entity->feed, ($this->read[$entity->feed->id][1] ?? 0) + count($page->rows)];
        $write = $this->writing->rows($this->root, $entity, $question, $page->places, $this->links);
        $members = $this->members($question, $page);
        $objects = [];
        foreach ($page->rows as $number => $row) {
            $objects[] = $write($row, $members[$number] ?? []);
        }

        return $objects;
    }

    /**
     * Rows that were read, of all feeds.
     */
    public function rows(): int
    {
        return array_sum(array_column($this->read, 1));
    }

    /**
     * Other feeds of which rows came along, and how many.
     *
     * @return list<array{Feed, int}>
     */
    public function along(Feed $asked): array
    {
        return array_values(array_diff_key($this->read, [$asked->id => true]));
    }

    /**
     * @return array<int, list<string>> by the number of the row
     *
     * @throws FeedProblem
     */
    private function members(FeedQuestion $question, FeedPage $page): array
    {
        $members = [];
        $all = $this->related->of($page, $question->expand, $this->reader, $this->left);
        foreach ($question->expand as $one) {
            $pages = $all[$one->link->name];
            // All of them are written together, so that what belongs to them is looked up together, too.
            $first = reset($pages);
            $objects = $first === false ? [] : $this->of($one->link->to, $one->question, new FeedPage($first->columns, array_merge(...array_map(static fn (FeedPage $some): array => $some->rows, array_values($pages))), null, null, $first->places));
            $from = 0;
            $parts = [];
            foreach ($pages as $key => $some) {
                $parts[$key] = [array_slice($objects, $from, count($some->rows)), $some->total];
                $from += count($some->rows);
            }
            foreach ($page->rows as $number => $row) {
                $key = RelatedRows::key(array_map(static fn (FeedColumn $column): ?string => $row[$page->places[$column->name]], $one->link->here()));
                [$some, $total] = $parts[$key] ?? [[], $one->question->total ? 0 : null];
                $members[$number][] = $this->writing->related($one->link, $some, $total);
            }
        }

        return $members;
    }
}
