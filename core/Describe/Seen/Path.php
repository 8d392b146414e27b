<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Seen;

use DeepSpring\Describe\EndpointNames;

/**
 * Finds what varies in a path.
 */
final class Path
{
    /**
     * @return array{string, array<string, string>} the path with inputs in it, and their values; empty for one that nobody filled in
     */
    public static function template(string $path): array
    {
        $values = [];
        $before = 'record';
        $steps = explode('/', $path);
        foreach ($steps as $number => $step) {
            $plain = rawurldecode($step);
            $isText = mb_check_encoding($plain, 'UTF-8');
            $placeholder = $isText ? self::placeholder($plain) : null;
            if ($placeholder !== null || $isText && self::isId($plain)) {
                $wish = $placeholder ?? trim((string) preg_replace('/[^a-z0-9]+/', '_', strtolower(EndpointNames::singular($before))), '_').'_id';
                for ($name = $wish, $n = 2; isset($values[$name]); $n++) {
                    $name = "{$wish}_$n";
                }
                $values[$name] = $placeholder === null ? $plain : '';
                $steps[$number] = '{'.$name.'}';
            } else {
                $before = $plain === '' || ! $isText ? $before : $plain;
                $steps[$number] = (string) preg_replace_callback('/[^\x21-\x7e]+|[{}]/', static fn (array $part): string => rawurlencode($part[0]), $step);
            }
        }

        return [implode('/', $steps), $values];
    }

    /**
     * As documentations write what the reader puts in: `{id}`, `:id`, `<id>`, `$ID`, `[id]`, `YOUR_ID`. What
     * a service calls `$count` or `$metadata` is none.
     */
    private static function placeholder(string $step): ?string
    {
        if (preg_match('/^(?:\{+\s*([\w.-]+)\s*\}+|:([A-Za-z_]\w*)|<([\w .-]+)>|\$\{(\w+)\}|\$([A-Z][A-Z0-9_]*)|YOUR_(\w+)|\[([A-Za-z_][\w .-]*)\])$/D', $step, $part) !== 1) {
            return null;
        }
        $name = (string) end($part);

        return preg_match('/^[A-Z0-9_]+$/D', $name) === 1 ? strtolower($name) : (string) preg_replace('/[^\w-]+/', '_', $name);
    }

    /**
     * Digits, a UUID, a day, long hexadecimal, or letters with at least as many digits after them: what
     * stands for one of many.
     */
    private static function isId(string $step): bool
    {
        return preg_match('/^\d+$/D', $step) === 1
            || preg_match('/^[0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12}$/iD', $step) === 1
            || preg_match('/^\d{4}-\d\d-\d\d$/D', $step) === 1
            || preg_match('/^(?=.*\d)[0-9a-f]{12,}$/iD', $step) === 1
            || preg_match('/^[A-Za-z]{1,6}[-_]?\d{2,}[A-Za-z0-9]*$/D', $step) === 1 && preg_match('/^v\d+$/iD', $step) !== 1
            || preg_match('/^\d{2,}[.-]\d{1,}$/D', $step) === 1
            || preg_match('/^[a-z]{1,6}_(?=.*\d)[A-Za-z0-9]{6,}$/D', $step) === 1
            || preg_match('/^(?=.*\d)(?=.*[A-Z])(?=.*[a-z])[A-Za-z0-9_-]{10,}$/D', $step) === 1
            || preg_match('/^[0-9A-HJKMNP-TV-Z]{26}$/D', $step) === 1;
    }
}
