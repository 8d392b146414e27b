<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Answer\UnreadableKind;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Repair;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;

/**
 * A success whose body is empty, or nearly JSON: JSONP, several documents in a row, another
 * character set, a compression that was promised or not.
 */
final readonly class NotQuiteJson implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        $unreadable = $situation->unreadable;
        if ($unreadable === null || $unreadable->kind === UnreadableKind::Html) {
            return null;
        }
        if ($unreadable->kind === UnreadableKind::Empty) {
            return new Diagnosis('empty', 'The answer is a success, but its body is empty.', 'Check the path and the inputs; some services answer so when a filter matches nothing.', 'answer', Sureness::Likely);
        }
        $body = $situation->body;
        $type = $situation->header('content-type');
        $start = ltrim(substr($body, 0, 400));
        if (str_starts_with($body, "\x1f\x8b")) {
            return new Diagnosis('gzip-unannounced', 'The answer is compressed, but does not say so.', 'The header content-encoding: gzip is missing, so it was not unpacked. The owner of the service has to fix that; asking without compression may help.', 'answer', Sureness::Certain, ["content-encoding: {$situation->header('content-encoding')}"], Repair::set('Ask without compression and try', ['source', 'headers', 'accept-encoding'], 'identity'));
        }
        if (preg_match('/^[\w$.]+\s*\(\s*[\[{]/', $start) === 1) {
            $parameter = preg_match('/[?&](callback|jsonp|cb)=/i', $situation->uri, $part) === 1 ? $part[1] : null;

            return new Diagnosis('jsonp', 'The answer is a script that calls a function with the data (JSONP), not JSON.', $parameter === null ? 'Look for a parameter or an accept header that asks for plain JSON.' : "The parameter $parameter asks for that. Leave it out.", 'answer', Sureness::Certain, [mb_strimwidth(mb_scrub($start), 0, 60, '…')]);
        }
        if (preg_match('/^[\[{]/', $start) === 1 && preg_match('/[}\]]\s*[\r\n]*\s*[{\[]/', substr($body, max(0, ($unreadable->position ?? 0) - 3), 40)) === 1) {
            return new Diagnosis('json-concatenated', 'The answer holds several JSON documents in a row, not one.', 'That is how line-delimited JSON (NDJSON) looks. Ask for a single document, often by the accept header application/json.', 'answer', Sureness::Certain, [$unreadable->getMessage()], Repair::set('Accept application/json and try', ['source', 'headers', 'accept'], 'application/json'));
        }
        if (str_contains($unreadable->getMessage(), 'UTF-8')) {
            $charset = preg_match('/charset\s*=\s*"?([\w-]+)/i', $type, $part) === 1 ? $part[1] : null;

            return new Diagnosis('charset', 'The answer is not in UTF-8, which JSON has to be (RFC 8259 §8.1).', $charset === null || strcasecmp($charset, 'utf-8') === 0 ? 'It is probably in an older character set and does not say so. The owner of the service has to fix that.' : "It calls itself $charset. Ask for UTF-8 with the header accept-charset, or have the owner fix it.", 'answer', Sureness::Certain, [$unreadable->getMessage(), ...($type === '' ? [] : ["content-type: $type"])]);
        }
        if (preg_match('/^<\?xml|^<[a-z][\w:-]*[\s>]/i', $start) === 1) {
            return new Diagnosis('xml', 'The answer is XML, not JSON.', 'Ask for JSON with the accept header, or look for a parameter that chooses the format.', 'answer', Sureness::Certain, ["content-type: $type"], Repair::set('Accept application/json and try', ['source', 'headers', 'accept'], 'application/json'));
        }

        return new Diagnosis('not-json', $unreadable->getMessage(), 'The service calls it '.($type === '' ? 'no content type' : $type).'. Check the path, and whether it needs an accept header to answer in JSON.', 'answer', Sureness::General);
    }
}
