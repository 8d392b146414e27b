<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Support\Carbon;

/**
 * What a statement gave: its rows stand in parts beside it.
 *
 * @property int $id
 * @property int $user_id
 * @property int $environment_id
 * @property string $mark SHA-256 of the statement, and of how its rows were sorted and searched
 * @property array<string, string> $reads tables beneath → which rows of theirs it read
 * @property list<array{name: string, type: string, scale: int|null, key: bool}> $columns
 * @property array{milliseconds: int, tables: list<string>, indexes: array<string, list<list<string>>>, cut: bool} $about
 * @property int $rows that are here
 * @property int $bytes
 * @property bool $whole whether these are all rows that are kept of it, and not the first ones only
 * @property Carbon $read_at when the statement was begun
 * @property Carbon $used_at
 */
final class QueryResult extends Record
{
    public $timestamps = false;

    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['reads' => 'array', 'columns' => 'array', 'about' => 'array', 'whole' => 'boolean', 'read_at' => 'datetime', 'used_at' => 'datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.u';
}
