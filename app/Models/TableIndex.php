<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Carbon;

/**
 * An index that somebody wants a kept table to have. It is built beside the rows at once, and again with
 * the rows of every refresh.
 *
 * @property int $id
 * @property int $environment_id
 * @property string $table
 * @property list<string> $columns in their order
 * @property string $mark of the columns
 * @property int|null $user_id
 * @property Carbon|null $built_at null while it is not there
 * @property int|null $milliseconds that building took the last time
 * @property string|null $fault why it is not there
 * @property Carbon|null $used_at when a statement last used it
 * @property Carbon $created_at
 */
final class TableIndex extends Record
{
    /** Days without use after which an index is said to be of none. */
    public const UNUSED = 30;

    protected $table = 'table_indexes';

    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['columns' => 'array', 'built_at' => 'datetime', 'used_at' => 'datetime'];

    /**
     * @return Builder<self>
     */
    public static function of(KeptTable $table): Builder
    {
        return self::query()->where(['environment_id' => $table->environment_id, 'table' => $table->name])->orderBy('id');
    }

    /**
     * @param  list<string>  $columns
     */
    public static function markOf(array $columns): string
    {
        return hash('sha256', implode("\0", $columns));
    }

    public function isUnused(): bool
    {
        return $this->built_at !== null && max($this->created_at, $this->used_at ?? $this->created_at)->isBefore(now()->subDays(self::UNUSED));
    }
}
