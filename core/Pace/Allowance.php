<?php

declare(strict_types=1);

namespace DeepSpring\Pace;

/**
 * What an answer says about how fast it may be asked: `Retry-After` (RFC 9110 §10.2.3), `RateLimit`
 * and `RateLimit-Policy` (draft-ietf-httpapi-ratelimit-headers), and the families of `RateLimit-*`
 * and `X-RateLimit-*` that came before them.
 */
final readonly class Allowance
{
    /** A reset beyond this many seconds is a moment since 1970. */
    private const MOMENT = 1_000_000_000;

    private function __construct(
        /** Requests in a window. */
        public ?int $limit = null,
        /** Seconds of that window. */
        public ?int $window = null,
        /** Requests that are left in it. */
        public ?int $remaining = null,
        /** Seconds until there are as many again. */
        public ?float $resetIn = null,
        /** Seconds to wait before the next request. */
        public ?float $retryAfter = null,
    ) {
    }

    /**
     * @param  array<string, string>  $headers  by name in lower case
     * @param  float  $now  seconds since 1970
     */
    public static function read(array $headers, float $now): self
    {
        $retryAfter = self::retryAfter($headers['retry-after'] ?? '', $now);
        $standard = self::standard($headers['ratelimit'] ?? '', $headers['ratelimit-policy'] ?? '');
        if ($standard !== null) {
            return new self($standard[0], $standard[1], $standard[2], $standard[3], $retryAfter);
        }
        foreach (['ratelimit-', 'x-ratelimit-', 'x-rate-limit-'] as $family) {
            $limit = self::number($headers["{$family}limit"] ?? '');
            $remaining = self::number($headers["{$family}remaining"] ?? '');
            $reset = self::reset($headers["{$family}reset"] ?? '', $now);
            if ($limit !== null || $remaining !== null) {
                // "100, 100;w=60": the window stands beside the limit (an older draft).
                $window = preg_match('/;\s*w=(\d{1,9})/', $headers["{$family}limit"] ?? '', $part) === 1 ? (int) $part[1] : null;

                return new self($limit, $window, $remaining, $reset, $retryAfter);
            }
        }

        return new self(retryAfter: $retryAfter);
    }

    /**
     * Seconds, or a date (RFC 9110 §5.6.7).
     */
    private static function retryAfter(string $header, float $now): ?float
    {
        $header = trim($header);
        if (preg_match('/^\d{1,9}(?:\.\d+)?$/D', $header) === 1) {
            return (float) $header;
        }
        $date = $header === '' || preg_match('/[A-Za-z]{3}/', $header) !== 1 ? false : strtotime($header);

        return $date === false ? null : max(0.0, $date - $now);
    }

    /**
     * Seconds from now, a moment in seconds or milliseconds since 1970, or a date.
     */
    private static function reset(string $header, float $now): ?float
    {
        $header = trim($header);
        if (preg_match('/^\d{1,15}(?:\.\d+)?$/D', $header) === 1) {
            $value = (float) $header;

            return match (true) {
                $value < self::MOMENT => $value,
                $value < 1000 * self::MOMENT => max(0.0, $value - $now),
                default => max(0.0, $value / 1000 - $now),
            };
        }
        $date = $header === '' ? false : strtotime($header);

        return $date === false ? null : max(0.0, $date - $now);
    }

    private static function number(string $header): ?int
    {
        return preg_match('/^\s*(\d{1,12})/', $header, $part) === 1 ? (int) $part[1] : null;
    }

    /**
     * Structured fields (RFC 9651): `"name";r=50;t=30` beside `"name";q=100;w=60`, or the older
     * `limit=100, remaining=50, reset=30`. Of several policies, the one with the least left.
     *
     * @return array{int|null, int|null, int|null, float|null}|null limit, window, remaining, reset
     */
    private static function standard(string $limits, string $policies): ?array
    {
        $known = [];
        foreach (self::items($policies) as $name => $values) {
            $known[$name] = [$values['q'] ?? null, $values['w'] ?? null];
        }
        $least = null;
        foreach (self::items($limits) as $name => $values) {
            $remaining = $values['r'] ?? $values['remaining'] ?? null;
            if ($remaining === null) {
                continue;
            }
            $policy = $known[$name] ?? (count($known) === 1 ? reset($known) : [null, null]);
            $found = [$policy[0] ?? $values['limit'] ?? null, $policy[1], $remaining, isset($values['t']) || isset($values['reset']) ? (float) ($values['t'] ?? $values['reset']) : null];
            $least = $least === null || $remaining < $least[2] ? $found : $least;
        }
        if ($least === null && $known !== []) {
            $first = reset($known);

            return [$first[0], $first[1], null, null];
        }

        return $least;
    }

    /**
     * @return array<string, array<string, int>>
     */
    private static function items(string $header): array
    {
        $items = [];
        if (preg_match('/^\s*(?:limit|remaining|reset)\s*=/i', $header) === 1) {
            preg_match_all('/(limit|remaining|reset)\s*=\s*(\d{1,12})/i', $header, $found, PREG_SET_ORDER);
            foreach ($found as $part) {
                $items['']["$part[1]"] = (int) $part[2];
            }

            return $items;
        }
        foreach (explode(',', $header) as $item) {
            if (preg_match('/^\s*(?:"([^"]*)"|([A-Za-z*][\w.:*-]*)|(\d+))/', $item, $name) !== 1) {
                continue;
            }
            preg_match_all('/;\s*([a-z]+)\s*=\s*"?(\d{1,12})/', $item, $found, PREG_SET_ORDER);
            $values = isset($name[3]) ? ['q' => (int) $name[3]] : [];
            foreach ($found as $part) {
                $values[$part[1]] = (int) $part[2];
            }
            $items[$name[1].($name[2] ?? '')] = $values;
        }

        return $items;
    }
}
