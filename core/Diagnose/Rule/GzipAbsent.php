<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Ask\SendFailure;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Repair;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;

/**
 * An answer that promises to be compressed and is not.
 */
final readonly class GzipAbsent implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        if ($situation->failing !== SendFailure::Other && $situation->failing !== SendFailure::Cut || preg_match('/incorrect header check|invalid (?:code lengths|block type|stored block)|content.encoding|deflat|unencoding/i', $situation->detail) !== 1) {
            return null;
        }

        return new Diagnosis('gzip-absent', 'The answer says that it is compressed, but is not, or is damaged.', 'The owner of the service, or of a proxy before it, has to fix that; asking without compression usually avoids it.', 'answer', Sureness::Certain, [$situation->detail], Repair::set('Ask without compression and try', ['source', 'headers', 'accept-encoding'], 'identity'));
    }
}
