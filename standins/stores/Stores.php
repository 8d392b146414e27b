<?php

declare(strict_types=1);

namespace StandIns\Stores;

use StandIns\Request;
use StandIns\Response;
use StandIns\Service;
use StandIns\Words;

/**
 * 640 shelf positions, by page number.
 */
final readonly class Stores implements Service
{
    public const KEY = 'st-demo-0b8e5c71f9a2d446';

    private const COUNT = 640;

    public function answer(Request $request): Response
    {
        if (($request->headers['x-stores-key'] ?? '') !== self::KEY || ($request->headers['x-stores-reader'] ?? '') !== self::KEY) {
            return Response::json(['title' => 'Key missing or wrong', 'detail' => 'Send your key as X-Stores-Key and as X-Stores-Reader.', 'status' => 401], 401, ['WWW-Authenticate' => 'Key header="X-Stores-Key", Key header="X-Stores-Reader"', 'Content-Type' => 'application/problem+json']);
        }
        if ($request->path !== '/v1/positions') {
            return Response::json(['title' => 'Not found', 'detail' => "There is nothing at {$request->path}.", 'status' => 404], 404);
        }
        $page = $request->number('page', 1, 1, 100000);
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
     * @return array<string, mixed>
     */
    private function position(int $n): array
    {
        return [
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
