<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Support\Carbon;

/**
 * @property int $id
 * @property int $user_id
 * @property int $environment_id
 * @property int|null $query_id
 * @property string $sql
 * @property int|null $rows
 * @property int $milliseconds
 * @property string|null $error
 * @property Carbon $created_at
 */
final class QueryRun extends Record
{
    protected $guarded = [];
}
