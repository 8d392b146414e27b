<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/**
 * What every model of the application is.
 */
abstract class Record extends Model
{
    use BootsByName;
}
