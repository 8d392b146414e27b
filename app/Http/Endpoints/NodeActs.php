<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Evidence\Tree\TreeNodes;
use App\Evidence\Tree\UnreadContainer;
use App\View\JsonTree;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * What can be done with one node of an answer.
 */
final readonly class NodeActs
{
    public string $path;

    public mixed $value;

    /** The path inside its record; null when it stands in none. */
    public ?string $inRecord;

    /**
     * @param  list<array{string|int, int}>  $steps
     */
    public function __construct(TreeNodes $nodes, array $steps, public ?EndpointDefinition $endpoint)
    {
        $this->path = JsonTree::path($steps);
        $value = null;
        if ($steps !== []) {
            $last = $steps[count($steps) - 1];
            $parent = $nodes->children(array_slice($steps, 0, -1), $last[1], 1);
            $value = $parent->items[0][1] ?? null;
        } else {
            $children = $nodes->children([], 0, 1);
            $value = $children === null ? null : new UnreadContainer($children->isArray, $children->total);
        }
        $this->value = $value;
        $this->inRecord = self::inRecord($this->path, (string) ($endpoint->endpoint['answer']['records'] ?? ''));
    }

    public function isContainer(): bool
    {
        return $this->value instanceof UnreadContainer || $this->value instanceof \stdClass || is_array($this->value);
    }

    /**
     * The path by which it would be the records: elements of an array, or members of an object.
     */
    public function asRecords(): ?string
    {
        return match (true) {
            is_array($this->value), $this->value instanceof UnreadContainer && $this->value->isArray => $this->path.'[*]',
            $this->isContainer() => $this->path === '$' ? '$' : $this->path.'.*',
            default => null,
        };
    }

    /**
     * As a person would type it.
     */
    public function text(): string
    {
        return is_string($this->value) ? $this->value : (string) json_encode($this->value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION | JSON_INVALID_UTF8_SUBSTITUTE);
    }

    public function columnType(): string
    {
        return match (true) {
            is_int($this->value) => 'integer',
            is_float($this->value) => 'float',
            is_bool($this->value) => 'boolean',
            $this->isContainer() => 'json',
            default => 'text',
        };
    }

    /**
     * @return list<string> names of inputs that a value can be put into
     */
    public function inputs(): array
    {
        return $this->endpoint === null || $this->isContainer() || $this->value === null ? [] : array_values(array_map(static fn (array $input): string => $input['name'], array_filter($this->endpoint->endpoint['ask']['inputs'] ?? [], static fn (array $input): bool => ! array_key_exists('fixed', $input))));
    }

    /**
     * `$.data[3].borrower.name`, with the records at `$.data[*]`, is `$.borrower.name`; elements of
     * further arrays stand for all of them.
     */
    public static function inRecord(string $path, string $records): ?string
    {
        if ($records === '') {
            return self::general($path);
        }
        $plain = static fn (string $one): string => (string) preg_replace("/\['([A-Za-z_]\w*)'\]/", '.$1', $one);
        $like = strtr(preg_quote($plain($records), '~'), ['\[\*\]' => '\[\d+\]', '\.\*' => '(?:\.\w+|\[[^\]]+\])']);

        return preg_match("~^$like(?=[.\[]|$)(.*)$~sD", $plain($path), $part) === 1 ? self::general('$'.(string) end($part)) : null;
    }

    private static function general(string $path): string
    {
        return (string) preg_replace('/\[\d+\]/', '[*]', $path);
    }
}
