<?php

declare(strict_types=1);

namespace DeepSpring\Change;

use DeepSpring\Ask\Body\BodyNode;

/**
 * Where in a body each input stands.
 */
final class BodyPlaces
{
    /**
     * @param  array<string, mixed>|null  $body  of a source file
     * @return array<string, string> `$.insurance.value` → input
     */
    public static function of(?array $body): array
    {
        $places = [];
        if ($body !== null && in_array($body['as'] ?? '', ['json', 'form', 'multipart'], true)) {
            $of = $body['of'] ?? null;
            foreach (isset($body['each']) ? explode('.', substr((string) $body['each'], 2)) : [] as $step) {
                // Places are those in one record.
                $of = ((array) $of)[$step] ?? null;
            }
            self::walk(isset($body['each']) ? ((array) $of)[0] ?? null : $of, '$', $places);
        }

        return $places;
    }

    /**
     * @param  array<string, string>  $places
     */
    private static function walk(mixed $raw, string $at, array &$places): void
    {
        $node = BodyNode::of(is_array($raw) && ! array_is_list($raw) ? (object) $raw : $raw);
        if ($node->kind === 'input') {
            $places[$at] ??= (string) $node->value;
        }
        if ($node->kind !== null) {
            return;
        }
        foreach (is_array($raw) && array_is_list($raw) ? [] : (array) $raw as $name => $member) {
            is_array($member) || $member instanceof \stdClass ? self::walk($member, "$at.$name", $places) : null;
        }
    }
}
