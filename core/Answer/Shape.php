<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

/**
 * The paths of a document and the types found at each, positions in arrays left out: what two
 * answers are compared by.
 */
final readonly class Shape
{
    private const MOST_OF_AN_ARRAY = 200;

    /**
     * @param  array<string, list<string>>  $paths  path → types
     */
    private function __construct(public array $paths)
    {
    }

    public static function of(mixed $document): self
    {
        $paths = [];
        self::walk($document, '$', $paths);
        ksort($paths);

        return new self(array_map(static fn (array $types): array => array_keys($types), $paths));
    }

    /**
     * @return array{here: list<string>, there: list<string>, types: array<string, array{string, string}>} paths only in this one, only in the other, and those with other types
     */
    public function against(self $other): array
    {
        $types = [];
        foreach (array_intersect_key($this->paths, $other->paths) as $path => $mine) {
            // Null beside a type is no difference: a sample of few records may lack it by chance.
            $left = array_diff($mine, ['null']);
            $right = array_diff($other->paths[$path], ['null']);
            sort($left);
            sort($right);
            if ($left !== [] && $right !== [] && $left !== $right) {
                $types[(string) $path] = [implode(' or ', $left), implode(' or ', $right)];
            }
        }

        return ['here' => self::outermost(array_diff_key($this->paths, $other->paths)), 'there' => self::outermost(array_diff_key($other->paths, $this->paths)), 'types' => $types];
    }

    /**
     * @param  array<string, array<string, true>>  $paths
     */
    private static function walk(mixed $value, string $path, array &$paths): void
    {
        $type = match (true) {
            $value instanceof \stdClass => 'object',
            is_array($value) => 'array',
            is_string($value) => 'text',
            is_bool($value) => 'boolean',
            is_int($value) => 'whole number',
            is_float($value) => 'number',
            default => 'null',
        };
        $paths[$path][$type] = true;
        foreach ($value instanceof \stdClass ? get_object_vars($value) : [] as $name => $member) {
            self::walk($member, preg_match('/^[A-Za-z_]\w*$/D', (string) $name) === 1 ? "$path.$name" : $path.'['.json_encode((string) $name, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES).']', $paths);
        }
        foreach (is_array($value) ? array_slice($value, 0, self::MOST_OF_AN_ARRAY) : [] as $member) {
            self::walk($member, "{$path}[*]", $paths);
        }
    }

    /**
     * Without those whose parent is missing as well.
     *
     * @param  array<string, list<string>>  $paths
     * @return list<string>
     */
    private static function outermost(array $paths): array
    {
        $outer = [];
        foreach (array_map(strval(...), array_keys($paths)) as $path) {
            $covered = array_filter($outer, static fn (string $one): bool => str_starts_with($path, "$one.") || str_starts_with($path, "{$one}["));
            if ($covered === []) {
                $outer[] = $path;
            }
        }

        return $outer;
    }
}
