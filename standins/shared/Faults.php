<?php

declare(strict_types=1);

namespace StandIns;

/**
 * What goes wrong on request: for one call by the query, for all by a file that `_faults` writes.
 */
final class Faults
{
    private readonly string $file;

    public function __construct(string $service)
    {
        $folder = getenv('STANDINS_STATE') ?: sys_get_temp_dir();
        $this->file = "$folder/standin-$service.json";
    }

    /**
     * What `_faults` set, for services that heed it themselves.
     */
    public function setting(string $name): mixed
    {
        $set = is_file($this->file) ? json_decode((string) file_get_contents($this->file), true) : [];

        return is_array($set) ? $set[$name] ?? null : null;
    }

    public function set(string $json): void
    {
        $set = json_decode($json, true);
        file_put_contents($this->file, json_encode(is_array($set) ? $set : []), LOCK_EX);
        @unlink($this->file.'.count');
        @unlink($this->file.'.storm');
    }

    /**
     * @param  \Closure(): Response  $answer
     */
    public function apply(Request $request, \Closure $answer): Response
    {
        usleep(1000 * min(60_000, (int) ($request->query['slow'] ?? 0)));
        $set = is_file($this->file) ? json_decode((string) file_get_contents($this->file), true) : [];
        if (isset($request->headers['transfer-encoding'])) {
            // As servers do that know no chunked requests (RFC 9112 §6.1).
            return Response::json(['error' => 'length_required', 'message' => 'Say how long the body is.'], (int) ($set['chunked'] ?? 411));
        }
        $fault = $request->query['fault'] ?? '';
        if ($fault === 'outage' || ($set['outage_until'] ?? 0) > microtime(true)) {
            return Response::json(['error' => 'unavailable', 'message' => 'Down for maintenance.'], 503, ['Retry-After' => '2']);
        }
        if (isset($set['per_minute']) && $this->count() > $set['per_minute']) {
            return Response::json(['error' => 'rate_limited', 'message' => 'Slow down.'], 429, ['Retry-After' => (string) (60 - time() % 60)]);
        }
        $chance = isset($set['storm']) ? $this->chance() : 0;
        foreach ($set['storm'] ?? [] as $kind => $share) {
            // Shares of all requests: {"429": 0.1, "503": 0.1, "cut": 0.05, "slow": 0.1}.
            $chance -= $share;
            if ($chance < 0) {
                return $this->stormy((string) $kind, $answer);
            }
        }

        return match ($fault) {
            'html' => Response::html('<!doctype html><html><head><title>Sign in to the Circle</title></head><body>Please sign in.</body></html>'),
            'empty' => new Response(200, ['Content-Type' => 'application/json'], ''),
            'error' => Response::json(['error' => 'internal', 'message' => 'The ledger is locked by another clerk.'], 500),
            'redirect' => new Response(302, ['Location' => 'http://elsewhere.saltmarsh.example/v2/loans'], ''),
            'truncated' => $this->cut($answer(), false),
            'cut' => $this->cut($answer(), true),
            'huge' => new Response(200, ['Content-Type' => 'application/json'], '["'.str_repeat('0123456789abcdef', 4_400_000).'"]'),
            default => $answer(),
        };
    }

    /**
     * An answer whose fields were removed or go by other names: {"removes": ["note"], "renames": {"due": "due_on"}}.
     */
    public function altered(Response $answer): Response
    {
        $removes = (array) ($this->setting('removes') ?? []);
        $renames = (array) ($this->setting('renames') ?? []);
        $value = $removes === [] && $renames === [] ? null : json_decode($answer->body);
        if ($value === null) {
            return $answer;
        }
        $alter = static function (mixed $one) use (&$alter, $removes, $renames): mixed {
            if (is_array($one)) {
                return array_map($alter, $one);
            }
            if (! $one instanceof \stdClass) {
                return $one;
            }
            $altered = new \stdClass;
            foreach (get_object_vars($one) as $name => $member) {
                if (! in_array($name, $removes, true)) {
                    $altered->{$renames[$name] ?? $name} = $alter($member);
                }
            }

            return $altered;
        };

        return Response::json($alter($value), $answer->status, $answer->headers);
    }

    /**
     * @param  \Closure(): Response  $answer
     */
    private function stormy(string $kind, \Closure $answer): Response
    {
        if ($kind === 'slow') {
            usleep(mt_rand(200_000, 700_000));

            return $answer();
        }

        return match ($kind) {
            'cut' => $this->cut($answer(), true),
            '429' => Response::json(['error' => 'rate_limited', 'message' => 'Slow down.'], 429, mt_rand(0, 1) === 0 ? [] : ['Retry-After' => '1']),
            default => Response::json(['error' => 'unavailable', 'message' => 'Try again later.'], 503, []),
        };
    }

    private function cut(Response $whole, bool $promiseAll): Response
    {
        $headers = $promiseAll ? ['Content-Length' => (string) strlen($whole->body)] : [];

        return new Response($whole->status, $headers + $whole->headers, substr($whole->body, 0, intdiv(strlen($whole->body), 2)));
    }

    /**
     * As if by chance, and the same for the first, second, third request of every storm.
     */
    private function chance(): float
    {
        $number = $this->counted('.storm', '');

        return hexdec(substr(md5("storm $number"), 0, 7)) / 0xFFFFFFF;
    }

    /**
     * Requests of this minute, this one among them.
     */
    private function count(): int
    {
        return $this->counted('.count', (string) intdiv(time(), 60));
    }

    /**
     * How often this was called with the same period one after the other, by all processes together.
     */
    private function counted(string $file, string $period): int
    {
        $handle = fopen($this->file.$file, 'c+');
        if ($handle === false || ! flock($handle, LOCK_EX)) {
            return 0;
        }
        [$before, $count] = explode(' ', (string) stream_get_contents($handle).' 0');
        $count = $before === $period ? (int) $count + 1 : 1;
        ftruncate($handle, 0);
        rewind($handle);
        fwrite($handle, "$period $count");
        fclose($handle);

        return $count;
    }
}
