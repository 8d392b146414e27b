<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal\Guess;

use DeepSpring\Flatten\Proposal\SampledValues;

/**
 * UUIDs, and JSON inside a text.
 */
final readonly class IdentifierGuess implements Guess
{
    public function of(SampledValues $values, string $name): ?TypeProposal
    {
        if (! $values->isText() || $values->distinct === [] || $values->emptyTexts > 0) {
            return null;
        }
        if ($values->allMatch('/^(?:urn:uuid:|\{)?[0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12}\}?$/iD')) {
            return new TypeProposal(['type' => 'uuid'], $values->matching('/[A-F{:]/') === [] ? null : 'kept in small letters');
        }
        if ($values->allMatch('/^\s*(?:\{.*\}|\[.*\])\s*$/sD')) {
            foreach ($values->texts() as $text) {
                json_decode($text);
                if (json_last_error() !== JSON_ERROR_NONE) {
                    return null;
                }
            }

            return new TypeProposal(['type' => 'json', 'read_as' => 'text'], 'JSON inside a text; json(…) reads from it');
        }

        return null;
    }
}
