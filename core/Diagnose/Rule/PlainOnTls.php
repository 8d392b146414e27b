<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Repair;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;

/**
 * http:// to a port that speaks TLS: some servers say so in a 400, others send what is no HTTP.
 */
final readonly class PlainOnTls implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        if (! str_starts_with($situation->uri, 'http:')) {
            return null;
        }
        $said = preg_match('/plain HTTP request was sent to (?:an )?HTTPS port|speaking plain HTTP to an SSL|client sent an HTTP request to an HTTPS server/i', $situation->body, $part) === 1;
        $alien = preg_match('/HTTP\/0\.9|Unsupported HTTP version|Weird server reply/i', $situation->detail) === 1;
        if (! ($said && $situation->status === 400) && ! ($alien && $situation->failing !== null)) {
            return null;
        }
        $secure = preg_replace('~^http:~', 'https:', $situation->base());

        return new Diagnosis('plain-on-tls', "{$situation->authority()} speaks TLS on this port, and was asked in plain HTTP.", 'Use https:// in the base address.', 'address', $said ? Sureness::Certain : Sureness::Likely, [$said ? $part[0] : $situation->detail], Repair::set("Use $secure and test", $situation->baseAt(), $secure));
    }
}
