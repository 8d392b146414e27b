<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

use DeepSpring\Flatten\Proposal\AnswerColumns;

/**
 * A list of the parts that a long answer comes in.
 */
final class PartitionSign implements Sign
{
    public function propose(FirstAnswer $answer): array
    {
        // A record may have parts of its own.
        $isRecord = is_scalar($answer->document->id ?? null);

        return $answer->document instanceof \stdClass && ! $isRecord ? $this->within($answer->document, '$', 0) : [];
    }

    /**
     * @return list<PagingProposal>
     */
    private function within(\stdClass $object, string $path, int $depth): array
    {
        foreach (get_object_vars($object) as $name => $value) {
            $at = $path.AnswerColumns::step((string) $name);
            if (is_array($value) && preg_match(ParameterNames::PARTS, AnswerMember::plainly((string) $name)) === 1 && count($value) > 0 && ($value[0] instanceof \stdClass || is_scalar($value[0]))) {
                $number = $value[0] instanceof \stdClass ? array_values(array_filter(['number', 'id', 'index', 'partition', 'no', 'name'], static fn (string $one): bool => is_scalar($value[0]->{$one} ?? null)))[0] ?? null : null;

                return [new PagingProposal(['style' => 'partition', 'list' => "{$at}[*]", 'send_as' => preg_replace('/(?:info|s)$/i', '', (string) $name) ?: 'partition'] + ($number === null ? [] : ['value' => "$.$number"]), "$at lists ".count($value).' parts.', 'A further part holds other records; where it is asked for at another address, the documentation says.', count($value) > 1 ? 82 : 62)];
            }
            if ($value instanceof \stdClass && $depth < 2) {
                $found = $this->within($value, $at, $depth + 1);
                if ($found !== []) {
                    return $found;
                }
            }
        }

        return [];
    }
}
