<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * @property int $id
 * @property int $source_id
 * @property int $environment_id
 * @property string $name
 * @property string $sealed
 * @property string|null $pending sealed; a value to take the place of this one once it is accepted
 * @property Carbon|null $ends_on
 * @property list<string>|null $origins that it was given for
 * @property int|null $set_by
 * @property Carbon $updated_at
 * @property User|null $setBy
 * @property Source $source
 */
final class Secret extends Record
{
    protected $guarded = [];

    protected $hidden = ['sealed', 'pending'];

    /** @var array<string, string> */
    protected $casts = ['ends_on' => 'date', 'origins' => 'array'];

    /**
     * @return BelongsTo<Source, $this>
     */
    public function source(): BelongsTo
    {
        return $this->belongsTo(Source::class);
    }

    /**
     * @return BelongsTo<User, $this>
     */
    public function setBy(): BelongsTo
    {
        return $this->belongsTo(User::class, 'set_by');
    }
}
