<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;

/**
 * @property int $id
 * @property int $source_id
 * @property string $slug
 * @property string $name
 * @property bool $inputs_taken_over whether its tables were read with test values before, which are what they are read with now; until somebody has seen it
 * @property array{made: list<array<string, mixed>>, questions: list<array{stratum: string, text: string}>}|null $suggestions settings that an answer suggested, and what a person was asked
 * @property Source $source
 */
final class Endpoint extends Record
{
    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['inputs_taken_over' => 'boolean', 'suggestions' => 'array'];

    public function getRouteKeyName(): string
    {
        return 'slug';
    }

    /**
     * @return BelongsTo<Source, $this>
     */
    public function source(): BelongsTo
    {
        return $this->belongsTo(Source::class);
    }

    /**
     * @return HasMany<KeptTable, $this>
     */
    public function tables(): HasMany
    {
        return $this->hasMany(KeptTable::class);
    }

    public function lastTry(Environment $environment): ?Tryout
    {
        return Tryout::query()->where('endpoint_id', $this->id)->where('environment_id', $environment->id)->latest('id')->first();
    }

    public function lastRun(Environment $environment): ?Run
    {
        return Run::query()->where('endpoint_id', $this->id)->where('environment_id', $environment->id)->whereIn('kind', ['refresh', 'rebuild'])->latest('id')->first();
    }

    /**
     * The last run that read all of it and kept nothing.
     */
    public function lastLongTry(Environment $environment): ?Run
    {
        return Run::query()->where('endpoint_id', $this->id)->where('environment_id', $environment->id)->where('kind', 'try')->latest('id')->first();
    }
}
