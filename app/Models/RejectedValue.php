<?php

declare(strict_types=1);

namespace App\Models;

/**
 * @property int $id
 * @property int $run_id
 * @property string $table
 * @property string $column
 * @property string $path
 * @property string $record_key
 * @property string $value JSON
 * @property string $reason
 * @property bool $whole_record
 */
final class RejectedValue extends Record
{
    public $timestamps = false;

    protected $table = 'rejects';

    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['whole_record' => 'boolean'];
}
