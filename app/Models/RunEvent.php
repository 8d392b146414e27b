<?php

declare(strict_types=1);

namespace App\Models;

/**
 * A line in the log of a run.
 *
 * @property int $id
 * @property int $run_id
 * @property int $level 1 outcome, 2 step, 3 page, 4 exchange
 * @property float $at seconds since 1970
 * @property int|null $page
 * @property string $kind
 * @property string $text
 */
final class RunEvent extends Record
{
    public const LEVELS = [1 => 'outcome', 2 => 'steps', 3 => 'pages and waits', 4 => 'exchanges'];

    protected $guarded = [];

    public $timestamps = false;
}
