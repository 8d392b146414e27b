<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Situation;

/**
 * A redirect that was not followed, since it leads to another origin.
 */
final readonly class Redirected implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        $to = $situation->headers['location'] ?? '';
        if ($situation->status === null || $situation->status < 300 || $situation->status > 399 || $situation->status === 304 || $to === '') {
            return null;
        }

        return new Diagnosis('redirect', "{$situation->authority()} sends you on to ".strtok($to, '?').'.', 'Credentials are not carried to another origin. If that address is the same service, use it as the base address.', 'address');
    }
}
