<?php

declare(strict_types=1);

namespace StandIns\Stores;

use StandIns\Faults;
use StandIns\Notebook;
use StandIns\Request;
use StandIns\Response;
use StandIns\StandIn;
use StandIns\Words;

/**
 * 640 shelf positions, by page number, or by range where one is asked for.
 */
final readonly class Stores implements StandIn
{
    public const KEY = 'st-demo-0b8e5c71f9a2d446';

    private const COUNT = 640;

    public function __construct(private Notebook $notes, private Faults $faults)
    {
    }

    public function answer(Request $request): Response
    {
        if (($request->headers['x-stores-key'] ?? '') !== self::KEY || ($request->headers['x-stores-reader'] ?? '') !== self::KEY) {
            return Response::json(['title' => 'Key missing or wrong', 'detail' => 'Send your key as X-Stores-Key and as X-Stores-Reader.', 'status' => 401], 401, ['WWW-Authenticate' => 'Key header="X-Stores-Key", Key header="X-Stores-Reader"', 'Content-Type' => 'application/problem+json']);
        }
        if (preg_match('#^/v1/positions/(\d{5})$#D', $request->path, $part) === 1 && (int) $part[1] >= 1 && (int) $part[1] <= self::COUNT) {
            return $this->one((int) $part[1], $request);
        }
        if ($request->path !== '/v1/positions') {
            return Response::json(['title' => 'Not found', 'detail' => "There is nothing at {$request->path}.", 'status' => 404], 404);
        }
        if (isset($request->headers['range'])) {
            return $this->range($request->headers['range']);
        }
        // The parameter may go by another name, and this one be passed over in silence.
        $page = $request->number((string) ($this->faults->setting('page_as') ?? 'page'), 1, 1, 100000);
        $size = $request->number('per_page', 50, 1, 100);
        if ($page === null || $size === null) {
            return Response::json(['title' => 'Bad request', 'detail' => 'page and per_page are numbers from 1.', 'status' => 400], 400);
        }
        $positions = [];
        for ($n = ($page - 1) * $size + 1; $n <= min(self::COUNT, $page * $size); $n++) {
            $positions[] = $this->position($n);
        }

        return Response::json(['positions' => $positions, 'page' => $page, 'pages' => (int) ceil(self::COUNT / $size), 'total' => self::COUNT]);
    }

    /**
     * A part of the list, counted from 0 (RFC 9110 §14); 100 at most.
     */
    private function range(string $header): Response
    {
        if (preg_match('/^positions=(\d{1,9})-(\d{1,9})?$/D', $header, $part) !== 1) {
            return Response::json(['title' => 'Bad request', 'detail' => 'Ask for Range: positions=0-99.', 'status' => 400], 400);
        }
        $from = (int) $part[1];
        if ($from >= self::COUNT) {
            return Response::json(['title' => 'Range not satisfiable', 'status' => 416], 416, ['Content-Range' => 'positions */'.self::COUNT]);
        }
        $to = min(self::COUNT - 1, $from + 99, ($part[2] ?? '') === '' ? PHP_INT_MAX : max($from, (int) $part[2]));

        return Response::json(array_map($this->position(...), range($from + 1, $to + 1)), 206, ['Content-Range' => "positions $from-$to/".self::COUNT, 'Accept-Ranges' => 'positions']);
    }

    /**
     * One position: read, or changed. Whoever prefers so (RFC 7240) is shown what it is after the change.
     */
    private function one(int $n, Request $request): Response
    {
        if ($request->method === 'GET') {
            return Response::json($this->position($n));
        }
        if ($request->method !== 'PUT') {
            return Response::json(['title' => 'Method not allowed', 'status' => 405], 405, ['Allow' => 'GET, PUT']);
        }
        $given = json_decode($request->body, true);
        if (! is_array($given) || array_diff(array_keys($given), ['locked', 'holds']) !== [] || isset($given['locked']) && ! is_bool($given['locked'])) {
            return Response::json(['title' => 'Unprocessable', 'detail' => 'locked (true or false) and holds (an object with number and title, or null) can be set.', 'status' => 422], 422, ['Content-Type' => 'application/problem+json']);
        }
        $this->notes->change(static function (array $state) use ($n, $given): array {
            $state["p$n"] = $given + ($state["p$n"] ?? []);

            return [$state, null];
        });

        return str_contains($request->headers['prefer'] ?? '', 'return=representation')
            ? Response::json($this->position($n), 200, ['Preference-Applied' => 'return=representation'])
            : new Response(204, [], '');
    }

    /**
     * @return array<string, mixed>
     */
    private function position(int $n): array
    {
        return ($this->notes->read()["p$n"] ?? []) + [
            'positionId' => sprintf('%05d', $n),
            'room' => Words::pick("room$n", ['A', 'B', 'Cold', 'Long']),
            'shelf' => ['bay' => Words::number("bay$n", 1, 40), 'level' => Words::number("level$n", 1, 6)],
            'holds' => Words::number("holds$n", 0, 4) === 0 ? null : ['number' => sprintf('%04d.%02d', Words::number("no$n", 1, 9999), 1), 'title' => Words::pick("thing$n", Words::THINGS)],
            'widthCm' => Words::number("width$n", 200, 4000) / 10,
            'locked' => Words::number("locked$n", 0, 1) === 1,
            'checkedAt' => gmdate('Y-m-d\TH:i:s\Z', (int) gmmktime(9, 0, 0, 1, Words::number("day$n", 1, 365), 2030)),
        ];
    }
}
