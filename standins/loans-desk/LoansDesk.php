<?php

declare(strict_types=1);

namespace StandIns\LoansDesk;

use StandIns\Request;
use StandIns\Response;
use StandIns\Service;
use StandIns\Words;

final readonly class LoansDesk implements Service
{
    public const TOKEN = 'ld-demo-71c0a9d4e25b3f2a';

    public function __construct(private Loans $loans)
    {
    }

    public function answer(Request $request): Response
    {
        if (($request->headers['authorization'] ?? '') !== 'Bearer '.self::TOKEN) {
            return Response::json(['error' => 'unauthorized', 'message' => 'A token is needed.'], 401, ['WWW-Authenticate' => 'Bearer realm="loans-desk"']);
        }
        if ($request->method !== 'GET') {
            return Response::json(['error' => 'method_not_allowed', 'message' => 'This address is for reading.'], 405, ['Allow' => 'GET']);
        }
        if (preg_match('#^/v2/loans(?:/([a-z-]+))?$#D', $request->path, $part) === 1 && (! isset($part[1]) || isset(Words::HOUSES[$part[1]]))) {
            return $this->list($request, $part[1] ?? null);
        }
        if (preg_match('#^/v2/loans/(\d{1,9})$#D', $request->path, $part) === 1 && $this->loans->has((int) $part[1])) {
            return Response::json($this->loans->loan((int) $part[1], true));
        }

        return Response::json(['error' => 'not_found', 'message' => 'No such loan or house.'], 404);
    }

    private function list(Request $request, ?string $house): Response
    {
        $limit = $request->number('limit', 50, 1, 200);
        $after = isset($request->query['after']) ? $this->cursor($request->query['after']) : PHP_INT_MAX;
        if ($limit === null || $after === null) {
            return Response::json(['error' => 'bad_request', 'message' => $limit === null ? 'limit must be a number from 1 to 200' : 'after is not a cursor of this list'], 400);
        }
        $repeat = ($request->query['fault'] ?? '') === 'repeat';
        $ids = array_values(array_filter($this->loans->ids($house, $request->query['status'] ?? null), static fn (int $id): bool => $id < $after));
        $page = array_slice($ids, 0, $limit);
        $more = count($ids) > $limit;
        $items = str_contains($request->query['expand'] ?? '', 'items');

        return Response::json([
            'data' => array_map(fn (int $id): array => $this->loans->loan($id, $items), $page),
            'has_more' => $more || $repeat,
            'next' => $repeat ? 'c_'.base_convert('8000', 10, 36) : ($more ? 'c_'.base_convert((string) end($page), 10, 36) : null),
            'as_of' => '2031-01-15T06:00:00Z',
        ]);
    }

    private function cursor(string $text): ?int
    {
        return preg_match('/^c_([0-9a-z]{1,6})$/D', $text, $part) === 1 ? (int) base_convert($part[1], 36, 10) : null;
    }
}
