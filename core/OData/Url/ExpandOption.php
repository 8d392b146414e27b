<?php

declare(strict_types=1);

namespace DeepSpring\OData\Url;

use DeepSpring\OData\ODataVersion;

/**
 * `$expand` as somebody asks it (OData 4.01 URL conventions §5.1.3; [URI conventions 2.0] §4.6): which ways are
 * followed, and with which options.
 */
final readonly class ExpandOption
{
    /**
     * @param  array<string, string>  $options  by name without the dollar sign
     * @param  list<self>  $expand  what is followed from there
     */
    private function __construct(public string $name, public array $options, public array $expand)
    {
    }

    /** Ways that one request follows, one behind another and altogether. */
    public const DEEPEST = 5;

    public const MOST = 20;

    /**
     * @return list<self>
     *
     * @throws InvalidOption
     */
    public static function read(string $text, ODataVersion $version): array
    {
        $left = self::MOST;

        return $version->isV4() ? self::nested($text, 1, $left) : self::paths(array_map(static fn (string $path): array => explode('/', $path), NestedText::split($text, ',')), 1, $left);
    }

    /**
     * @return list<self>
     *
     * @throws InvalidOption
     */
    private static function nested(string $text, int $depth, int &$left): array
    {
        $items = [];
        foreach (NestedText::split($text, ',') as $item) {
            [$name, $inside] = NestedText::call($item);
            self::check($name, $depth, $left, $items);
            $options = [];
            foreach ($inside === null || trim($inside) === '' ? [] : NestedText::split($inside, ';') as $option) {
                $parts = array_map(trim(...), explode('=', $option, 2));
                $key = strtolower(ltrim($parts[0], '$'));
                $value = $parts[1] ?? null;
                if ($value === null || $key === '') {
                    throw InvalidOption::because("\"$option\" in the parentheses of $name is no option with a value.");
                }
                $options[$key] = isset($options[$key]) ? throw InvalidOption::because("\$$key of $name is said once.") : $value;
            }
            $inner = isset($options['expand']) ? self::nested($options['expand'], $depth + 1, $left) : [];
            unset($options['expand']);
            $items[$name] = new self($name, $options, $inner);
        }

        return array_values($items);
    }

    /**
     * Version 2 names paths: `items,items/title`.
     *
     * @param  list<list<string>>  $paths
     * @return list<self>
     *
     * @throws InvalidOption
     */
    private static function paths(array $paths, int $depth, int &$left): array
    {
        $behind = [];
        foreach ($paths as $path) {
            $behind[trim($path[0])][] = array_slice($path, 1);
        }
        $items = [];
        foreach ($behind as $name => $rest) {
            $name = (string) $name;
            self::check($name, $depth, $left, $items);
            $rest = array_values(array_filter($rest));
            $items[$name] = new self($name, [], $rest === [] ? [] : self::paths($rest, $depth + 1, $left));
        }

        return array_values($items);
    }

    /**
     * @param  array<string, self>  $items  those before it
     *
     * @throws InvalidOption
     */
    private static function check(string $name, int $depth, int &$left, array $items): void
    {
        if (preg_match('/^[A-Za-z_]\w*$/D', $name) !== 1) {
            throw InvalidOption::because($name === '' ? 'Between the commas of $expand stands nothing.' : "\"$name\" is no way that can be followed: each is named, its options in parentheses behind it.");
        }
        if (isset($items[$name])) {
            throw InvalidOption::because("$name is said once in \$expand.");
        }
        if ($depth > self::DEEPEST) {
            throw InvalidOption::because('At most '.self::DEEPEST.' ways are followed one behind another.');
        }
        if (--$left < 0) {
            throw InvalidOption::because('At most '.self::MOST.' ways are followed in one request.');
        }
    }
}
