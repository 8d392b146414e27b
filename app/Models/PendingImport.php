<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Support\Carbon;

/**
 * A description that was read and waits for somebody to choose from it. It is sealed, since a command
 * or a recording can hold secrets, and it goes after a day.
 *
 * @property int $id
 * @property string $token
 * @property int $user_id
 * @property int|null $source_id
 * @property string $kind
 * @property string $title
 * @property string $found
 * @property Carbon $created_at
 */
final class PendingImport extends Record
{
    protected $guarded = [];

    public function getRouteKeyName(): string
    {
        return 'token';
    }
}
