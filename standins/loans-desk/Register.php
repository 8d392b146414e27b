<?php

declare(strict_types=1);

namespace StandIns\LoansDesk;

use StandIns\Notebook;
use StandIns\Request;
use StandIns\Response;
use StandIns\Words;

/**
 * Creates, changes, closes and withdraws loans.
 */
final readonly class Register
{
    private const OURS = ['borrower', 'house', 'due', 'note', 'tags', 'objects', 'insurance'];

    public function __construct(private Loans $loans, private Notebook $notes)
    {
    }

    public function answer(Request $request): ?Response
    {
        if ($request->method === 'POST' && $request->path === '/v2/loans/batch') {
            return $this->batch($request);
        }
        if ($request->method === 'POST' && $request->path === '/v2/loans') {
            return $this->once($request, fn (): Response => $this->create($request));
        }
        if (preg_match('#^/v2/loans/(\d{1,9})(/close)?$#D', $request->path, $part) !== 1) {
            return null;
        }
        $loan = $this->loans->loan((int) $part[1], true);
        if ($loan === null) {
            return Response::json(['error' => 'not_found', 'message' => 'No such loan.'], 404);
        }

        return match (true) {
            isset($request->headers['if-match']) && $request->headers['if-match'] !== self::state($loan) => Response::json(['error' => 'precondition_failed', 'message' => 'The loan was changed meanwhile.'], 412),
            $request->method === 'PATCH' && ! isset($part[2]) => $this->change($loan, $request),
            $request->method === 'DELETE' && ! isset($part[2]) => $this->withdraw($loan),
            $request->method === 'POST' && isset($part[2]) => $this->once($request, fn (): Response => $this->close($loan)),
            default => null,
        };
    }

    private function create(Request $request): Response
    {
        $given = json_decode($request->body, true);
        $errors = is_array($given) ? $this->errors($given, true) : [];
        if (! is_array($given) || array_is_list($given)) {
            return Response::json(['error' => 'bad_request', 'message' => 'The body must be a JSON object.'], 400);
        }
        if ($errors !== []) {
            return self::invalid($errors);
        }
        $id = (int) $this->notes->change(static function (array $state): array {
            $id = max(Loans::NEWEST, ...array_map(intval(...), array_keys($state['made'] ?? []) ?: [0])) + 1;
            $state['made'][$id] = [];

            return [$state, $id];
        });
        $this->keep($id, $given + ['status' => 'open', 'house' => 'north-quay']);

        return self::withState($this->loans->loan($id, true), 201, ['Location' => Request::origin()."/loans-desk/v2/loans/$id"]);
    }

    /**
     * @param  array<string, mixed>  $loan
     */
    private function change(array $loan, Request $request): Response
    {
        $given = json_decode($request->body, true);
        if (! is_array($given)) {
            return Response::json(['error' => 'bad_request', 'message' => 'The body must be a JSON object.'], 400);
        }
        if (in_array($loan['status'], ['closed', 'withdrawn'], true)) {
            return Response::json(['error' => 'conflict', 'message' => "The loan is {$loan['status']} and cannot be changed."], 409);
        }
        $errors = $this->errors($given, false);
        if ($errors !== []) {
            return self::invalid($errors);
        }
        $this->keep($loan['id'], $given);

        return self::withState($this->loans->loan($loan['id'], true));
    }

    /**
     * @param  array<string, mixed>|null  $loan
     * @param  array<string, string>  $headers
     */
    public static function withState(?array $loan, int $status = 200, array $headers = []): Response
    {
        return Response::json($loan, $status, $headers + ($loan === null ? [] : ['ETag' => self::state($loan)]));
    }

    /**
     * @param  array<string, mixed>  $loan
     */
    private static function state(array $loan): string
    {
        return '"'.substr(md5((string) json_encode($loan)), 0, 8).'"';
    }

    /**
     * What was done, and how often, by the number of the loan.
     *
     * @return array{count: int, by: array<array-key, int>}
     */
    public function effects(): array
    {
        $by = $this->notes->read()['effects'] ?? [];

        return ['count' => array_sum($by), 'by' => $by];
    }

    /**
     * Several changes at once, each with its own answer (RFC 4918 §11.1, RFC 9457).
     */
    private function batch(Request $request): Response
    {
        $given = json_decode($request->body, true);
        if (! is_array($given) || ! is_array($given['changes'] ?? null) || count($given['changes']) > 100) {
            return Response::json(['error' => 'bad_request', 'message' => 'The body must be {"changes": [{"id": …, …}]}, at most 100.'], 400);
        }
        $results = [];
        foreach ($given['changes'] as $one) {
            $loan = is_array($one) && is_int($one['id'] ?? null) ? $this->loans->loan($one['id'], true) : null;
            $answer = $loan === null ? Response::json(['error' => 'not_found', 'message' => 'No such loan.'], 404) : $this->change($loan, new Request('PATCH', '', [], [], (string) json_encode(array_diff_key($one, ['id' => 1]))));
            $results[] = ['id' => $one['id'] ?? null, 'status' => $answer->status, 'body' => json_decode($answer->body, true)];
        }

        return Response::json(['results' => $results], array_filter($results, static fn (array $one): bool => $one['status'] >= 400) === [] ? 200 : 207);
    }

    /**
     * @param  array<string, mixed>  $loan
     */
    private function close(array $loan): Response
    {
        if ($loan['status'] === 'closed') {
            return Response::json(['error' => 'conflict', 'message' => 'The loan is closed already.'], 409);
        }
        $this->keep($loan['id'], ['status' => 'closed']);

        return Response::json($this->loans->loan($loan['id'], true) + ['receipt' => ['number' => "RC-{$loan['id']}", 'objects' => count($loan['items'] ?? [])]]);
    }

    /**
     * @param  array<string, mixed>  $loan
     */
    private function withdraw(array $loan): Response
    {
        $this->keep($loan['id'], ['status' => 'withdrawn']);

        return new Response(204, [], '');
    }

    /**
     * @param  array<string, mixed>  $given
     * @return list<array{field: string, problem: string}>
     */
    private function errors(array $given, bool $isNew): array
    {
        $errors = [];
        $add = static function (string $field, string $problem) use (&$errors): void {
            $errors[] = ['field' => $field, 'problem' => $problem];
        };
        foreach (array_diff(array_keys($given), self::OURS) as $name) {
            $add((string) $name, 'is not a field of a loan');
        }
        if ($isNew && ! isset($given['borrower'])) {
            $add('borrower', 'is required');
        }
        if (isset($given['borrower']) && ! isset(Words::HOUSES[$given['borrower']])) {
            $add('borrower', 'is not the short name of a house');
        }
        if ($isNew && ! isset($given['due'])) {
            $add('due', 'is required');
        }
        if (isset($given['due']) && preg_match('/^\d{4}-\d\d-\d\d$/D', (string) $given['due']) !== 1) {
            $add('due', 'must be a date like 2031-03-02');
        }
        if (array_key_exists('insurance', $given) && $given['insurance'] !== null) {
            $insurance = is_array($given['insurance']) ? $given['insurance'] : [];
            foreach (['policy', 'value'] as $name) {
                if (! isset($insurance[$name])) {
                    $add("insurance.$name", 'is required when insurance is sent');
                }
            }
            if (isset($insurance['value']) && ! is_int($insurance['value']) && ! is_float($insurance['value'])) {
                $add('insurance.value', 'must be a number');
            }
        }
        if (isset($given['objects']) && (! is_array($given['objects']) || ! array_is_list($given['objects']))) {
            $add('objects', 'must be a list of object numbers');
        }

        return $errors;
    }

    /**
     * @param  list<array{field: string, problem: string}>  $errors
     */
    private static function invalid(array $errors): Response
    {
        return Response::json(['error' => 'invalid', 'message' => 'Some fields are not right.', 'errors' => $errors], 422);
    }

    /**
     * The same key gives the same answer, without doing it again.
     *
     * @param  \Closure(): Response  $do
     */
    private function once(Request $request, \Closure $do): Response
    {
        $key = $request->headers['idempotency-key'] ?? '';
        $kept = $this->notes->read()['answers'][$key] ?? null;
        if ($key !== '' && $kept !== null) {
            return new Response($kept['status'], $kept['headers'] + ['Idempotency-Replayed' => 'true'], $kept['body']);
        }
        $response = $do();
        if ($key !== '' && $response->status < 400) {
            $this->notes->change(static function (array $state) use ($key, $response): array {
                $state['answers'][$key] = ['status' => $response->status, 'headers' => $response->headers, 'body' => $response->body];

                return [$state, null];
            });
        }

        return $response;
    }

    /**
     * @param  array<string, mixed>  $given
     */
    private function keep(int $id, array $given): void
    {
        $this->notes->change(static function (array $state) use ($id, $given): array {
            $state['made'][$id] = $given + ($state['made'][$id] ?? []);
            $state['effects'][$id] = ($state['effects'][$id] ?? 0) + 1;

            return [$state, null];
        });
    }
}
