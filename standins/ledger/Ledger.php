<?php

declare(strict_types=1);

namespace StandIns\Ledger;

use StandIns\Request;
use StandIns\Response;
use StandIns\StandIn;
use StandIns\Words;

/**
 * Answers a small part of SQL over accounts and postings. Rows are arrays, the names of their
 * columns stand elsewhere, and long results come in numbered partitions.
 */
final readonly class Ledger implements StandIn
{
    public const KEY = 'lq-demo-5d20c8e1b7f94a36';

    /** @var array<string, array<string, string>> */
    private const COLUMNS = ['accounts' => ['account' => 'text', 'house' => 'text', 'opened' => 'date', 'balance' => 'fixed'], 'postings' => ['posting' => 'integer', 'account' => 'text', 'day' => 'date', 'amount' => 'fixed', 'memo' => 'text']];

    private const COUNTS = ['accounts' => 24, 'postings' => 4200];

    private const PARTITION = 1000;

    public function answer(Request $request): Response
    {
        if (($request->headers['authorization'] ?? '') !== 'Bearer '.self::KEY) {
            return Response::json(['code' => 'AUTH', 'message' => 'A valid bearer token is needed.'], 401, ['WWW-Authenticate' => 'Bearer realm="ledger"']);
        }
        if ($request->path === '/v1/statements' && $request->method === 'POST') {
            $given = json_decode($request->body, true);
            if (! is_array($given) || ! is_string($given['statement'] ?? null)) {
                return Response::json(['code' => 'BODY', 'message' => 'Send {"statement": "select …"} as JSON.'], 400);
            }

            return $this->run($given['statement'], is_array($given['parameters'] ?? null) ? $given['parameters'] : [], 0);
        }
        if (preg_match('#^/v1/statements/([A-Za-z0-9_-]+)$#D', $request->path, $part) === 1 && $request->method === 'GET') {
            $known = json_decode((string) base64_decode(strtr($part[1], '-_', '+/'), true), true);
            $partition = $request->number('partition', 0, 0, 1000);

            return is_array($known) && $partition !== null ? $this->run((string) $known[0], (array) $known[1], $partition) : Response::json(['code' => 'HANDLE', 'message' => 'No such statement or partition.'], 404);
        }

        return Response::json(['code' => 'PATH', 'message' => 'Statements are POSTed to /v1/statements.'], $request->path === '/v1/statements' ? 405 : 404, ['Allow' => 'POST']);
    }

    /**
     * @param  array<array-key, mixed>  $parameters
     */
    private function run(string $statement, array $parameters, int $partition): Response
    {
        if (preg_match('/^\s*select\s+(\*|[\w\s,]+?)\s+from\s+(\w+)(?:\s+where\s+(.+?))?(?:\s+limit\s+(\d+))?\s*;?\s*$/isD', $statement, $part, PREG_UNMATCHED_AS_NULL) !== 1 || ! isset(self::COLUMNS[strtolower((string) $part[2])])) {
            return Response::json(['code' => 'SYNTAX', 'message' => 'Only select … from accounts or postings, with where a = b and limit, is understood.', 'position' => 1], 400);
        }
        $table = strtolower((string) $part[2]);
        $names = $part[1] === '*' ? array_keys(self::COLUMNS[$table]) : array_map(trim(...), explode(',', (string) $part[1]));
        foreach ($names as $name) {
            if (! isset(self::COLUMNS[$table][$name])) {
                return Response::json(['code' => 'COLUMN', 'message' => "There is no column $name in $table."], 400);
            }
        }
        $wanted = [];
        foreach (($part[3] ?? '') === '' ? [] : (preg_split('/\s+and\s+/i', (string) $part[3]) ?: []) as $condition) {
            if (preg_match('/^(\w+)\s*=\s*(?:\'((?:[^\']|\'\')*)\'|:(\w+))$/D', trim($condition), $found) !== 1 || ! isset(self::COLUMNS[$table][$found[1]])) {
                return Response::json(['code' => 'SYNTAX', 'message' => "\"$condition\" is not understood."], 400);
            }
            $wanted[$found[1]] = isset($found[3]) ? (string) ($parameters[$found[3]] ?? '') : str_replace("''", "'", $found[2] ?? '');
        }
        $rows = [];
        for ($n = 1; $n <= self::COUNTS[$table]; $n++) {
            /** @var array<string, string|int|null> $row */
            $row = $this->row($table, $n);
            if (array_filter($wanted, static fn (string $value, string $name): bool => (string) $row[$name] !== $value, ARRAY_FILTER_USE_BOTH) === []) {
                $rows[] = array_map(static fn (string $name): ?string => $row[$name] === null ? null : (string) $row[$name], $names);
            }
        }
        $rows = array_slice($rows, 0, ($part[4] ?? '') === '' ? null : (int) $part[4]);
        $parts = array_chunk($rows, self::PARTITION) ?: [[]];
        if (! isset($parts[$partition])) {
            return Response::json(['code' => 'HANDLE', 'message' => 'No such partition.'], 404);
        }

        return Response::json([
            'handle' => rtrim(strtr(base64_encode((string) json_encode([$statement, $parameters])), '+/', '-_'), '='),
            'meta' => ['columns' => array_map(static fn (string $name): array => ['name' => $name, 'type' => self::COLUMNS[$table][$name] ?? 'text'], $names), 'rows' => count($rows), 'partitions' => array_map(static fn (array $one, int $number): array => ['number' => $number, 'rows' => count($one)], $parts, array_keys($parts))],
            'data' => $parts[$partition],
        ]);
    }

    /**
     * @return array<string, string|int|null>
     */
    private function row(string $table, int $n): array
    {
        $houses = array_keys(Words::HOUSES);
        if ($table === 'accounts') {
            return ['account' => sprintf('%06d', 1100 + $n), 'house' => $houses[$n - 1], 'opened' => gmdate('Y-m-d', (int) gmmktime(0, 0, 0, 1, Words::number("opened$n", 1, 360), 2030)), 'balance' => number_format(Words::number("balance$n", -900000, 9000000) / 100, 2, '.', '')];
        }

        return ['posting' => $n, 'account' => sprintf('%06d', 1100 + Words::number("of$n", 1, 24)), 'day' => gmdate('Y-m-d', (int) gmmktime(0, 0, 0, 1, Words::number("day$n", 1, 400), 2030)), 'amount' => number_format(Words::number("amount$n", -50000, 50000) / 100, 2, '.', ''), 'memo' => $n % 4 === 0 ? null : Words::pick("memo$n", ['Crates', 'Courier', "O'Shee, by hand", 'Loan fee', 'Straw'])];
    }
}
