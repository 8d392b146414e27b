<?php

declare(strict_types=1);

namespace StandIns\LoansDesk;

use StandIns\Faults;
use StandIns\Notebook;
use StandIns\Request;
use StandIns\Response;

/**
 * What goes wrong with writes, by `_faults`: {"writes": {"cut": 0.1, "lost": 0.1, "429": 0.1, "503": 0.1, "slow": 0.1}} as
 * shares of all writes, as if by chance and the same each time. "cut" ends the connection before anything was done,
 * "lost" after it was done.
 */
final readonly class Weather
{
    public function __construct(private Faults $faults, private Notebook $notes)
    {
    }

    /**
     * @param  \Closure(): Response  $do
     */
    public function over(Request $request, \Closure $do): Response
    {
        if ($this->faults->setting('needs_match') === true && $request->method === 'PATCH' && ! isset($request->headers['if-match'])) {
            return Response::json(['type' => 'about:blank', 'title' => 'Precondition Required', 'status' => 428, 'detail' => 'Say with If-Match which state of the loan you mean.'], 428, ['Content-Type' => 'application/problem+json']);
        }
        $shares = (array) ($this->faults->setting('writes') ?? []);
        $chance = $shares === [] ? 1.0 : $this->chance();
        foreach ($shares as $kind => $share) {
            $chance -= (float) $share;
            if ($chance < 0) {
                return $this->falls((string) $kind, $do);
            }
        }

        return $do();
    }

    /**
     * @param  \Closure(): Response  $do
     */
    private function falls(string $kind, \Closure $do): Response
    {
        return match ($kind) {
            'slow' => (static function () use ($do): Response {
                usleep(mt_rand(200_000, 600_000));

                return $do();
            })(),
            'cut' => self::torn(),
            'lost' => (static function () use ($do): Response {
                $do();

                return self::torn();
            })(),
            '429' => Response::json(['error' => 'rate_limited', 'message' => 'Too many writes.'], 429, ['Retry-After' => '0']),
            default => Response::json(['error' => 'unavailable', 'message' => 'Try again later.'], 503),
        };
    }

    /**
     * An answer whose connection ends in the middle.
     */
    private static function torn(): Response
    {
        return new Response(200, ['Content-Type' => 'application/json', 'Content-Length' => '4000'], '{"id": ');
    }

    private function chance(): float
    {
        $number = (int) $this->notes->change(static function (array $state): array {
            $state['weather'] = ($state['weather'] ?? 0) + 1;

            return [$state, $state['weather']];
        });

        return hexdec(substr(md5("weather $number"), 0, 7)) / 0xFFFFFFF;
    }
}
