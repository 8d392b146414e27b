<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Support\Carbon;

/**
 * A token that a service handed out, sealed.
 *
 * @property int $id
 * @property int $source_id
 * @property int $environment_id
 * @property int $person nought when it is for all
 * @property string $scheme
 * @property string $sealed
 * @property Carbon|null $expires_at
 * @property bool $renewable
 * @property string|null $scope
 * @property list<string>|null $origins that it belongs to
 * @property int $asked how often the service was asked for it
 * @property Carbon $updated_at
 */
final class StoredToken extends Record
{
    protected $table = 'tokens';

    protected $guarded = [];

    protected $hidden = ['sealed'];

    /** @var array<string, string> */
    protected $casts = ['origins' => 'array', 'expires_at' => 'datetime', 'renewable' => 'boolean'];
}
