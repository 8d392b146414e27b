<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Support\Carbon;

/**
 * One try of an endpoint (or of a source, without one), with its exchanges.
 *
 * @property int $id
 * @property int $source_id
 * @property int|null $endpoint_id
 * @property int $environment_id
 * @property int|null $user_id
 * @property bool $succeeded
 * @property int $milliseconds
 * @property int $records
 * @property string|null $ended
 * @property array<string, mixed>|null $diagnosis
 * @property array<string, string> $strata what each stratum was when it was tried, as a hash
 * @property list<array<string, mixed>>|null $notes diagnoses that are no failure
 * @property Carbon $created_at
 * @property \Illuminate\Database\Eloquent\Collection<int, Exchange> $exchanges
 */
final class Tryout extends Record
{
    protected $table = 'tries';

    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['succeeded' => 'boolean', 'diagnosis' => 'array', 'strata' => 'array', 'notes' => 'array'];

    /**
     * @return HasMany<Exchange, $this>
     */
    public function exchanges(): HasMany
    {
        $exchanges = $this->hasMany(Exchange::class, 'try_id');
        $exchanges->select(Exchange::LIGHT)->where('purpose', 'request')->orderBy('number')->orderBy('id');

        return $exchanges;
    }

    /**
     * Requests for tokens that the try needed, and what was refused before.
     *
     * @return HasMany<Exchange, $this>
     */
    public function tokenExchanges(): HasMany
    {
        $exchanges = $this->hasMany(Exchange::class, 'try_id');
        $exchanges->select(Exchange::LIGHT)->whereIn('purpose', ['token', 'refused'])->orderBy('id');

        return $exchanges;
    }
}
