<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Support\Carbon;

/**
 * @property int $id
 * @property int $source_id
 * @property int $environment_id
 * @property string $name
 * @property string $sealed
 * @property Carbon $updated_at
 * @property User|null $setBy
 */
final class Secret extends Model
{
    protected $guarded = [];

    protected $hidden = ['sealed'];

    /**
     * @return BelongsTo<User, $this>
     */
    public function setBy(): BelongsTo
    {
        return $this->belongsTo(User::class, 'set_by');
    }
}
