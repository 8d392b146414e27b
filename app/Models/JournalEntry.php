<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Support\Carbon;

/**
 * Something that was changed at a service through this application. The account of the application can add a row and
 * read it, and nothing else.
 *
 * @property int $id
 * @property Carbon $at
 * @property int|null $person
 * @property string $person_name
 * @property string $via grid, bulk, action, command line, sheet or taken back
 * @property string $environment
 * @property string $source
 * @property string $endpoint that was asked
 * @property string $table
 * @property string $kind
 * @property string $record
 * @property array<string, string|null> $before_
 * @property array<string, string|null> $after_
 * @property string $request
 * @property string $answer
 * @property int|null $status
 * @property int|null $milliseconds
 * @property string $outcome done, refused, conflict or unknown
 * @property string $reason
 * @property int|null $change_id
 * @property int|null $undoes the entry that it takes back
 */
final class JournalEntry extends Record
{
    public $timestamps = false;

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    /** @var array<string, string> */
    protected $casts = ['at' => 'datetime', 'before_' => 'array', 'after_' => 'array'];

    public function getTable(): string
    {
        return config('database.connections.app.database').'_log.journal';
    }
}
