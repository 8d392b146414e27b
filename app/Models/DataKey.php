<?php

declare(strict_types=1);

namespace App\Models;

/**
 * A key that secrets are sealed with, sealed itself.
 *
 * @property int $id
 * @property string $sealed
 */
final class DataKey extends Record
{
    protected $guarded = [];

    protected $hidden = ['sealed'];
}
