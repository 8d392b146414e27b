<?php

declare(strict_types=1);

namespace StandIns\ConservationLab;

use StandIns\Request;
use StandIns\Response;
use StandIns\Service;
use StandIns\Words;

/**
 * 310 treatments, by offset and limit.
 */
final readonly class ConservationLab implements Service
{
    public const TOKEN = 'cl-demo-5e19f7b03c8d20aa';

    private const COUNT = 310;

    public function answer(Request $request): Response
    {
        if (($request->headers['authorization'] ?? '') !== 'Bearer '.self::TOKEN) {
            return Response::json(['error' => 'unauthorized'], 401, ['WWW-Authenticate' => 'Bearer']);
        }
        if ($request->path !== '/treatments') {
            return Response::json(['error' => 'not_found'], 404);
        }
        $offset = $request->number('offset', 0, 0, 100000) ?? 0;
        $limit = $request->number('limit', 40, 1, 100) ?? 40;
        $treatments = [];
        for ($n = $offset + 1; $n <= min(self::COUNT, $offset + $limit); $n++) {
            $treatments[] = ['treatment' => $n, 'object' => sprintf('%04d.01', Words::number("object$n", 1, 9999)), 'did' => Words::pick("did$n", ['cleaned', 'consolidated', 'relined', 'stabilised']), 'hours' => Words::number("hours$n", 1, 80) / 4, 'cost' => number_format(Words::number("cost$n", 2000, 400000) / 100, 2, '.', ''), 'by' => Words::pick("by$n", Words::PEOPLE)];
        }

        return Response::json(['treatments' => $treatments, 'offset' => $offset, 'limit' => $limit, 'count' => self::COUNT]);
    }
}
