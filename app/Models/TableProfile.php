<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Carbon;

/**
 * What the columns of a kept table were like.
 *
 * @property int $id
 * @property int $environment_id
 * @property int $endpoint_id
 * @property string $table
 * @property int|null $run_id the run whose rows these were
 * @property int $rows
 * @property list<array<string, mixed>> $columns
 * @property int $milliseconds that it took
 * @property Carbon $at
 */
final class TableProfile extends Record
{
    public $timestamps = false;

    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['columns' => 'array', 'at' => 'datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /**
     * Of a table, the newest first.
     *
     * @return Builder<self>
     */
    public static function of(KeptTable $table): Builder
    {
        return self::query()->where(['environment_id' => $table->environment_id, 'table' => $table->name])->latest('id');
    }
}
