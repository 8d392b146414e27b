<?php

declare(strict_types=1);

namespace App\Models;

use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Value\JsonSubtrees;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Support\Carbon;

/**
 * One reading of an endpoint into its tables.
 *
 * @property int $id
 * @property int $endpoint_id
 * @property int $environment_id
 * @property int $version
 * @property RunState $state
 * @property int $pages
 * @property int $records
 * @property int $rows
 * @property int $rejects
 * @property int $filtered rows that a condition left out
 * @property int $duplicates
 * @property int $bytes
 * @property string $kind refresh; try: it reads everything and keeps nothing; rebuild: from the pages that are kept
 * @property string|null $document that a long try reads by
 * @property string|null $begun_by what began it, where that was no person
 * @property list<int>|null $chain endpoints whose refreshes led to it
 * @property bool $whole whether everything is read, also where changes would be enough
 * @property bool $takes_any whether new rows are put in place though a check would stop them
 * @property array{rows: int, known: int, asked: int, empty: int, failed: int, without: int}|null $lookup what became of the rows it was asked for
 * @property Carbon|null $known_since from when on an answer counts as known
 * @property array{new: int, changed: int, gone: int, same: int, older: int}|null $changes what an increment brought
 * @property array{largest: string|null, first: string|null, began: int|null}|null $seen what says from where the next increment begins
 * @property bool $followed whether what is read after it has been seen to
 * @property string $tables names of the tables it fills, with blanks between
 * @property string|null $active what it is for, as long as it waits or reads
 * @property int $attempt counts the processes that worked for it
 * @property int $deaths of processes that got no page further
 * @property int $died_at_page
 * @property Carbon|null $heartbeat_at
 * @property string|null $waits_for
 * @property string|null $stop_how
 * @property bool $continuable whether what it read so far is there to be gone on with
 * @property bool $every_exchange whether every exchange is kept
 * @property int|null $total records there are, as the API says
 * @property int $retries
 * @property int $waited milliseconds
 * @property list<array{code: string, sentence: string, doubt: bool}>|null $findings
 * @property string|null $ended
 * @property array{code: string, what: string, advice: string, where: string}|null $diagnosis
 * @property list<array{start: int, ms: int, records: int|null, waited: int, page?: int, to?: int, tries?: int}>|null $ladder milliseconds
 * @property Carbon|null $started_at
 * @property Carbon|null $ended_at
 * @property Carbon $created_at
 * @property Endpoint $endpoint
 * @property Environment $environment
 * @property User|null $user
 */
final class Run extends Record
{
    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['state' => RunState::class, 'diagnosis' => 'array', 'ladder' => 'array', 'findings' => 'array', 'chain' => 'array', 'changes' => 'array', 'seen' => 'array', 'lookup' => 'array', 'known_since' => 'datetime', 'whole' => 'boolean', 'takes_any' => 'boolean', 'followed' => 'boolean', 'continuable' => 'boolean', 'every_exchange' => 'boolean', 'heartbeat_at' => 'datetime', 'started_at' => 'datetime', 'ended_at' => 'datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /**
     * @return BelongsTo<Endpoint, $this>
     */
    public function endpoint(): BelongsTo
    {
        return $this->belongsTo(Endpoint::class);
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
     * @return HasMany<RejectedValue, $this>
     */
    public function rejectedValues(): HasMany
    {
        return $this->hasMany(RejectedValue::class);
    }

    /**
     * @return HasMany<RunEvent, $this>
     */
    public function events(): HasMany
    {
        return $this->hasMany(RunEvent::class);
    }

    /**
     * Whose the staged tables are.
     */
    public function owner(): string
    {
        return ($this->isTry() ? 't' : 'e').$this->endpoint_id;
    }

    /**
     * Whether it reads everything to prove that it can be read, and keeps nothing.
     */
    public function isTry(): bool
    {
        return $this->kind === 'try';
    }

    public function isRebuild(): bool
    {
        return $this->kind === 'rebuild';
    }

    /**
     * What it reads by: the version that was published when it was asked for, or for a long try the
     * draft as it was then.
     */
    public function file(): SourceFile
    {
        return $this->document !== null ? SourceFile::trusted((array) JsonSubtrees::decoded($this->document)) : $this->endpoint->source->documents()->where('version', $this->version)->firstOrFail()->file();
    }

    /**
     * Who or what began it: a name, "the schedule"; null where it is not known any more.
     */
    public function beganThrough(): ?string
    {
        return $this->begun_by ?? $this->user?->name;
    }

    /**
     * Whether something was found by which the list may not be whole.
     */
    public function isInDoubt(): bool
    {
        return array_filter($this->findings ?? [], static fn (array $finding): bool => $finding['doubt']) !== [];
    }

    /**
     * Records a second so far.
     */
    public function speed(): ?float
    {
        $seconds = $this->started_at === null ? 0 : abs($this->started_at->diffInMilliseconds($this->ended_at ?? Carbon::now())) / 1000;

        return $seconds < 0.5 ? null : $this->records / $seconds;
    }

    /**
     * Seconds until it will probably be done; null where nothing says how much there is.
     */
    public function secondsLeft(): ?int
    {
        if ($this->lookup !== null && $this->started_at !== null) {
            // Of a lookup, rows are counted, and not what comes for them.
            $speed = $this->lookup['rows'] / max(0.001, abs($this->started_at->diffInMilliseconds(now())) / 1000);

            return $this->total === null || $speed <= 0 || $this->state !== RunState::Running ? null : (int) ceil(max(0, $this->total - $this->lookup['rows']) / $speed);
        }
        $speed = $this->speed();

        return $this->total === null || $speed === null || $speed <= 0 || $this->state !== RunState::Running ? null : (int) ceil(max(0, $this->total - $this->records) / $speed);
    }
}
