<?php

declare(strict_types=1);

namespace DeepSpring\OData;

/**
 * An address that somebody copied from an OData service: that of its metadata, or of a set with query
 * options → the root of the service and what was chosen.
 */
final readonly class ServiceAddress
{
    private const OPTIONS = ['$filter', '$select', '$expand', '$orderby', '$top', '$skip', '$count', '$inlinecount', '$format', '$search', '$skiptoken', '$apply', '$deltatoken'];

    /**
     * @param  array<string, mixed>  $choice  of a source file; empty when the address names no set
     * @param  list<string>  $leftOut  options that say nothing lasting, or that are not chosen by picking
     */
    private function __construct(public string $root, public ?ODataVersion $version, public array $choice, public array $leftOut = [])
    {
    }

    /**
     * Null for an address that does not show that it speaks OData.
     */
    public static function of(string $address): ?self
    {
        $address = trim($address);
        if (preg_match('~^https?://[^\s?#]+(?:\?[^\r\n]*)?$~i', $address) !== 1) {
            return null;
        }
        [$path, $query] = explode('?', $address, 2) + [1 => ''];
        if (preg_match('~^(https?://.+?)/\$metadata/?$~i', $path, $part) === 1) {
            return new self($part[1], null, []);
        }
        $options = self::options($query);
        $known = array_intersect_key($options, array_flip(self::OPTIONS));
        $steps = explode('/', rtrim($path, '/'));
        $at = null;
        foreach ($steps as $number => $step) {
            if ($number > 2 && preg_match('/^[\p{L}_][\p{L}\p{N}_.]*(?:\(|%28)/u', $step) === 1) {
                $at = $number;
                break;
            }
        }
        if ($at === null && $known === [] || count($steps) < 4) {
            return null;
        }
        $at ??= count($steps) - (end($steps) === '$count' ? 2 : 1);
        $set = (string) preg_replace('/(?:\(|%28).*$/', '', $steps[$at]);
        $root = implode('/', array_slice($steps, 0, $at));

        return preg_match('/^[\p{L}_][\p{L}\p{N}_.]*$/Du', $set) !== 1 || count(explode('/', $root)) < 3 ? null : new self($root, self::version($known), ['entity_set' => $set] + self::choice($known), array_map(strval(...), array_keys(array_diff_key($options, array_flip(['$filter', '$select', '$expand', '$orderby', '$top', '$skip', '$search', '$count', '$inlinecount', '$format'])))));
    }

    /**
     * @return array<string, string>
     */
    private static function options(string $query): array
    {
        $options = [];
        foreach (explode('&', $query) as $pair) {
            [$name, $value] = explode('=', $pair, 2) + [1 => ''];
            if ($name !== '') {
                $options[urldecode($name)] = urldecode($value);
            }
        }

        return $options;
    }

    /**
     * @param  array<string, string>  $options
     */
    private static function version(array $options): ?ODataVersion
    {
        return match (true) {
            isset($options['$inlinecount']) || preg_match("/\\b(?:datetime|guid|datetimeoffset)'|\\bsubstringof\\(/", $options['$filter'] ?? '') === 1 => ODataVersion::V2,
            isset($options['$count']) || isset($options['$search']) || str_contains($options['$expand'] ?? '', '(') || str_contains($options['$filter'] ?? '', 'contains(') => ODataVersion::V4,
            default => null,
        };
    }

    /**
     * @param  array<string, string>  $options
     * @return array<string, mixed>
     */
    private static function choice(array $options): array
    {
        $select = self::names($options['$select'] ?? '');
        $number = static fn (string $name): ?int => ctype_digit($options[$name] ?? '') && (int) $options[$name] > 0 ? (int) $options[$name] : null;

        return array_filter([
            'select' => array_values(array_filter($select, static fn (string $one): bool => $one !== '*' && (! str_contains($one, '/') || str_contains($options['$expand'] ?? '', '(')))),
            'filter' => trim($options['$filter'] ?? ''),
            'order' => trim($options['$orderby'] ?? ''),
            'top' => $number('$top'),
            'skip' => $number('$skip'),
            'search' => trim($options['$search'] ?? ''),
            'expand' => self::expand($options['$expand'] ?? '', $select),
        ], static fn (mixed $one): bool => $one !== null && $one !== '' && $one !== []);
    }

    /**
     * @param  list<string>  $select  with paths through expansions, as version 2 has them
     * @return array<string, array<string, mixed>>
     */
    private static function expand(string $text, array $select): array
    {
        $expand = [];
        foreach (self::split($text, ',') as $item) {
            if (preg_match('/^\s*([\p{L}_][\p{L}\p{N}_.]*)\s*(?:\((.*)\))?\s*$/suD', $item, $part) === 1) {
                $inner = [];
                foreach (self::split($part[2] ?? '', ';') as $option) {
                    [$name, $value] = explode('=', $option, 2) + [1 => ''];
                    $inner[trim($name)] = $value;
                }
                $expand[$part[1]] = self::choice($inner) + ($expand[$part[1]] ?? []);
            } elseif (preg_match('~^\s*([\p{L}_][\p{L}\p{N}_.]*)/([\p{L}\p{N}_./]+)\s*$~uD', $item, $part) === 1) {
                $expand[$part[1]]['expand'] = ($expand[$part[1]]['expand'] ?? []) + self::expand($part[2], []);
            }
        }
        foreach ($select as $path) {
            [$name, $rest] = explode('/', $path, 2) + [1 => ''];
            if ($rest !== '' && $rest !== '*' && ! str_contains($rest, '/') && isset($expand[$name]) && ! str_contains($text, '(')) {
                $expand[$name]['select'][] = $rest;
            }
        }

        return $expand;
    }

    /**
     * @return list<string>
     */
    private static function names(string $list): array
    {
        return array_values(array_filter(array_map(trim(...), explode(',', $list)), static fn (string $one): bool => preg_match('~^[\p{L}_*][\p{L}\p{N}_./*-]*$~uD', $one) === 1));
    }

    /**
     * At a sign outside parentheses and quotes.
     *
     * @return list<string>
     */
    private static function split(string $text, string $at): array
    {
        $parts = [''];
        $depth = 0;
        $isQuoted = false;
        foreach (str_split($text) as $sign) {
            $isQuoted = $sign === "'" ? ! $isQuoted : $isQuoted;
            $depth += $isQuoted ? 0 : ($sign === '(' ? 1 : ($sign === ')' ? -1 : 0));
            if ($sign === $at && $depth === 0 && ! $isQuoted) {
                $parts[] = '';
            } else {
                $parts[count($parts) - 1] .= $sign;
            }
        }

        return array_values(array_filter($parts, static fn (string $part): bool => trim($part) !== ''));
    }
}
