<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\Feed;
use App\Models\KeptColumn;
use App\Models\KeptTable;
use App\Models\TableState;
use App\Models\User;
use App\Reservoir\Views;
use DeepSpring\Feed\BoundSql;
use DeepSpring\Feed\LiteralTerm;
use DeepSpring\History\HistorySettings;
use DeepSpring\Value\SafeNames;
use Illuminate\Database\Connection;

/**
 * Makes, changes and publishes feeds. What is on has a view of the database, defined by its owner's account, with the
 * columns and rows that are handed out and no others.
 */
final readonly class FeedBook
{
    public function __construct(private Views $views, private FeedTies $ties, private AuditLog $log, private Connection $database)
    {
    }

    /**
     * A feed of all that a table holds, which nobody can read yet.
     */
    public function draft(KeptTable $table, User $by): Feed
    {
        $base = trim((string) preg_replace('/[^a-z0-9]+/', '-', strtolower($table->name)), '-');
        $base = preg_match('/^[a-z]/', $base) === 1 ? substr($base, 0, 50) : 'feed-'.substr($base, 0, 40);
        for ($name = $base, $number = 2; Feed::query()->where('name', $name)->exists(); $number++) {
            $name = "$base-$number";
        }
        $given = array_map(static fn (KeptColumn $column): string => $column->name, $table->keptColumns());
        $seen = SafeNames::all(array_map(static fn (string $one): string => preg_match(FeedRules::COLUMN, $one) === 1 ? $one : SafeNames::clean($one), $given));
        $columns = array_map(static fn (string $one, string $column): array => ['name' => $one, 'column' => $column], $seen, $given);
        $names = array_combine($given, $seen);

        return Feed::query()->create([
            'environment_id' => $table->environment_id, 'user_id' => $by->id, 'name' => $name, 'title' => $table->title(), 'about' => $table->texts['comment'] ?? '', 'reads' => $table->name,
            'columns' => $columns, 'key' => array_map(static fn (string $one): string => $names[$one], $table->key),
        ]);
    }

    /**
     * The next version of a feed, beside it, as the feed is now.
     */
    public function next(Feed $feed, User $by): Feed
    {
        $next = $feed->replicate(['is_on', 'fault']);
        $next->fill(['user_id' => $by->id, 'version' => 1 + (int) Feed::query()->where('name', $feed->name)->max('version'), 'is_on' => false])->save();

        return $next;
    }

    /**
     * @param  array<string, mixed>  $settings  columns of the model that are changed
     * @param  bool  $insist  although readers lose something
     *
     * @throws CannotPublish
     */
    public function change(Feed $feed, array $settings, User $by, bool $insist = false): void
    {
        $was = clone $feed;
        $feed->fill($settings)->unsetRelation('user');
        $table = $this->table($feed);
        FeedRules::check($feed, $table);
        if ($was->is_on && ! $insist) {
            $losses = FeedRules::losses($was, $feed, $table);
            if ($losses !== []) {
                throw CannotPublish::because('Readers would lose something: '.implode(' ', $losses).FeedReaders::said($feed).' Publish it as a new version beside this one, or save again to change this one all the same.', 'columns');
            }
        }
        if ($feed->is_on) {
            $this->define($feed, $table);
        }
        $feed->fill(['fault' => null, 'columns' => self::typed($feed, $table)])->save();
        $feed->is_on && $this->ties->align($feed->environment_id);
        $was->is_on && $this->log->note(Action::FeedChanged, $feed->path(), by: $by);
    }

    /**
     * @throws CannotPublish
     */
    public function publish(Feed $feed, User $by): void
    {
        $table = $this->table($feed);
        FeedRules::check($feed, $table);
        // Which rows there are for a reader cannot be counted beforehand, so the key has to hold for all of them.
        $all = clone $feed;
        $feed->asksReader() === [] || $all->condition = '';
        $this->define($all, $table);
        try {
            $this->checkKey($all);
            $feed->asksReader() === [] || $this->define($feed, $table);
            $feed->tracks = $all->tracks;
        } catch (CannotPublish $cannot) {
            $this->views->drop($feed->environment, $feed->view());

            throw $cannot;
        }
        $feed->fill(['is_on' => true, 'fault' => null, 'columns' => self::typed($feed, $table)])->save();
        $this->ties->align($feed->environment_id);
        $feed->refresh();
        $this->log->note(Action::FeedPublished, $feed->path(), "$feed->reads in {$feed->environment->name}", $by);
    }

    public function turnOff(Feed $feed, User $by): void
    {
        $feed->fill(['is_on' => false])->save();
        $this->views->drop($feed->environment, $feed->view());
        $this->views->drop($feed->environment, $feed->changes());
        $this->log->note(Action::FeedOff, $feed->path(), by: $by);
    }

    public function delete(Feed $feed, User $by): void
    {
        $this->views->drop($feed->environment, $feed->view());
        $this->views->drop($feed->environment, $feed->changes());
        $feed->delete();
        $this->log->note(Action::FeedDeleted, $feed->path(), by: $by);
    }

    /**
     * The view of a feed that was not kept.
     */
    public function forget(Feed $feed): void
    {
        Feed::query()->whereKey($feed->id)->where('is_on', true)->exists() || $this->views->drop($feed->environment, $feed->view());
    }

    /**
     * Views of feeds that are not there, after the database was brought back from a backup.
     */
    public function alignViews(): void
    {
        foreach (Feed::query()->with('environment', 'user')->where('is_on', true)->get() as $feed) {
            try {
                $table = $this->table($feed);
                $missing = FeedShape::of($feed, $table)->missing;
                $fault = $missing === [] ? self::retyped($feed, $table) : "$feed->reads no longer has the column ".implode(', ', $missing).', so the feed cannot be read.';
                $wants = TableState::of($table, TableState::CHANGES)->exists() && $feed->key !== [] && ! $table->is_view;
                if ($missing === [] && (! $this->views->exists($feed->environment, $feed->view()) || $wants !== ($feed->tracks && $this->views->exists($feed->environment, $feed->changes())))) {
                    $this->define($feed, $table);
                    Feed::query()->whereKey($feed->id)->toBase()->update(['tracks' => $feed->tracks]);
                }
            } catch (CannotPublish $cannot) {
                $fault = $cannot->getMessage();
            }
            if ($fault !== $feed->fault) {
                Feed::query()->whereKey($feed->id)->toBase()->update(['fault' => $fault === null ? null : mb_substr($fault, 0, 1000)]);
            }
        }
    }

    /**
     * Columns with the types that they have when the feed is saved, which is what its readers count on.
     *
     * @return list<array{name: string, column: string, type: string}>
     */
    private static function typed(Feed $feed, KeptTable $table): array
    {
        $labels = array_column($table->columns, 'label', 'name');

        return array_map(static fn (array $one): array => ['name' => $one['name'], 'column' => $one['column'], 'type' => (string) ($labels[$one['column']] ?? '')], $feed->columns);
    }

    /**
     * What a source made something else of, in a sentence.
     */
    private static function retyped(Feed $feed, KeptTable $table): ?string
    {
        $said = [];
        foreach (self::typed($feed, $table) as $place => $now) {
            $was = $feed->columns[$place]['type'] ?? '';
            if ($was !== '' && explode(',', $was)[0] !== explode(',', $now['type'])[0]) {
                $said[] = "{$now['name']} was $was and is {$now['type']} now";
            }
        }

        return $said === [] ? null : implode('; ', $said).'. Readers get it like this. Save the feed if that is right; else leave the column out, or have its source give it the type that it had.';
    }

    /**
     * @throws CannotPublish
     */
    private function table(Feed $feed): KeptTable
    {
        return KeptTable::query()->with('endpoint')->where(['environment_id' => $feed->environment_id, 'name' => $feed->reads])->first() ?? throw CannotPublish::because("There is no table $feed->reads in {$feed->environment->name} any more.", 'reads');
    }

    /**
     * @throws CannotPublish
     */
    private function define(Feed $feed, KeptTable $table): void
    {
        if (KeptTable::query()->where(['environment_id' => $feed->environment_id, 'name' => $feed->view()])->exists()) {
            throw CannotPublish::because("A table is called {$feed->view()}, as this feed has to be in the database. Give that another name.", 'reads');
        }
        $quoted = static fn (string $name): string => '`'.str_replace('`', '``', $name).'`';
        $types = array_column($table->columns, 'type', 'name');
        // What a query makes of texts may be compared in another way than texts are here, and pages follow how they are compared.
        $columns = array_map(static fn (array $one): string => $table->is_view && ($types[$one['column']] ?? 'text') === 'text' ? "CONVERT({$quoted($one['column'])} USING utf8mb4) COLLATE ".LiteralTerm::COLLATION : $quoted($one['column']), $feed->columns);
        $names = array_column($feed->columns, 'name');
        if ($feed->key === []) {
            $columns[] = $quoted(FeedShape::ROW);
            $names[] = FeedShape::ROW;
        }
        $sql = 'SELECT '.implode(', ', $columns).' FROM '.$quoted($table->name).' WHERE '.$this->written(FeedRules::condition($feed, $table));
        try {
            $this->views->define($feed->user, $feed->environment, $feed->view(), $names, $sql);
            $this->defineChanges($feed, $table);
        } catch (\PDOException $refused) {
            throw CannotPublish::because('The database does not take it: '.$refused->getMessage(), 'condition', $refused);
        }
    }

    /**
     * Where versions of the rows are kept, when those that the feed shows began and ended: by their key alone, and only
     * of versions that its readers saw.
     *
     * @throws \PDOException
     */
    private function defineChanges(Feed $feed, KeptTable $table): void
    {
        $versions = $table->is_view || $feed->key === [] ? null : TableState::of($table, TableState::CHANGES)->first();
        $known = $versions === null ? [] : array_column($versions->columns, 'name');
        $keys = array_values(array_filter($feed->columns, static fn (array $one): bool => in_array($one['name'], $feed->key, true) && in_array($one['column'], $known, true)));
        $feed->tracks = $versions !== null && count($keys) === count($feed->key);
        if (! $feed->tracks || $versions === null) {
            $this->views->drop($feed->environment, $feed->changes());

            return;
        }
        $quoted = static fn (string $name): string => '`'.str_replace('`', '``', $name).'`';
        $sql = 'SELECT '.implode(', ', array_map($quoted, [...array_column($keys, 'column'), HistorySettings::FROM, HistorySettings::TO]))." FROM {$quoted($versions->name)} WHERE ".$this->written(FeedRules::condition($feed, $table));
        $this->views->define($feed->user, $feed->environment, $feed->changes(), [...array_column($keys, 'name'), HistorySettings::FROM, HistorySettings::TO], $sql);
    }

    /**
     * A condition with its values in it, since a view has no place for them. Names may hold question marks, which are none of a value.
     */
    private function written(BoundSql $condition): string
    {
        $values = $condition->values;

        return (string) preg_replace_callback('/`(?:[^`]|``)*+`(*SKIP)(*FAIL)|\?/', function () use (&$values): string {
            return $this->database->getPdo()->quote((string) array_shift($values));
        }, $condition->sql);
    }

    /**
     * A key that somebody chose tells rows apart, and is never empty.
     *
     * @throws CannotPublish
     */
    private function checkKey(Feed $feed): void
    {
        if ($feed->key === []) {
            return;
        }
        $found = $this->views->counts($feed->environment, $feed->view(), $feed->key);
        if ($found->empty > 0) {
            throw CannotPublish::because("In $found->empty of $found->rows rows a column of the key is empty: ".implode(', ', $feed->key).'. Choose columns that always have a value.', 'key');
        }
        if ($found->different < $found->rows) {
            throw CannotPublish::because(implode(', ', $feed->key)." does not tell all rows apart: $found->rows rows have $found->different different values. Add a column to the key.", 'key');
        }
    }
}
