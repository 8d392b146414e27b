<?php

declare(strict_types=1);

namespace StandIns\ConservationLab;

use StandIns\Faults;
use StandIns\Notebook;
use StandIns\Request;
use StandIns\Response;
use StandIns\StandIn;
use StandIns\Words;

/**
 * 310 treatments, by offset and limit. On request, a treatment is added at the front with each
 * request, or pages begin a little too early.
 */
final readonly class ConservationLab implements StandIn
{
    public const TOKEN = 'cl-demo-5e19f7b03c8d20aa';

    private const COUNT = 310;

    public function __construct(private Faults $faults, private Notebook $notes)
    {
    }

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
        $all = self::COUNT;
        $added = 0;
        if ($this->faults->setting('grows') === true) {
            $added = (int) $this->notes->change(static fn (array $state): array => [['added' => ($state['added'] ?? 0) + 1], $state['added'] ?? 0]);
            $all += $added;
        }
        $early = $offset > 0 ? (int) ($this->faults->setting('overlaps') ?? 0) : 0;
        $treatments = [];
        foreach ($offset >= $all ? [] : range($offset + 1 - $early, min($all, $offset + $limit)) as $place) {
            // Those that were added stand first, the newest before all.
            $n = $place <= $added ? self::COUNT + $added - $place + 1 : $place - $added;
            $treatments[] = ['treatment' => $n, 'object' => sprintf('%04d.01', Words::number("object$n", 1, 9999)), 'did' => Words::pick("did$n", ['cleaned', 'consolidated', 'relined', 'stabilised']), 'hours' => Words::number("hours$n", 1, 80) / 4, 'cost' => number_format(Words::number("cost$n", 2000, 400000) / 100, 2, '.', ''), 'by' => Words::pick("by$n", Words::PEOPLE)];
        }

        return Response::json(['treatments' => $treatments, 'offset' => $offset, 'limit' => $limit, 'count' => $all]);
    }
}
