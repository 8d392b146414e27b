<?php

declare(strict_types=1);

namespace App\Pipeline;

use DeepSpring\Diagnose\Diagnosis;

final class ReadingFailed extends \RuntimeException
{
    private function __construct(public readonly Diagnosis $diagnosis, public readonly int $page)
    {
        parent::__construct("{$diagnosis->what} {$diagnosis->advice}");
    }

    /**
     * @param  int  $page  counts from 1; 0 when nothing was sent
     */
    public static function because(Diagnosis $diagnosis, int $page = 0): self
    {
        return new self($diagnosis, $page);
    }
}
