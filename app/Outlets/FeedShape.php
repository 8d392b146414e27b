<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;
use App\Models\KeptColumn;
use App\Models\KeptTable;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\OrderPart;

/**
 * Columns of a feed, and what tells its rows apart.
 */
final readonly class FeedShape
{
    /** The column that numbers rows without a key; readers do not see it. */
    public const ROW = '_row';

    /**
     * @param  list<FeedColumn>  $columns  as readers see them
     * @param  list<OrderPart>  $key
     * @param  list<string>  $missing  columns that the table no longer has
     */
    private function __construct(public array $columns, public array $key, public array $missing)
    {
    }

    public static function of(Feed $feed, ?KeptTable $table): self
    {
        $kept = $table === null ? [] : array_column($table->keptColumns(), null, 'name');
        $columns = $missing = [];
        foreach ($feed->columns as $one) {
            $column = $kept[$one['column']] ?? null;
            if ($column === null) {
                $missing[] = $one['column'];

                continue;
            }
            $columns[] = self::asSeen($one['name'], $column, in_array($one['name'], $feed->key, true));
        }
        $byName = array_column($columns, null, 'name');
        $key = $feed->key === [] ? [new FeedColumn(self::ROW, 'integer', isKey: true)] : array_values(array_filter(array_map(static fn (string $name): ?FeedColumn => $byName[$name] ?? null, $feed->key)));

        return new self($columns, array_map(static fn (FeedColumn $column): OrderPart => new OrderPart($column), $key), $missing);
    }

    /**
     * The columns of a table under their own names, for the condition of a feed.
     *
     * @return list<FeedColumn>
     */
    public static function ofTable(KeptTable $table): array
    {
        return array_map(static fn (KeptColumn $column): FeedColumn => self::asSeen($column->name, $column, in_array($column->name, $table->key, true)), $table->keptColumns());
    }

    private static function asSeen(string $name, KeptColumn $column, bool $isKey): FeedColumn
    {
        return new FeedColumn($name, $column->mask === 'none' ? $column->type : 'text', $column->scale, $isKey, $column->title, $column->unit, $column->comment);
    }

    public function column(string $name): ?FeedColumn
    {
        return array_column($this->columns, null, 'name')[$name] ?? null;
    }
}
