<?php

declare(strict_types=1);

namespace App\View;

use DeepSpring\Answer\JsonPath\Location;
use DeepSpring\Value\JsonText;
use Illuminate\Support\HtmlString;

/**
 * A value as JSON with indents, in which some nodes are marked. Of long arrays and objects only what leads to
 * a marked node is written out beyond some members.
 */
final readonly class MarkedJson
{
    /** Members that are written out of any array or object. */
    private const MEMBERS = 60;

    /** Characters of one text. */
    private const LONGEST = 2000;

    /**
     * @param  list<list<string|int>>  $marks  steps from the root of the value
     */
    private function __construct(private array $marks)
    {
    }

    /**
     * @param  list<list<string|int>>  $marks
     */
    public static function html(mixed $value, array $marks): HtmlString
    {
        return new HtmlString('<pre class="marked-json" tabindex="0">'.(new self($marks))->node($value, [], '').'</pre>');
    }

    /**
     * @param  list<string|int>  $steps
     */
    private function node(mixed $value, array $steps, string $indent): string
    {
        $text = is_array($value) || $value instanceof \stdClass ? $this->container($value, $steps, $indent) : self::scalar($value);

        return in_array($steps, $this->marks, true) && $steps !== [] ? '<mark title="'.e('$'.implode('', array_map(Location::short(...), $steps))).'">'.$text.'</mark>' : $text;
    }

    /**
     * @param  array<mixed>|\stdClass  $value
     * @param  list<string|int>  $steps
     */
    private function container(array|\stdClass $value, array $steps, string $indent): string
    {
        $isList = is_array($value);
        $members = (array) $value;
        if ($members === []) {
            return $isList ? '[]' : '{}';
        }
        $lines = [];
        $left = 0;
        $number = 0;
        foreach ($members as $name => $child) {
            $own = [...$steps, $isList ? (int) $name : (string) $name];
            if ($number++ >= self::MEMBERS && ! $this->leads($own)) {
                $left++;

                continue;
            }
            $lines[] = "$indent  ".($isList ? '' : '<span class="name">'.e((string) json_encode((string) $name, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES)).'</span>: ').$this->node($child, $own, "$indent  ");
        }
        if ($left > 0) {
            $lines[] = "$indent  <span class=\"s\">… ".Show::number($left).' more</span>';
        }

        return ($isList ? '[' : '{')."\n".implode(",\n", $lines)."\n$indent".($isList ? ']' : '}');
    }

    /**
     * @param  list<string|int>  $steps
     */
    private function leads(array $steps): bool
    {
        foreach ($this->marks as $mark) {
            if (array_slice($mark, 0, count($steps)) === $steps) {
                return true;
            }
        }

        return false;
    }

    private static function scalar(mixed $value): string
    {
        $text = $value instanceof JsonText ? $value->json : (string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE | JSON_PRESERVE_ZERO_FRACTION);

        return e(mb_strlen($text) > self::LONGEST ? mb_substr($text, 0, self::LONGEST).'…' : $text);
    }
}
