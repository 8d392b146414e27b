<?php

declare(strict_types=1);

namespace StandIns\TideTables;

use StandIns\Request;
use StandIns\Response;
use StandIns\StandIn;
use StandIns\Words;

/**
 * High and low water at the houses that lie by it. The tides ask for a key in the query and lead on by an
 * address in the answer; the gauges ask for a bearer token and lead on by a page and a Link header.
 */
final readonly class TideTables implements StandIn
{
    public const KEY = 'tt-demo-2f9b6d03c1e874a5';

    public const TOKEN = 'tg-demo-90c4e7a1b35d28f6';

    private const TIDES = 480;

    private const GAUGES = 24;

    public function answer(Request $request): Response
    {
        return match ($request->path) {
            '/v1/tides' => $this->tides($request),
            '/v1/gauges' => $this->gauges($request),
            default => Response::json(['message' => "Nothing at {$request->path}."], 404),
        };
    }

    private function tides(Request $request): Response
    {
        if (($request->query['key'] ?? '') !== self::KEY) {
            return Response::json(['message' => 'The parameter key is missing, or the key is unknown.'], 401);
        }
        $size = $request->number('size', 60, 1, 120);
        $from = $request->number('from', 1, 1, self::TIDES);
        if ($size === null || $from === null) {
            return Response::json(['message' => 'size and from are whole numbers.'], 422);
        }
        $last = min(self::TIDES, $from + $size - 1);
        $tides = [];
        for ($n = $from; $n <= $last; $n++) {
            // Six hours and twelve minutes and a half lie between high water and low water.
            $tides[] = ['tide' => $n, 'at' => gmdate('Y-m-d\TH:i:s\Z', (int) gmmktime(2, 10, 0, 1, 1, 2031) + 22350 * $n), 'water' => $n % 2 === 0 ? 'low' : 'high', 'height_m' => number_format(($n % 2 === 0 ? 40 : 260) / 100 + Words::number("height$n", 0, 90) / 100, 2, '.', '')];
        }

        return Response::json(['tides' => $tides, 'paging' => ['next' => $last < self::TIDES ? '/tide-tables/v1/tides?'.http_build_query(['size' => $size, 'from' => $last + 1]) : null]]);
    }

    private function gauges(Request $request): Response
    {
        if (($request->headers['authorization'] ?? '') !== 'Bearer '.self::TOKEN) {
            return Response::json(['message' => 'A token is needed.'], 401, ['WWW-Authenticate' => 'Bearer']);
        }
        $size = $request->number('per_page', 10, 1, 20);
        $page = $request->number('page', 1, 1, 100);
        if ($size === null || $page === null) {
            return Response::json(['message' => 'per_page and page are whole numbers.'], 422);
        }
        $houses = array_keys(Words::HOUSES);
        $gauges = [];
        for ($n = ($page - 1) * $size; $n < min(self::GAUGES, $page * $size); $n++) {
            $gauges[] = ['gauge' => sprintf('G-%02d', $n + 1), 'house' => $houses[$n % count($houses)], 'zero_m' => Words::number("zero$n", -200, 200) / 100, 'checked' => sprintf('2030-%02d-%02d', Words::number("month$n", 1, 12), Words::number("day$n", 1, 28))];
        }
        $links = $page * $size < self::GAUGES ? ['Link' => '</tide-tables/v1/gauges?'.http_build_query(['per_page' => $size, 'page' => $page + 1]).'>; rel="next"'] : [];

        return Response::json($gauges, 200, $links);
    }
}
