<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Repair;
use DeepSpring\Diagnose\SecretFact;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;

/**
 * A secret that was pasted with something around it, or into the wrong environment.
 */
final readonly class PastedSecret implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        if (! in_array($situation->status, [400, 401, 403], true)) {
            return null;
        }
        foreach ($situation->secrets as $secret) {
            $diagnosis = $this->one($secret, $situation);
            if ($diagnosis !== null) {
                return $diagnosis;
            }
        }

        return null;
    }

    private function one(SecretFact $secret, Situation $situation): ?Diagnosis
    {
        $status = $situation->status;
        $clean = Repair::cleanSecret('Take it out and test', $secret->name);
        if ($secret->prefixed !== null) {
            return new Diagnosis('secret-prefixed', "The secret {$secret->name} begins with \"{$secret->prefixed} \", which is sent before it already ($status).", "So the header says {$secret->prefixed} twice, or where it should not. The value alone belongs into the secret.", 'access', Sureness::Certain, ["{$secret->name} begins with {$secret->prefixed}"], $clean);
        }
        if ($secret->quoted) {
            return new Diagnosis('secret-quoted', "The secret {$secret->name} stands in quotes ($status).", 'They were probably pasted with it, and are sent as a part of it.', 'access', Sureness::Likely, ["{$secret->name} begins and ends with a quote"], $clean);
        }
        if ($secret->spaced) {
            return new Diagnosis('secret-spaced', "The secret {$secret->name} has white space or a line break around or in it ($status).", 'It was probably pasted with it, and is sent as a part of it.', 'access', Sureness::Likely, ["{$secret->name} has white space at an end, or a line break"], $clean);
        }
        if ($secret->sameIn !== [] && $situation->status === 401 && count(array_unique($situation->bases)) > 1) {
            $where = implode(' and ', $secret->sameIn);

            return new Diagnosis('secret-elsewhere', "The secret {$secret->name} has the same value in $where (401).", 'Services give a key of its own to each environment. This is probably the one of the other.', 'access', Sureness::Likely, ["the same value in $where"]);
        }

        return null;
    }
}
