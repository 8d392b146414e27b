<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Support\Carbon;

/**
 * A sign-in at a service that has begun.
 *
 * @property int $id
 * @property string $state
 * @property int $source_id
 * @property int $environment_id
 * @property int $user_id
 * @property string $scheme
 * @property string $verifier sealed
 * @property string $back
 * @property Carbon $created_at
 */
final class Consent extends Record
{
    protected $guarded = [];

    protected $hidden = ['verifier', 'state'];
}
