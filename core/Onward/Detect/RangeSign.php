<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

use DeepSpring\Onward\ContentRange;

/**
 * `Content-Range`, or `Accept-Ranges` with a unit that is not bytes (RFC 9110 §14).
 */
final class RangeSign implements Sign
{
    public function propose(FirstAnswer $answer): array
    {
        $header = $answer->headers['content-range'] ?? '';
        $range = ContentRange::parse($header);
        if ($range !== null && $range->first !== null && $range->unit !== 'bytes') {
            $size = max(1, $range->last - $range->first + 1);

            return [new PagingProposal(['style' => 'range', 'unit' => $range->unit ?: 'items', 'size' => $size], "Content-Range says \"$header\".", 'The next range is answered with 206, and begins where this one ends.', $range->total !== null && $range->last + 1 >= $range->total ? 70 : 96)];
        }
        $accepts = strtolower(trim($answer->headers['accept-ranges'] ?? ''));
        if ($accepts !== '' && ! in_array($accepts, ['bytes', 'none'], true) && count($answer->records) > 1) {
            return [new PagingProposal(['style' => 'range', 'unit' => trim(explode(',', $accepts)[0]), 'size' => max(1, count($answer->records))], "Accept-Ranges names the unit \"$accepts\".", 'A request with Range is answered with 206 and Content-Range.', 72)];
        }

        return [];
    }
}
