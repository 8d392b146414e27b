<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;
use App\Models\KeptTable;
use DeepSpring\Feed\BoundSql;
use DeepSpring\Feed\CannotFilter;
use DeepSpring\Feed\FeedOrder;
use DeepSpring\Feed\FilterSql;
use DeepSpring\Feed\TermKind;
use DeepSpring\OData\ODataVersion;

/**
 * What the settings of a feed have to keep, and what readers would lose by a change of them.
 */
final class FeedRules
{
    public const NAME = '/^[a-z][a-z0-9]*(?:-[a-z0-9]+)*$/D';

    /** Names of columns that filters can write (OData 4.01 ABNF `odataIdentifier`, in Latin letters). */
    public const COLUMN = '/^[A-Za-z_][A-Za-z0-9_]{0,63}$/D';

    public const MOST_ROWS = 10_000;

    /**
     * @throws CannotPublish
     */
    public static function check(Feed $feed, KeptTable $table): void
    {
        if (preg_match(self::NAME, $feed->name) !== 1 || strlen($feed->name) > 60) {
            throw CannotPublish::because("\"$feed->name\" cannot stand in an address: lower-case letters, digits and hyphens, a letter first, like loans-open.");
        }
        if (Feed::query()->where(['name' => $feed->name, 'version' => $feed->version])->whereKeyNot($feed->id)->exists()) {
            throw CannotPublish::because("There is a feed $feed->name, version $feed->version, already.");
        }
        $seen = [];
        foreach ($feed->columns as $column) {
            if (preg_match(self::COLUMN, $column['name']) !== 1 || $column['name'] === FeedShape::ROW) {
                throw CannotPublish::because("A column cannot be called \"{$column['name']}\" in a feed: Latin letters, digits and underscores, a letter first.", 'columns');
            }
            if (isset($seen[strtolower($column['name'])])) {
                throw CannotPublish::because("Two columns are called \"{$column['name']}\".", 'columns');
            }
            $seen[strtolower($column['name'])] = true;
        }
        $shape = FeedShape::of($feed, $table);
        if ($shape->missing !== []) {
            throw CannotPublish::because("$feed->reads no longer has the column ".implode(', ', $shape->missing).'. Leave it out, or wait until it is there again.', 'columns');
        }
        if ($shape->columns === []) {
            throw CannotPublish::because('A feed has at least one column.', 'columns');
        }
        self::checkSettings($feed, $shape, $table);
    }

    /**
     * @throws CannotPublish
     */
    private static function checkSettings(Feed $feed, FeedShape $shape, KeptTable $table): void
    {
        foreach ($feed->key as $name) {
            $column = $shape->column($name) ?? throw CannotPublish::because("The key names \"$name\", which is no column of the feed.", 'key');
            if ($column->kind() === TermKind::Json) {
                throw CannotPublish::because("$name holds JSON, which cannot tell rows apart.", 'key');
            }
        }
        if ($feed->key === [] && ($table->is_view || $table->key !== [])) {
            throw CannotPublish::because($table->is_view ? 'The rows of a view have no number, so name the columns that tell them apart.' : "Rows of $table->name are told apart by ".implode(', ', $table->key).', so there is no number of them. Name the columns of the key.', 'key');
        }
        try {
            FeedOrder::read($feed->sort, $shape->columns, $shape->key);
        } catch (CannotFilter $cannot) {
            throw CannotPublish::because($cannot->getMessage(), 'sort', $cannot);
        }
        self::condition($feed, $table);
        if ($feed->page < 1 || $feed->most > self::MOST_ROWS || $feed->page > $feed->most) {
            throw CannotPublish::because('A page has between 1 and '.self::MOST_ROWS.' rows, and the usual one is no larger than the largest.', 'page');
        }
        foreach ($feed->origins as $origin) {
            if ($origin !== '*' && preg_match('~^https?://[a-z0-9.-]+(?::\d{1,5})?$~D', $origin) !== 1) {
                throw CannotPublish::because("\"$origin\" is no origin of web pages, like https://portal.saltmarsh.example.", 'origins');
            }
        }
    }

    /**
     * @throws CannotPublish
     */
    public static function condition(Feed $feed, KeptTable $table): BoundSql
    {
        if (trim($feed->condition) === '') {
            return BoundSql::all();
        }
        if (preg_match('/\bnow\s*\(/i', $feed->condition) === 1) {
            throw CannotPublish::because('now() would be the moment at which the feed was published. Readers can use it in their filters.', 'condition');
        }
        try {
            return (new FilterSql(FeedShape::ofTable($table), ODataVersion::V4, new \DateTimeImmutable('2030-01-01'), knowsReader: true))->condition($feed->condition);
        } catch (CannotFilter $cannot) {
            throw CannotPublish::because($cannot->getMessage(), 'condition', $cannot);
        }
    }

    /**
     * What readers of one state would miss in the other, a sentence each.
     *
     * @return list<string>
     */
    public static function losses(Feed $was, Feed $now, KeptTable $table): array
    {
        $before = FeedShape::of($was, $table)->columns;
        $after = array_column(FeedShape::of($now, $table)->columns, null, 'name');
        $losses = [];
        foreach ($before as $column) {
            $other = $after[$column->name] ?? null;
            if ($other === null) {
                $losses[] = "$column->name is gone.";
            } elseif ($other->kind() !== $column->kind()) {
                $losses[] = "$column->name was {$column->kind()->value} and becomes {$other->kind()->value}.";
            }
        }
        if ($was->key !== $now->key) {
            $losses[] = 'The key was '.self::named($was->key).' and becomes '.self::named($now->key).', so addresses of single rows and of next pages change.';
        }

        return $losses;
    }

    /**
     * @param  list<string>  $key
     */
    private static function named(array $key): string
    {
        return $key === [] ? 'a number' : implode(', ', $key);
    }
}
