<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Situation;

/**
 * Recognises one kind of failure.
 */
interface Rule
{
    public function explain(Situation $situation): ?Diagnosis;
}
