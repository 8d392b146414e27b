<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;

/**
 * Any other status that is not a success (RFC 9110 §15), with what the service itself says of it.
 */
final readonly class WrongStatus implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        $status = $situation->status;
        if ($status === null || $situation->isSuccess() || $status === 401 || $status === 403 || $status >= 500) {
            return null;
        }
        $said = $situation->said();

        return match ($status) {
            204 => new Diagnosis('204', 'The service answered that there is nothing to send (204).', 'If that is right here, add 204 to the status codes that are a success.', 'answer', Sureness::General),
            407 => new Diagnosis('407', 'A proxy between here and the service asks for authentication (407).', 'The answer is not from the service. Whoever runs the network can let requests from this server through.', 'address', Sureness::Certain),
            409 => new Diagnosis('409', "What was asked for contradicts the state it is in now (409).$said", 'Somebody may have changed it meanwhile, or it exists already. Get it anew and compare.', 'ask', Sureness::Likely),
            412 => new Diagnosis('412', "It was changed by somebody else since it was read (412).$said", 'Get it again, and send the change with the new ETag.', 'ask', Sureness::Certain),
            413 => new Diagnosis('413', "What was sent is too large for the service (413).$said", 'Send less at a time.', 'ask', Sureness::Certain),
            414 => new Diagnosis('414', "The address is too long for the service (414).$said", 'Give fewer values at a time, or send them in a body if the service takes one.', 'ask', Sureness::Certain),
            431 => new Diagnosis('431', "The headers are too large for the service (431).$said", 'A token that lists many rights can be the cause. Ask for fewer scopes.', 'access', Sureness::Likely),
            default => new Diagnosis("$status", "The service answered $status, which is not one of ".implode(', ', $situation->ok).".$said", 'If this status is a success, add it to those of Answer.', 'answer', Sureness::General),
        };
    }
}
