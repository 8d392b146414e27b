<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * SQL that somebody wrote and has not saved.
 *
 * @property int $id
 * @property int $user_id
 * @property int|null $query_id null for a query that was never saved
 * @property string $sql
 * @property array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>|null $parameters
 * @property int $based_on the version that it began with; 0 for none
 * @property int $revision counts changes, so that two tabs do not write over each other
 * @property Carbon $updated_at
 * @property SavedQuery|null $savedQuery
 */
final class QueryDraft extends Record
{
    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['parameters' => 'array'];

    /**
     * @return BelongsTo<SavedQuery, $this>
     */
    public function savedQuery(): BelongsTo
    {
        return $this->belongsTo(SavedQuery::class, 'query_id');
    }
}
