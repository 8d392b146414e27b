<?php

declare(strict_types=1);

namespace StandIns\Registrar;

/**
 * What of a record, or of what it leads to, is wanted.
 */
final readonly class Choice
{
    /**
     * @param  list<string>  $select
     * @param  array<string, self>  $expand
     */
    public function __construct(public array $select = [], public array $expand = [], public string $filter = '', public string $order = '', public ?int $top = null, public int $skip = 0, public bool $count = false)
    {
    }

    /**
     * Version 4, where an expansion has options of its own in parentheses.
     *
     * @param  array<array-key, string>  $options
     */
    public static function four(array $options, string $set): self
    {
        $expand = [];
        foreach (self::split($options['$expand'] ?? '', ',') as $item) {
            preg_match('/^(\w+)(?:\((.*)\))?$/sD', trim($item), $part);
            $name = $part[1] ?? trim($item);
            $way = Collection::WAYS[$set][$name] ?? throw new Refusal(400, 'UnknownProperty', "Could not find a navigation property named '$name' on type '".rtrim($set, 's')."'.", $name);
            $inner = [];
            foreach (self::split($part[2] ?? '', ';') as $option) {
                [$key, $value] = explode('=', $option, 2) + [1 => ''];
                $inner[trim($key)] = $value;
            }
            $expand[$name] = self::four($inner, $way[0]);
        }

        return new self(self::names($options['$select'] ?? ''), $expand, $options['$filter'] ?? '', $options['$orderby'] ?? '', isset($options['$top']) ? (int) $options['$top'] : null, (int) ($options['$skip'] ?? 0), ($options['$count'] ?? '') === 'true');
    }

    /**
     * Version 2, where paths lead through expansions.
     *
     * @param  array<array-key, string>  $options
     */
    public static function two(array $options, string $set): self
    {
        $tree = static function (array $paths, array $select, string $set) use (&$tree): array {
            $expand = [];
            foreach ($paths as $path) {
                [$name, $rest] = explode('/', $path, 2) + [1 => ''];
                $way = Collection::WAYS[$set][$name] ?? throw new Refusal(400, 'UnknownProperty', "No navigation property '$name' exists in type 'REGISTRAR.".rtrim($set, 's')."' at position 0.", $name);
                $within = static fn (array $all): array => array_values(array_filter(array_map(static fn (string $one): string => str_starts_with($one, "$name/") ? substr($one, strlen($name) + 1) : '', $all)));
                $expand[$name] = new self(array_values(array_filter($within($select), static fn (string $one): bool => ! str_contains($one, '/'))), $tree(array_unique([...($rest === '' ? [] : [$rest]), ...$within($paths)]), $within($select), $way[0]));
            }

            return $expand;
        };
        $select = self::names($options['$select'] ?? '');

        return new self(array_values(array_filter($select, static fn (string $one): bool => ! str_contains($one, '/'))), $tree(self::names($options['$expand'] ?? ''), $select, $set), $options['$filter'] ?? '', $options['$orderby'] ?? '', isset($options['$top']) ? (int) $options['$top'] : null, (int) ($options['$skip'] ?? 0), ($options['$inlinecount'] ?? '') === 'allpages');
    }

    /**
     * @return list<string>
     */
    private static function names(string $list): array
    {
        return array_values(array_filter(array_map(trim(...), explode(',', $list)), static fn (string $one): bool => $one !== ''));
    }

    /**
     * At a sign that stands in no parentheses and no quotes.
     *
     * @return list<string>
     */
    private static function split(string $text, string $at): array
    {
        preg_match_all("/(?:'(?:[^']|'')*'|(\\((?:[^()']|'(?:[^']|'')*'|(?1))*\\))|[^$at'()])+/", $text, $found);

        return $found[0];
    }
}
