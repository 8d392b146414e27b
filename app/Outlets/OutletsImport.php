<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Consumer;
use App\Models\Environment;
use App\Models\Feed;
use App\Models\KeptTable;
use App\Models\User;
use App\Reservoir\ReaderAccounts;
use Illuminate\Database\Connection;

/**
 * Takes an `outlets.yaml` over: all of it or nothing. What is there and not in the file stays as it is.
 *
 * @phpstan-import-type FeedPart from OutletsFile
 * @phpstan-import-type ReaderPart from OutletsFile
 */
final readonly class OutletsImport
{
    public function __construct(private FeedBook $book, private ReaderAccounts $accounts, private Connection $database)
    {
    }

    /**
     * @param  bool  $insist  although readers lose something
     * @return list<string> what was changed, a sentence each
     *
     * @throws CannotPublish
     */
    public function take(OutletsFile $file, User $by, bool $insist = false): array
    {
        $changes = $file->changes(OutletsFile::now());
        $published = [];
        try {
            $this->database->transaction(function () use ($file, $by, $insist, &$published): void {
                array_map($this->reader(...), $file->readers);
                foreach ($file->feeds as $part) {
                    $this->feed($part, $by, $insist, $published);
                }
            });
        } catch (CannotPublish $cannot) {
            // Views of the database are in no transaction.
            $this->book->alignViews();
            array_map($this->book->forget(...), $published);

            throw $cannot;
        }

        return $changes;
    }

    /**
     * @param  ReaderPart  $part
     *
     * @throws CannotPublish
     */
    private function reader(array $part): void
    {
        $consumer = Consumer::query()->where('name', $part['name'])->first() ?? new Consumer(['name' => $part['name']]);
        $was = $consumer->at_once;
        $consumer->fill([
            'user_id' => $this->owner($part['owner'], "The reader {$part['name']}")->id, 'purpose' => $part['purpose'], 'addresses' => $part['comes_from'], 'a_minute' => max(1, $part['requests_a_minute']), 'a_day' => max(1, $part['requests_a_day']), 'rows_a_day' => $part['rows_a_day'],
            'at_once' => max(1, $part['at_once']), 'values' => ReaderValues::read(ReaderValues::written($part['shown'])), 'refreshes' => OutsideControl::read(implode(' ', $part['refreshes'])),
        ])->save();
        $was !== $consumer->at_once && ! $consumer->wasRecentlyCreated && $this->accounts->drop($consumer);
    }

    /**
     * @param  FeedPart  $part
     * @param  list<Feed>  $published  those that were not on before
     *
     * @param-out  list<Feed>  $published
     *
     * @throws CannotPublish
     */
    private function feed(array $part, User $by, bool $insist, array &$published): void
    {
        $called = "The feed {$part['name']}";
        $environment = Environment::named($part['environment']) ?? throw CannotPublish::because("$called is in an environment \"{$part['environment']}\", which is not here.");
        $table = KeptTable::query()->where(['environment_id' => $environment->id, 'name' => $part['reads']])->first() ?? throw CannotPublish::because("$called reads {$part['reads']}, which is not in {$environment->name}.");
        $owner = $this->owner($part['owner'], $called);
        $feed = Feed::query()->with('environment', 'user')->where(['name' => $part['name'], 'version' => $part['version']])->first();
        if ($feed !== null && ($feed->environment_id !== $environment->id || $feed->reads !== $part['reads'])) {
            throw CannotPublish::because("$called is there already and reads $feed->reads in {$feed->environment->name}. Give it another version.");
        }
        $feed ??= $this->book->draft($table, $owner);
        $columns = array_map(static function (string $one): array {
            [$name, $column] = array_map(trim(...), explode('=', $one, 2)) + [1 => null];

            return ['name' => (string) $name, 'column' => $column ?? (string) $name];
        }, $part['columns']);
        $readers = Consumer::query()->whereIn('name', $part['readers'])->pluck('id', 'name');
        foreach ($part['readers'] as $name) {
            isset($readers[$name]) || throw CannotPublish::because("$called is for a reader \"$name\", which is neither here nor in the file.");
        }
        $wasOn = $feed->is_on;
        $this->book->change($feed, [
            'name' => $part['name'], 'version' => $part['version'], 'title' => $part['title'], 'about' => $part['about'], 'user_id' => $owner->id, 'columns' => $columns, 'condition' => $part['where'], 'key' => $part['key'], 'sort' => $part['order'], 'page' => $part['page'], 'most' => $part['at_most'],
            'for_people' => $part['for_people'], 'cache_seconds' => $part['cached_for'], 'oldest_minutes' => $part['refused_when_older_than'], 'origins' => $part['web_pages'],
        ], $by, $insist);
        $feed->consumers()->sync($readers->values()->all());
        if ($part['published'] && ! $wasOn) {
            $published[] = $feed;
            $this->book->publish($feed, $by);
        } elseif (! $part['published'] && $wasOn) {
            $this->book->turnOff($feed, $by);
        }
    }

    /**
     * @throws CannotPublish
     */
    private function owner(string $mail, string $called): User
    {
        return User::query()->where('email', $mail)->whereNull('off_at')->first() ?? throw CannotPublish::because("$called has the owner $mail, whom nobody here is.");
    }
}
