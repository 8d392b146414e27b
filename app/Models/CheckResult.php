<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * What a run found of one check.
 *
 * @property int $id
 * @property int $run_id
 * @property int $endpoint_id
 * @property int $environment_id
 * @property string $table as the source file calls it
 * @property string $mark the same for the same rule over the same table
 * @property string $words the rule
 * @property string $acts what becomes of rows that break it: stop, note or drop
 * @property CheckOutcome $outcome
 * @property int $broken rows
 * @property int $rows of the table
 * @property string $sentence
 * @property list<array<string, string|null>>|null $concerned some of the rows that break it
 * @property Carbon $at
 * @property Run $run
 * @property Environment $environment
 */
final class CheckResult extends Record
{
    public $timestamps = false;

    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['outcome' => CheckOutcome::class, 'concerned' => 'array', 'at' => 'datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /**
     * @return BelongsTo<Run, $this>
     */
    public function run(): BelongsTo
    {
        return $this->belongsTo(Run::class);
    }

    /**
     * @return BelongsTo<Environment, $this>
     */
    public function environment(): BelongsTo
    {
        return $this->belongsTo(Environment::class);
    }

    /**
     * Of an endpoint, the newest first.
     *
     * @return Builder<self>
     */
    public static function of(Endpoint $endpoint, Environment $environment): Builder
    {
        return self::query()->where('endpoint_id', $endpoint->id)->where('environment_id', $environment->id)->latest('id');
    }
}
