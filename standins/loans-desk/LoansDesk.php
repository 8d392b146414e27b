<?php

declare(strict_types=1);

namespace StandIns\LoansDesk;

use StandIns\Desk;
use StandIns\Request;
use StandIns\Response;
use StandIns\StandIn;
use StandIns\Words;

final readonly class LoansDesk implements StandIn
{
    /** A desk token: for reading, without an end. */
    public const TOKEN = 'ld-demo-71c0a9d4e25b3f2a';

    public const CLIENT = 'circle-desk';

    public const SECRET = 'ld-secret-4f0c2a77b1e9d358';

    private const SCOPES = ['loans.read', 'loans.write'];

    public function __construct(private Loans $loans, private Desk $desk, private Register $register, private Weather $weather)
    {
    }

    public function answer(Request $request): Response
    {
        if ($request->path === '/oauth/token') {
            return $this->token($request);
        }
        $token = preg_match('/^Bearer (\S+)$/D', $request->headers['authorization'] ?? '', $part) === 1 ? $part[1] : '';
        $scope = $token === self::TOKEN ? 'loans.read' : $this->desk->scopeOf($token);
        if ($scope === null) {
            return Response::json(['error' => 'unauthorized', 'message' => $token === '' ? 'A token is needed.' : 'This token is not valid.'], 401, ['WWW-Authenticate' => 'Bearer realm="loans-desk"'.($token === '' ? '' : ', error="invalid_token"')]);
        }
        if (! in_array('loans.read', explode(' ', $scope), true)) {
            return Response::json(['error' => 'insufficient_scope', 'message' => 'This needs the scope loans.read.'], 403, ['WWW-Authenticate' => 'Bearer realm="loans-desk", error="insufficient_scope", scope="loans.read"']);
        }
        if ($request->method !== 'GET') {
            if (! in_array('loans.write', explode(' ', $scope), true)) {
                return Response::json(['error' => 'insufficient_scope', 'message' => 'This needs the scope loans.write.'], 403, ['WWW-Authenticate' => 'Bearer realm="loans-desk", error="insufficient_scope", scope="loans.write"']);
            }

            return $this->weather->over($request, fn (): Response => $this->register->answer($request) ?? Response::json(['error' => 'method_not_allowed', 'message' => 'This address does not take that method.'], 405, ['Allow' => 'GET']));
        }
        if (preg_match('#^/v2/loans(?:/([a-z-]+))?$#D', $request->path, $part) === 1 && (! isset($part[1]) || isset(Words::HOUSES[$part[1]]))) {
            return $this->list($request, $part[1] ?? null);
        }
        if ($request->path === '/v2/effects') {
            return Response::json($this->register->effects());
        }
        if (preg_match('#^/v2/loans/(\d{1,9})$#D', $request->path, $part) === 1 && $this->loans->has((int) $part[1])) {
            return Register::withState($this->loans->loan((int) $part[1], true));
        }

        return Response::json(['error' => 'not_found', 'message' => 'No such loan or house.'], 404);
    }

    /**
     * Client credentials (RFC 6749 §4.4), in the header only.
     */
    private function token(Request $request): Response
    {
        $form = $request->form();
        [$id, $secret, $place] = Desk::client($request, $form);
        if ($request->method !== 'POST') {
            return Desk::error('invalid_request', 'Tokens are asked for by POST.', 405);
        }
        if ($place !== 'header' || $id !== self::CLIENT || $secret !== self::SECRET) {
            return Desk::error('invalid_client', $place === 'body' && $id !== '' ? 'Client authentication failed.' : 'Unknown client, or wrong secret.', 401);
        }
        if (($form['grant_type'] ?? '') !== 'client_credentials') {
            return Desk::error('unsupported_grant_type', 'Only client_credentials is offered.');
        }
        $scopes = array_filter(explode(' ', (string) ($form['scope'] ?? 'loans.read')));
        $strange = array_diff($scopes, self::SCOPES);

        // A desk that may only read is given less than it asks for.
        $scopes = $this->desk->mayOnlyRead() ? array_intersect($scopes, ['loans.read']) : $scopes;

        return $strange === [] ? $this->desk->tokens(implode(' ', $scopes), false) : Desk::error('invalid_scope', 'Unknown scope: '.implode(' ', $strange).'. There are loans.read and loans.write.');
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
            'data' => array_map(fn (int $id): ?array => $this->loans->loan($id, $items), $page),
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
