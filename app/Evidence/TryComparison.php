<?php

declare(strict_types=1);

namespace App\Evidence;

use App\Models\Exchange;
use App\Models\Tryout;
use DeepSpring\Answer\Difference;

/**
 * Two tries side by side: request, headers, and the body by its structure.
 */
final readonly class TryComparison
{
    /**
     * @param  list<array{string, string|null, string|null}>  $facts  name, and what it is on each side
     * @param  list<array{string, string|null, string|null}>  $headers  of the answers, those that differ first
     * @param  list<array{path: string, kind: string, was: mixed, now: mixed}>  $changes
     */
    private function __construct(public Tryout $left, public Tryout $right, public array $facts, public array $headers, public array $changes, public int $count, public ?string $why)
    {
    }

    public static function of(Tryout $left, Tryout $right): self
    {
        [$one, $other] = [$left->exchanges->first(), $right->exchanges->first()];
        $answers = [CurrentAnswer::of($one, null), CurrentAnswer::of($other, null)];
        $difference = new Difference;
        $canCompare = $answers[0]->isThere && $answers[1]->isThere;
        $changes = $canCompare ? $difference->of($answers[0]->document, $answers[1]->document) : [];
        $why = match (true) {
            $canCompare => $answers[0]->isDigest || $answers[1]->isDigest ? 'The answers are large; their beginnings are compared.' : null,
            $answers[0]->isGone || $answers[1]->isGone => 'A body is no longer kept, so only what stands around it can be compared.',
            default => 'One of the two has no JSON answer, so only what stands around it can be compared.',
        };

        return new self($left, $right, self::facts($one, $other), self::headers($one, $other), $changes, $difference->count, $why);
    }

    /**
     * @return list<array{string, string|null, string|null}>
     */
    private static function facts(?Exchange $left, ?Exchange $right): array
    {
        $of = static function (?Exchange $one): array {
            $lines = explode("\n", trim($one->request ?? ''));

            return ['request' => $lines[0]] + array_column(array_map(static fn (array $line): array => ["header $line[0]", $line[1]], Exchange::lines(implode("\n", array_slice($lines, 1)))), 1, 0)
                + ['body sent' => $one === null ? '' : $one->carried(), 'status' => $one?->status === null ? 'no answer' : (string) $one->status, 'records' => (string) ($one->records ?? ''), 'bytes' => (string) ($one->bytes ?? '')];
        };

        return self::beside($of($left), $of($right));
    }

    /**
     * @return list<array{string, string|null, string|null}>
     */
    private static function headers(?Exchange $left, ?Exchange $right): array
    {
        $of = static fn (?Exchange $one): array => array_column(array_map(static fn (array $line): array => [strtolower($line[0]), $line[1]], Exchange::lines($one->headers ?? '')), 1, 0);

        return self::beside($of($left), $of($right));
    }

    /**
     * @param  array<string, string>  $left
     * @param  array<string, string>  $right
     * @return list<array{string, string|null, string|null}>
     */
    private static function beside(array $left, array $right): array
    {
        $rows = [];
        foreach (array_unique([...array_keys($left), ...array_keys($right)]) as $name) {
            $rows[] = [(string) $name, $left[$name] ?? null, $right[$name] ?? null];
        }
        usort($rows, static fn (array $a, array $b): int => ($a[1] === $a[2] ? 1 : 0) <=> ($b[1] === $b[2] ? 1 : 0));

        return $rows;
    }
}
