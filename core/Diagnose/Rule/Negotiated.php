<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Repair;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;

/**
 * 405, 406 and 415 (RFC 9110 §15.5.6, §15.5.7, §15.5.16): what the service would have taken.
 */
final readonly class Negotiated implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        $said = $situation->said();
        $types = $this->types($situation);

        return match ($situation->status) {
            405 => new Diagnosis('405', "{$situation->path()} does not take {$situation->method} (405).$said", $situation->header('allow') !== '' ? "It takes {$situation->header('allow')}." : 'Check the method in the documentation.', 'ask', Sureness::Certain, $situation->header('allow') === '' ? [] : ["allow: {$situation->header('allow')}"]),
            406 => new Diagnosis('406', "The service cannot answer in the format asked for (406).$said", $types === [] ? 'Check the accept header.' : 'It offers '.implode(' and ', $types).'.', 'ask', $types === [] ? Sureness::Likely : Sureness::Certain, $types, $types === [] ? null : Repair::set("Accept {$this->best($types)} and try", ['source', 'headers', 'accept'], $this->best($types))),
            415 => new Diagnosis('415', "The service does not take this kind of body (415).$said", $types === [] ? 'Check the content-type header and how the body is encoded.' : 'It takes '.implode(' and ', $types).'.', 'ask', $types === [] ? Sureness::Likely : Sureness::Certain, $types, $types === [] ? null : Repair::set("Send {$this->best($types)} and try", ['endpoint', 'ask', 'headers', 'content-type'], $this->best($types))),
            default => null,
        };
    }

    /**
     * Media types that the answer names (RFC 9110 §12.5.1, RFC 5789 §3.1).
     *
     * @return list<string>
     */
    private function types(Situation $situation): array
    {
        preg_match_all('~\b(?:application|text)/[\w.+-]+~', $situation->header('accept').' '.$situation->header('accept-patch').' '.$situation->header('accept-post').' '.mb_substr($situation->body, 0, 4000), $found);

        return array_values(array_unique(array_diff($found[0], ['application/problem+json'])));
    }

    /**
     * @param  non-empty-list<string>  $types
     */
    private function best(array $types): string
    {
        foreach ($types as $type) {
            if (str_contains($type, 'json')) {
                return $type;
            }
        }

        return $types[0];
    }
}
