<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Support\Carbon;

/**
 * Who did what. The account of the application can add a row and read it, and nothing else.
 *
 * @property int $id
 * @property Carbon $at
 * @property int|null $person
 * @property string $person_name
 * @property string $action
 * @property string $subject
 * @property string $detail
 * @property string|null $ip
 */
final class LogEntry extends Record
{
    public $timestamps = false;

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @var array<string, string> */
    protected $casts = ['at' => 'datetime'];

    public function getTable(): string
    {
        return config('database.connections.app.database').'_log.entries';
    }
}
