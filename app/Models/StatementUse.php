<?php

declare(strict_types=1);

namespace App\Models;

/**
 * How statements of one day used a kept table, those that did it alike together. What they compared with
 * is not kept.
 *
 * @property int $id
 * @property int $environment_id
 * @property string $table
 * @property array<string, list<string>> $use
 * @property string $mark of the use
 * @property string $day
 * @property int $times
 * @property int $milliseconds
 */
final class StatementUse extends Record
{
    /** Days after which a statement no longer counts. */
    public const DAYS = 30;

    public $timestamps = false;

    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['use' => 'array'];
}
