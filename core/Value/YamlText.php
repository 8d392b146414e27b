<?php

declare(strict_types=1);

namespace DeepSpring\Value;

use Symfony\Component\Yaml\Exception\ParseException;
use Symfony\Component\Yaml\Yaml;

/**
 * YAML read within bounds: by size, depth, and by what its aliases make of it. A few hundred bytes of
 * aliases that hold aliases stand for more than any machine has.
 */
final readonly class YamlText
{
    /** Bytes that the parser of the whole language takes some seconds for. */
    public const MOST_BYTES = 4 << 20;

    /** Values, each alias counted with all it stands for. */
    private const MOST_VALUES = 1_000_000;

    /** Of those, where aliases are in use at all. */
    private const MOST_BY_ALIAS = 100_000;

    /** Blanks before a line; the parser holds the rest of the text once more for each level. */
    private const MOST_INDENT = 800;

    /**
     * @param  int-mask-of<Yaml::PARSE_*>  $flags
     *
     * @throws ParseException when it is no YAML
     * @throws BeyondBounds
     */
    public static function parse(string $text, int $flags = 0, int $most = self::MOST_BYTES): mixed
    {
        if (strlen($text) > $most) {
            throw BeyondBounds::size(strlen($text), $most);
        }
        if (str_contains($text, str_repeat(' ', self::MOST_INDENT)) && preg_match('/^ {'.self::MOST_INDENT.'}/m', $text) === 1) {
            throw BeyondBounds::depth();
        }
        $value = Yaml::parse($text, $flags);
        $hasAliases = preg_match('/(?:^|[\s,\[{:-])\*[^\s,\]}]/', $text) === 1;
        $most = $hasAliases ? self::MOST_BY_ALIAS : self::MOST_VALUES;
        if (self::count($value, $most) < 0) {
            throw $hasAliases ? BeyondBounds::aliases($most) : BeyondBounds::values($most);
        }

        return $value;
    }

    /**
     * @return int what is left of a number of values; negative when there are more
     */
    private static function count(mixed $value, int $left): int
    {
        $left--;
        if (is_object($value)) {
            $value = get_object_vars($value);
        }
        if (is_array($value)) {
            foreach ($value as $one) {
                $left = is_array($one) || is_object($one) ? self::count($one, $left) : $left - 1;
                if ($left < 0) {
                    return $left;
                }
            }
        }

        return $left;
    }
}
