<?php

declare(strict_types=1);

namespace App\Models;

use DeepSpring\Change\ChangeState;
use DeepSpring\Change\RecordAct;
use DeepSpring\Change\RecordChange;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * One change of one record.
 *
 * @property int $id
 * @property int $change_set_id
 * @property int $number
 * @property RecordAct $kind
 * @property int $action which one, of those of the table
 * @property ChangeState $state
 * @property array<string, string>|null $key column → value; null for a record that is new
 * @property string|null $key_hash
 * @property array<string, string|null> $before column → value, as the person saw it
 * @property array<string, string|null> $after of the columns that change
 * @property array<string, string> $given inputs of an action that a person filled
 * @property array<string, string|null>|null $theirs what the service holds, of the columns that change
 * @property array<string, string> $faults by column; "" for what concerns none
 * @property string|null $reason
 * @property string $mark by which a service tells a repetition from a second request
 * @property string|null $travels alone or together, where that was marked when it left
 * @property int $tries
 * @property int|null $status
 * @property int|null $milliseconds
 * @property Carbon|null $sent_at
 * @property Carbon|null $done_at
 * @property Carbon|null $confirmed_at since when a refresh that began afterwards has read it
 * @property int|null $undoes the entry of the journal that it takes back
 * @property string|null $record that the service answered with, deflated
 * @property ChangeSet $set
 */
final class Change extends Record
{
    public $timestamps = false;

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @var array<string, string> */
    protected $casts = [
        'kind' => RecordAct::class, 'state' => ChangeState::class, 'key' => 'array', 'before' => 'array', 'after' => 'array', 'given' => 'array', 'theirs' => 'array', 'faults' => 'array',
        'sent_at' => 'datetime', 'done_at' => 'datetime', 'confirmed_at' => 'datetime',
    ];

    /** @var array<string, mixed> */
    protected $attributes = ['before' => '[]', 'after' => '[]', 'given' => '[]', 'faults' => '[]', 'action' => 0, 'tries' => 0, 'state' => 'pending'];

    /** @var array<string, mixed> values that were read, each once: they are asked for many times while one is sent */
    private array $read = [];

    public function getAttribute($key): mixed
    {
        return isset($this->casts[$key]) && array_key_exists($key, $this->attributes) ? $this->read[$key] ??= parent::getAttribute($key) : parent::getAttribute($key);
    }

    public function setAttribute($key, $value): mixed
    {
        unset($this->read[$key]);

        return parent::setAttribute($key, $value);
    }

    /**
     * @param  array<string, mixed>  $attributes
     */
    public function setRawAttributes(array $attributes, $sync = false): static
    {
        $this->read = [];

        return parent::setRawAttributes($attributes, $sync);
    }

    /**
     * @return BelongsTo<ChangeSet, $this>
     */
    public function set(): BelongsTo
    {
        return $this->belongsTo(ChangeSet::class, 'change_set_id');
    }

    public function wanted(): RecordChange
    {
        return new RecordChange($this->kind, $this->before + ($this->key ?? []), $this->after, $this->given, $this->action, $this->mark);
    }

    /**
     * "8812", or "8812 · 3" where the key has two columns; "new" for a record that is not there yet.
     */
    public function record(): string
    {
        return $this->key === null ? 'new' : implode(' · ', $this->key);
    }

    /**
     * @param  array<string, string|null>  $key
     */
    public static function hash(array $key): string
    {
        return hash('xxh128', (string) json_encode(array_map(static fn (?string $one): string => (string) $one, array_values($key))));
    }
}
