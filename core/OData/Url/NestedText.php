<?php

declare(strict_types=1);

namespace DeepSpring\OData\Url;

/**
 * Splits what stands in an option at a sign, but not inside parentheses and not inside quotes (OData 4.01 ABNF
 * `expandItem`, `applyTrafo`).
 */
final class NestedText
{
    /**
     * @param  string  $sign  one character
     * @return non-empty-list<string> what stands between, without blanks around it
     *
     * @throws InvalidOption where parentheses or quotes do not close
     */
    public static function split(string $text, string $sign): array
    {
        $parts = [''];
        $depth = 0;
        foreach (self::pieces($text) as $piece) {
            $depth += ['(' => 1, ')' => -1][$piece] ?? 0;
            if ($depth < 0) {
                throw InvalidOption::because('A parenthesis is closed that was never opened.');
            }
            if ($depth === 0 && $piece === $sign) {
                $parts[] = '';
            } else {
                $parts[count($parts) - 1] .= $piece;
            }
        }
        if ($depth > 0) {
            throw InvalidOption::because('A parenthesis is not closed.');
        }

        return array_map(trim(...), $parts);
    }

    /**
     * `name(inside)` → both; null for what stands in no parentheses.
     *
     * @return array{string, string|null}
     *
     * @throws InvalidOption where something follows the parentheses
     */
    public static function call(string $text): array
    {
        $text = trim($text);
        $open = strpos($text, '(');
        if ($open === false) {
            return [$text, null];
        }
        try {
            $isWhole = str_ends_with($text, ')');
            $isWhole && self::split(substr($text, $open + 1, -1), "\0");
        } catch (InvalidOption) {
            // The last parenthesis is not that of the first.
            $isWhole = false;
        }
        if (! $isWhole) {
            throw InvalidOption::because("\"$text\" goes on behind its parentheses.");
        }

        return [rtrim(substr($text, 0, $open)), substr($text, $open + 1, -1)];
    }

    /**
     * @return list<string> texts in quotes, words, and each other character by itself
     *
     * @throws InvalidOption
     */
    private static function pieces(string $text): array
    {
        preg_match_all("/'(?:[^']|'')*+'|\"(?:[^\"\\\\]|\\\\.)*+\"|[^'\"(),;\\/]++|./s", $text, $found);
        foreach ($found[0] as $piece) {
            if ($piece === "'" || $piece === '"') {
                throw InvalidOption::because('A text is not closed by a quote.');
            }
        }

        return $found[0];
    }
}
