<?php

declare(strict_types=1);

namespace App\Models;

use DeepSpring\Feed\FilterSql;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Collection;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\BelongsToMany;
use Illuminate\Support\Carbon;

/**
 * Rows of a table that others read under an address of their own.
 *
 * @property int $id
 * @property int $environment_id
 * @property int $user_id
 * @property string $name in its address
 * @property int $version
 * @property string $title
 * @property string $about
 * @property string $reads the table or view
 * @property list<array{name: string, column: string, type?: string}> $columns in their order, by the name that readers see, with the type that each had when the feed was saved
 * @property string $condition a filter over the columns of the table; empty for all rows
 * @property list<string> $key names that readers see; empty where the rows have none and are numbered
 * @property string $sort as readers would write it; empty for the key
 * @property list<array{name: string, feed: int, many: bool, on: list<array{string, string}>}> $links ways to rows of other feeds, by columns that hold the same here and there
 * @property bool $tracks whether versions of its rows are kept, so that changes can be asked for
 * @property int $page rows of a page
 * @property int $most rows of the largest page
 * @property bool $is_on
 * @property bool $for_people whether whoever signed in may read it without a key
 * @property int $cache_seconds for which an answer may be kept
 * @property int|null $oldest_minutes age from which on it is not answered
 * @property list<string> $origins of web pages that may read it
 * @property string|null $fault why it cannot be read
 * @property Carbon $created_at
 * @property Carbon $updated_at
 * @property Environment $environment
 * @property User $user
 * @property Collection<int, Consumer> $consumers
 */
final class Feed extends Record
{
    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @var array<string, string> */
    protected $casts = ['columns' => 'array', 'key' => 'array', 'origins' => 'array', 'links' => 'array', 'tracks' => 'boolean', 'is_on' => 'boolean', 'for_people' => 'boolean'];

    /** @var array<string, mixed> */
    protected $attributes = ['title' => '', 'about' => '', 'condition' => '', 'key' => '[]', 'origins' => '[]', 'links' => '[]', 'tracks' => false, 'version' => 1, 'page' => 100, 'most' => 1000, 'is_on' => false, 'for_people' => true, 'sort' => '', 'cache_seconds' => 0];

    /**
     * The view of the database from which it is answered, and which is all that its readers' accounts may read.
     */
    public function view(): string
    {
        return "feed__$this->id";
    }

    /**
     * The view that says when its rows began to be as they are, and ended.
     */
    public function changes(): string
    {
        return "feed__{$this->id}__changes";
    }

    /**
     * Views of feeds that whoever signed in may read.
     *
     * @return list<string>
     */
    public static function viewsForPeople(Environment $environment): array
    {
        return self::views(self::query()->where(['environment_id' => $environment->id, 'is_on' => true, 'for_people' => true]));
    }

    /**
     * @param  Builder<self>  $feeds
     * @return list<string>
     */
    public static function views(Builder $feeds): array
    {
        $views = [];
        foreach ($feeds->get(['feeds.id', 'feeds.tracks']) as $feed) {
            array_push($views, $feed->view(), ...($feed->tracks ? [$feed->changes()] : []));
        }

        return $views;
    }

    /**
     * Those that read some tables.
     *
     * @param  list<string>  $tables
     * @return Collection<int, self>
     */
    public static function of(int $environment, array $tables): Collection
    {
        return self::query()->where('environment_id', $environment)->whereIn('reads', $tables)->orderBy('name')->orderBy('version')->get();
    }

    /**
     * What its condition asks of whoever reads, by name.
     *
     * @return list<string>
     */
    public function asksReader(): array
    {
        return FilterSql::namesOfReader($this->condition);
    }

    /**
     * Its address below /feeds.
     */
    public function path(): string
    {
        return "v$this->version/$this->name";
    }

    /**
     * @return BelongsTo<Environment, $this>
     */
    public function environment(): BelongsTo
    {
        return $this->belongsTo(Environment::class);
    }

    /**
     * @return BelongsTo<User, $this>
     */
    public function user(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }

    /**
     * @return BelongsToMany<Consumer, $this>
     */
    public function consumers(): BelongsToMany
    {
        return $this->belongsToMany(Consumer::class, 'consumer_feeds');
    }
}
