<?php

declare(strict_types=1);

namespace App\Http\Editing;

/**
 * What a sheet wanted to change was changed by another meanwhile. Nothing was written.
 */
final class ChangedElsewhere extends \RuntimeException
{
    /**
     * @param  int  $at  seconds since 1970
     * @param  mixed  $now  how it stands
     */
    public function __construct(public readonly string $who, public readonly int $at, public readonly mixed $now)
    {
        parent::__construct("Changed by $who meanwhile.");
    }
}
