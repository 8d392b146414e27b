<?php

declare(strict_types=1);

namespace StandIns\CrateLoggers;

use StandIns\Faults;
use StandIns\Notebook;
use StandIns\Request;
use StandIns\Response;
use StandIns\StandIn;
use StandIns\Words;

/**
 * Temperature and humidity inside travelling crates: two million readings, each made when it is
 * asked for. Forty crates, a reading from each every ten minutes from the first day of 2030 on.
 */
final readonly class CrateLoggers implements StandIn
{
    public const KEY = 'cr-demo-7d13f0a96be4c258';

    public const READINGS = 2_000_000;

    private const CRATES = 40;

    private const EVERY = 600;

    private const PER_MINUTE = 600;

    public function __construct(private Faults $faults, private Notebook $asked)
    {
    }

    public function answer(Request $request): Response
    {
        if (($request->headers['x-logger-key'] ?? '') !== self::KEY) {
            return Response::json(['message' => 'The header X-Logger-Key is missing, or its key is unknown.'], 401, ['WWW-Authenticate' => 'Key header="X-Logger-Key"']);
        }
        [$allowed, $limits] = $this->limits();
        if (! $allowed) {
            return Response::json(['message' => 'Too many requests.'], 429, $limits + ['Retry-After' => $limits['X-RateLimit-Reset']]);
        }
        $answer = match ($request->path) {
            '/v1/crates' => $this->crates($request),
            '/v1/readings' => $this->readings($request),
            default => Response::json(['message' => "Nothing at {$request->path}."], 404),
        };

        return new Response($answer->status, $answer->headers + $limits, $answer->body);
    }

    /**
     * Six hundred requests in each minute of the clock; as many as `_faults` says, if it does.
     *
     * @return array{bool, array<string, string>}
     */
    private function limits(): array
    {
        $most = (int) ($this->faults->setting('allows') ?? self::PER_MINUTE);
        $minute = intdiv(time(), 60);
        $count = (int) $this->asked->change(static function (array $state) use ($minute, $most): array {
            // Another allowance is counted anew.
            $count = [$state['minute'] ?? 0, $state['most'] ?? 0] === [$minute, $most] ? $state['count'] + 1 : 1;

            return [['minute' => $minute, 'most' => $most, 'count' => $count], $count];
        });

        return [$count <= $most, ['X-RateLimit-Limit' => (string) $most, 'X-RateLimit-Remaining' => (string) max(0, $most - $count), 'X-RateLimit-Reset' => (string) (60 - time() % 60)]];
    }

    /**
     * All crates in one page, which says when it last changed (RFC 9110 §8.8, §13).
     */
    private function crates(Request $request): Response
    {
        $crates = [];
        for ($n = 1; $n <= self::CRATES; $n++) {
            $crates[] = ['crate' => self::crate($n), 'length_cm' => Words::number("length$n", 60, 320), 'fitted' => sprintf('2029-%02d-%02d', Words::number("month$n", 1, 12), Words::number("day$n", 1, 28)), 'home' => array_keys(Words::HOUSES)[($n - 1) % count(Words::HOUSES)]];
        }
        $etag = '"'.substr(hash('xxh128', (string) json_encode([$crates, $this->faults->setting('changed')])), 0, 16).'"';
        $headers = ['ETag' => $etag, 'Last-Modified' => 'Tue, 01 Jan 2030 06:00:00 GMT'];
        if (in_array($etag, array_map(trim(...), explode(',', $request->headers['if-none-match'] ?? '')), true)) {
            return new Response(304, $headers, '');
        }

        return Response::json($crates, 200, $headers);
    }

    private function readings(Request $request): Response
    {
        $size = $request->number('per_page', 100, 1, 1000);
        $after = $request->number('after', 0, 0, self::READINGS);
        $since = $request->query['since'] ?? '';
        $moment = $since === '' ? null : strtotime($since);
        if ($size === null || $after === null || $moment === false) {
            return Response::json(['message' => 'per_page and after are whole numbers, since is a moment as ISO 8601 writes it.'], 422);
        }
        $before = (int) gmmktime(0, 0, 0, 1, 1, 2030);
        $first = max($after + 1, $moment === null ? 1 : max(0, intdiv($moment - $before + self::EVERY - 1, self::EVERY)) * self::CRATES + 1);
        $last = min(self::READINGS, $first + $size - 1);
        $readings = [];
        for ($n = $first; $n <= $last; $n++) {
            $readings[] = $this->reading($n, $before);
        }
        $links = ['</crate-loggers/v1/readings>; rel="first"'];
        $loops = (int) ($this->faults->setting('loops_at') ?? 0);
        if ($last < self::READINGS) {
            $links[] = '</crate-loggers/v1/readings?'.http_build_query(['per_page' => $size, 'after' => $loops > 0 && $last >= $loops ? $size : $last] + ($since === '' ? [] : ['since' => $since])).'>; rel="next"; title="later readings, by number"';
        }

        return Response::json($readings, 200, ['Link' => implode(', ', $links)]);
    }

    /**
     * @return array<string, mixed>
     */
    private function reading(int $n, int $before): array
    {
        $crate = ($n - 1) % self::CRATES + 1;
        $tick = intdiv($n - 1, self::CRATES);
        $day = sin($tick / 144 * 2 * M_PI);

        return [
            'reading' => $n, 'crate' => self::crate($crate), 'at' => gmdate('Y-m-d\TH:i:s\Z', $before + $tick * self::EVERY),
            'temperature' => round(18 + 2.5 * $day + ($n * 2654435761 % 1000) / 1000, 2),
            'humidity' => 44 + ($n * 40503 % 17), 'shock' => $n * 2246822519 % 997 === 0,
        ];
    }

    private static function crate(int $number): string
    {
        return sprintf('CR-%03d', $number);
    }
}
