<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;

/**
 * 429 (RFC 6585 §4) and the troubles of the service itself (RFC 9110 §15.6).
 */
final readonly class Busy implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        $said = $situation->said();
        $after = $situation->header('retry-after');
        $wait = $after === '' ? '' : "It asks to wait $after".(ctype_digit($after) ? ' s. ' : '. ');
        $evidence = $after === '' ? [] : ["retry-after: $after"];
        foreach ($situation->headers as $name => $value) {
            if (preg_match('/^(?:x-)?rate-?limit/', $name) === 1) {
                $evidence[] = "$name: $value";
            }
        }
        $status = $situation->status ?? 0;
        $trace = preg_match('/(?:trace|request|correlation|incident)[-_ ]?id["\s:=]+"?([\w-]{6,64})/i', mb_substr($situation->body, 0, 4000), $part) === 1 ? $part[1] : ($situation->header('x-request-id') ?: $situation->header('x-correlation-id'));

        return match (true) {
            $status === 429 => new Diagnosis('429', "Too many requests for the service (429).$said", $wait === '' ? 'Slow down and try later: it does not say how long to wait.' : "{$wait}Slow down and try later.", 'ask', Sureness::Certain, $evidence),
            $status === 502 => new Diagnosis('502', "What stands before the service got no usable answer from it (502).$said", 'Nothing in the request need be wrong. Try again; if it stays, tell the owner of the service.', 'address', Sureness::Likely, $evidence),
            $status === 503 => new Diagnosis('503', "The service is not available now (503).$said", "{$wait}Try later.", 'address', Sureness::Certain, $evidence),
            $status === 504 => new Diagnosis('504', "What stands before the service did not wait for its answer (504).$said", 'Ask for less at a time: a smaller page, a filter. It is the service that is too slow, not the connection.', 'ask', Sureness::Likely, $evidence),
            $status >= 500 => new Diagnosis("$status", "The service itself failed ($status).$said", ($said === '' ? 'Nothing in the request need be wrong. Try again; if it stays, tell the owner of the service' : 'What it says may name the cause. Otherwise tell the owner of the service').($trace === '' ? '.' : ", with $trace, by which it finds this request."), 'address', $said === '' ? Sureness::General : Sureness::Likely, $evidence),
            default => null,
        };
    }
}
