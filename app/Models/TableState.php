<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * An earlier state of a kept table, or all versions of its rows.
 *
 * @property int $id
 * @property int $environment_id
 * @property int $endpoint_id
 * @property string $table that it is of
 * @property string $name as the database knows it
 * @property string $kind snapshot, changes or ended
 * @property bool $ready whether it can be read
 * @property bool $copied whether it is a copy, and not what was in place
 * @property int|null $run_id the run that made the state; of versions, the last one whose rows are among them
 * @property int|null $replaced_by the run after which it was no longer the present one
 * @property int $rows
 * @property list<array{name: string, given: string, type: string, label: string, scale: int|null, from: string, comment?: string, mask?: string, title?: string, unit?: string}> $columns
 * @property list<string> $key
 * @property Carbon $state_at when it was read; of versions, the first
 * @property Carbon|null $until when another took its place
 * @property Environment $environment
 */
final class TableState extends Record
{
    public const SNAPSHOT = 'snapshot';

    public const CHANGES = 'changes';

    /** Versions that others took the place of. */
    public const ENDED = 'ended';

    public $timestamps = false;

    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['ready' => 'boolean', 'copied' => 'boolean', 'columns' => 'array', 'key' => 'array', 'state_at' => 'datetime', 'until' => 'datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /**
     * @return BelongsTo<Environment, $this>
     */
    public function environment(): BelongsTo
    {
        return $this->belongsTo(Environment::class);
    }

    /**
     * Those of a table that can be read, the newest first.
     *
     * @return Builder<self>
     */
    public static function of(KeptTable $table, string $kind): Builder
    {
        return self::query()->where(['environment_id' => $table->environment_id, 'table' => $table->name, 'kind' => $kind, 'ready' => true])->latest('state_at')->latest('id');
    }

    /**
     * What people may read beside the kept tables.
     *
     * @return list<string>
     */
    public static function readable(Environment $environment): array
    {
        return array_values(self::query()->where(['environment_id' => $environment->id, 'ready' => true])->pluck('name')->map(strval(...))->all());
    }
}
