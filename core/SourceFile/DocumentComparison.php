<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

/**
 * Two source files, field by field.
 */
final class DocumentComparison
{
    /** @var list<DocumentChange> */
    private array $changes = [];

    /**
     * @param  array<string, mixed>  $was
     * @param  array<string, mixed>  $now
     * @return list<DocumentChange>
     */
    public function of(array $was, array $now): array
    {
        $this->changes = [];
        $this->compare($was, $now, []);

        return $this->changes;
    }

    /**
     * @param  list<string>  $path
     */
    private function compare(mixed $was, mixed $now, array $path): void
    {
        $name = $path === [] ? '' : end($path);
        $left = Members::of($was, $name);
        $right = Members::of($now, $name);
        if ($left === null || $right === null) {
            if (! self::same($was, $now)) {
                $this->changes[] = new DocumentChange($path, 'changed', $was, $now);
            }

            return;
        }
        foreach ($left as $member => $value) {
            $step = [...$path, (string) $member];
            if (array_key_exists($member, $right)) {
                $this->compare($value, $right[$member], $step);
            } else {
                $this->changes[] = new DocumentChange($step, 'removed', $value, null);
            }
        }
        foreach (array_diff_key($right, $left) as $member => $value) {
            $this->changes[] = new DocumentChange([...$path, (string) $member], 'added', null, $value);
        }
        $common = array_map(strval(...), array_keys(array_intersect_key($left, $right)));
        $order = array_map(strval(...), array_keys(array_intersect_key($right, $left)));
        if (Members::isNamed($name) && $name !== 'endpoints' && $common !== $order) {
            $this->changes[] = new DocumentChange([...$path, 'order'], 'changed', $common, $order);
        }
    }

    private static function same(mixed $left, mixed $right): bool
    {
        return $left === $right || json_encode($left) === json_encode($right);
    }
}
