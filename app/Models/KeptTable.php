<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * A table that queries can read.
 *
 * @property int $id
 * @property int $endpoint_id
 * @property int $environment_id
 * @property int|null $run_id the run that filled it
 * @property string $name as the database knows it
 * @property string $given_name as the source file says it
 * @property bool $is_branch
 * @property bool $is_view whether it is a view of a query, which holds no rows of its own
 * @property list<array{name: string, given: string, type: string, label: string, scale: int|null, from: string, comment?: string, mask?: string, title?: string, unit?: string}> $columns
 * @property array{title: string, comment: string, owner: string}|null $texts what people say of it
 * @property list<string> $key names of columns
 * @property int $rows
 * @property int $patches how often rows were changed since they were read
 * @property string|null $rows_of the table whose rows it was asked for
 * @property Carbon $refreshed_at
 * @property Endpoint $endpoint
 * @property Environment $environment
 */
final class KeptTable extends Record
{
    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['columns' => 'array', 'texts' => 'array', 'key' => 'array', 'is_branch' => 'boolean', 'is_view' => 'boolean', 'refreshed_at' => 'datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    public function getRouteKeyName(): string
    {
        return 'name';
    }

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
     * Differs once its rows do.
     */
    public function mark(): string
    {
        return "$this->run_id {$this->refreshed_at->format('Y-m-d H:i:s.u')} $this->rows".($this->patches > 0 ? " $this->patches" : '');
    }

    /**
     * What people call it; empty where nobody said.
     */
    public function title(): string
    {
        return $this->texts['title'] ?? '';
    }

    /**
     * @return list<KeptColumn>
     */
    public function keptColumns(): array
    {
        return array_map(KeptColumn::fromArray(...), $this->columns);
    }
}
