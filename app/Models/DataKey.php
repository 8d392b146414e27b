<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/**
 * A key that secrets are sealed with, sealed itself.
 *
 * @property int $id
 * @property string $sealed
 */
final class DataKey extends Model
{
    protected $guarded = [];

    protected $hidden = ['sealed'];
}
