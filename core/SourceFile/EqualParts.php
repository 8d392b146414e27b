<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

/**
 * Parts that many endpoints of a large file have in common (columns, inputs, bodies), each kept once: in an
 * endpoint a number stands in their place, which no valid endpoint has there.
 */
final class EqualParts
{
    private const PLACES = [['flatten', 'columns'], ['flatten', 'branches'], ['ask', 'inputs'], ['ask', 'body']];

    /** @var array<string, int> numbers by the hash of a part */
    private array $numbers = [];

    /** @var list<array<array-key, mixed>> */
    private array $parts = [];

    /**
     * @param  array<string, mixed>  $endpoint  of a source file
     * @return array<string, mixed> with numbers in the place of its parts
     */
    public function taken(array $endpoint): array
    {
        foreach (self::PLACES as [$of, $name]) {
            if (is_array($endpoint[$of][$name] ?? null)) {
                $hash = hash('xxh128', serialize($endpoint[$of][$name]));
                if (! isset($this->numbers[$hash])) {
                    $this->numbers[$hash] = count($this->parts);
                    $this->parts[] = $endpoint[$of][$name];
                }
                $endpoint[$of][$name] = $this->numbers[$hash];
            }
        }

        return $endpoint;
    }

    /**
     * @param  array<string, mixed>  $endpoint  as `taken` gave it
     * @return array<string, mixed>
     *
     * @throws \OutOfBoundsException where it names a part that is not there
     */
    public function put(array $endpoint): array
    {
        foreach (self::PLACES as [$of, $name]) {
            if (is_int($endpoint[$of][$name] ?? null)) {
                $endpoint[$of][$name] = $this->parts[$endpoint[$of][$name]] ?? throw new \OutOfBoundsException("{$of}.{$name} of {$endpoint['slug']}");
            }
        }

        return $endpoint;
    }

    /**
     * The parts that were added since there were so many.
     *
     * @return list<array<array-key, mixed>>
     */
    public function since(int $count): array
    {
        return array_slice($this->parts, $count);
    }

    public function count(): int
    {
        return count($this->parts);
    }

    /**
     * @param  array<array-key, mixed>  $part  the next one
     */
    public function add(array $part): void
    {
        $this->parts[] = $part;
    }
}
