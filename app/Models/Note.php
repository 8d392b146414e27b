<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * What people are told without being asked: raised once for one cause, closed when that is gone.
 *
 * @property int $id
 * @property int $environment_id
 * @property int|null $source_id
 * @property int|null $endpoint_id
 * @property string|null $table
 * @property NoteKind $kind
 * @property string $cause
 * @property string|null $open_cause the same while it is open
 * @property bool $is_failure
 * @property string $title the thing concerned
 * @property string $sentence
 * @property string|null $reader_sentence for those who may not see sources; null where it is none of theirs
 * @property string|null $advice what would help
 * @property string|null $meanwhile what readers see
 * @property string $link path of the page where something can be done
 * @property Carbon $since
 * @property Carbon $raised_at
 * @property Carbon|null $closed_at
 * @property Carbon|null $aside_until
 * @property int|null $aside_by
 * @property bool $told_raised
 * @property bool $told_closed
 * @property Environment $environment
 * @property Source|null $source
 * @property Endpoint|null $endpoint
 * @property User|null $asideBy
 */
final class Note extends Record
{
    public $timestamps = false;

    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['kind' => NoteKind::class, 'is_failure' => 'boolean', 'told_raised' => 'boolean', 'told_closed' => 'boolean', 'since' => 'datetime', 'raised_at' => 'datetime', 'closed_at' => 'datetime', 'aside_until' => 'datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /**
     * @return BelongsTo<Environment, $this>
     */
    public function environment(): BelongsTo
    {
        return $this->belongsTo(Environment::class);
    }

    /**
     * @return BelongsTo<Source, $this>
     */
    public function source(): BelongsTo
    {
        return $this->belongsTo(Source::class);
    }

    /**
     * @return BelongsTo<Endpoint, $this>
     */
    public function endpoint(): BelongsTo
    {
        return $this->belongsTo(Endpoint::class);
    }

    /**
     * @return BelongsTo<User, $this>
     */
    public function asideBy(): BelongsTo
    {
        return $this->belongsTo(User::class, 'aside_by');
    }

    public function isOpen(): bool
    {
        return $this->closed_at === null;
    }

    public function isAside(): bool
    {
        return $this->isOpen() && $this->aside_until !== null && $this->aside_until->isFuture();
    }

    /**
     * What somebody may read of it.
     */
    public function sentenceFor(Role $role): ?string
    {
        return $role->mayBuild() ? $this->sentence : $this->reader_sentence;
    }

    /**
     * Where somebody can do something about it: the page itself, or of what only builders see the table.
     *
     * @return array{string, string}|null path and what it leads to
     */
    public function step(Role $role): ?array
    {
        return match (true) {
            $role->mayBuild() || str_starts_with($this->link, '/tables/') => [$this->link, $this->kind->opens()],
            $this->table !== null => ["/tables/{$this->table}", 'Open the table'],
            default => null,
        };
    }

    /**
     * Those of an environment that somebody may see.
     *
     * @return Builder<self>
     */
    public static function for(Environment $environment, Role $role): Builder
    {
        return self::query()->where('environment_id', $environment->id)->when(! $role->mayBuild(), static fn (Builder $query) => $query->whereNotNull('reader_sentence'));
    }

    /**
     * @param  Builder<self>  $notes
     * @param  string  $state  open, aside, closed or all
     * @return Builder<self>
     */
    public static function inState(Builder $notes, string $state): Builder
    {
        $now = Carbon::now();

        return match ($state) {
            'open' => $notes->where('closed_at', null)->where(static fn (Builder $either) => $either->where('aside_until', null)->orWhere('aside_until', '<=', $now)),
            'aside' => $notes->where('closed_at', null)->where('aside_until', '>', $now),
            'closed' => $notes->where('closed_at', '!=', null),
            default => $notes,
        };
    }

    /**
     * Those that ask for a look now, failures first.
     *
     * @return Builder<self>
     */
    public static function open(Environment $environment, Role $role): Builder
    {
        return self::inState(self::for($environment, $role), 'open')->latest('is_failure')->latest('raised_at')->latest('id');
    }
}
