<?php

declare(strict_types=1);

namespace App\Models;

use DeepSpring\Flatten\Drift\ChangeKind;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/**
 * A way in which the records of an endpoint were not what they had been, until somebody answers it.
 *
 * @property int $id
 * @property int $endpoint_id
 * @property int $environment_id
 * @property int|null $run_id
 * @property ChangeKind $kind
 * @property string $table
 * @property string $path
 * @property string $sentence
 * @property list<string> $examples
 * @property string|null $answer
 * @property \Illuminate\Support\Carbon|null $answered_at
 * @property \Illuminate\Support\Carbon $created_at
 * @property Endpoint $endpoint
 * @property Environment $environment
 */
final class Drift extends Record
{
    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['kind' => ChangeKind::class, 'examples' => 'array', 'answered_at' => 'datetime'];

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
     * Those that nobody has answered.
     *
     * @return Builder<self>
     */
    public static function open(Environment $environment, ?Endpoint $endpoint = null): Builder
    {
        return self::query()->where('environment_id', $environment->id)->whereNull('answer')->when($endpoint !== null, static fn (Builder $query) => $query->where('endpoint_id', $endpoint->id))->orderBy('id');
    }
}
