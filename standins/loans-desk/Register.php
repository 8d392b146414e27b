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

        return Response::json($this->loans->loan($id, true), 201, ['Location' => Request::origin()."/loans-desk/v2/loans/$id"]);
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

        return Response::json($this->loans->loan($loan['id'], true));
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

        return Response::json($this->loans->loan($loan['id'], true));
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

            return [$state, null];
        });
    }
}
