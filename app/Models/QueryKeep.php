<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * A saved query that can be read as a table in an environment: as a view, or kept as rows of its own.
 *
 * @property int $id
 * @property int $query_id
 * @property int $environment_id
 * @property int $source_id what its runs, times and rows hang on, as those of other tables hang on their source
 * @property bool $is_view
 * @property string $name of the view or table
 * @property int $version of the query that it says
 * @property list<string> $reads tables and views
 * @property array{column: string, back: string}|null $period of a table of which only what lies in it is read anew
 * @property string|null $fault why it cannot be read any more
 * @property Carbon $updated_at
 * @property SavedQuery $savedQuery
 * @property Environment $environment
 * @property Source $source
 */
final class QueryKeep extends Record
{
    /** Short name of the endpoint that stands for its rows. */
    public const ENDPOINT = 'rows';

    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['is_view' => 'boolean', 'reads' => 'array', 'period' => 'array'];

    /**
     * @return BelongsTo<SavedQuery, $this>
     */
    public function savedQuery(): BelongsTo
    {
        return $this->belongsTo(SavedQuery::class, 'query_id');
    }

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

    public function endpoint(): Endpoint
    {
        return $this->source->endpoints()->where('slug', self::ENDPOINT)->firstOrFail();
    }

    /**
     * The version that it says.
     */
    public function said(): QueryVersion
    {
        return QueryVersion::query()->where(['query_id' => $this->query_id, 'number' => $this->version])->firstOrFail();
    }
}
