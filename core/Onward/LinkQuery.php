<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Onward\Detect\AnswerMember;
use DeepSpring\Onward\Detect\ParameterNames;

/**
 * What the link to the next page changes of the query that was sent, beside where the page begins.
 */
final class LinkQuery
{
    /** Names of values that are not to be told of. */
    private const SECRET = '/key|token|secret|sig|auth|passw|credential/i';

    /** Values that a service does not write in another way. */
    private const WORD = '/^[A-Za-z0-9_,-]+$/D';

    /** Bytes from which a new value may carry what was sent, in a way that only the service reads. */
    private const OPAQUE = 9;

    /**
     * @return string|null a sentence; null where nothing is changed, or where that cannot be told
     */
    public static function change(string $sent, string $link, int $number): ?string
    {
        [$before, $after] = [self::query($sent), self::query($link)];
        foreach (array_diff_key($after, $before) as $value) {
            if (strlen($value) >= self::OPAQUE && ! ctype_digit($value)) {
                return null;
            }
        }
        $missing = [];
        $changed = [];
        foreach ($before as $name => $value) {
            $name = (string) $name;
            $plain = AnswerMember::plainly($name);
            $isPaging = preg_match(ParameterNames::PAGE_SENT, $plain) === 1 || preg_match(ParameterNames::OFFSET_SENT, $plain) === 1 || preg_match(ParameterNames::CURSOR_SENT, $plain) === 1 || preg_match(ParameterNames::SIZE, $plain) === 1;
            if ($isPaging || $value === '' || preg_match(self::SECRET, $name) === 1) {
                continue;
            }
            if (! isset($after[$name])) {
                $missing[] = "$name=".mb_strimwidth($value, 0, 40, '…', 'UTF-8');
            } elseif ($after[$name] !== $value && preg_match(self::WORD, $value.$after[$name]) === 1) {
                $changed[] = "$name to ".mb_strimwidth($after[$name], 0, 40, '…', 'UTF-8');
            }
        }
        $parts = array_filter([$missing === [] ? '' : 'leaves out '.implode(' and ', $missing), $changed === [] ? '' : 'changes '.implode(' and ', $changed)]);

        return $parts === [] ? null : "The link to page $number ".implode(' and ', $parts).', so other records may come from there on than were asked for. Where they do, ask for pages by a parameter instead of the link.';
    }

    /**
     * @return array<array-key, string>
     */
    private static function query(string $address): array
    {
        $pairs = [];
        foreach (array_filter(explode('&', (string) parse_url($address, PHP_URL_QUERY)), static fn (string $pair): bool => $pair !== '') as $pair) {
            [$name, $value] = array_map(static fn (string $one): string => mb_scrub(urldecode($one), 'UTF-8'), explode('=', $pair, 2) + [1 => '']);
            $pairs[$name] = isset($pairs[$name]) ? "{$pairs[$name]},$value" : $value;
        }

        return $pairs;
    }
}
