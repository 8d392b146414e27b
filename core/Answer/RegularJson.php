<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

/**
 * JSON text whose records look like some of them: the members of each object in one order and each at
 * most once, all numbers short. One regular expression that is made of those records says so of the
 * whole text, in less time than members could be counted in. Where it says no, nothing is known: so it
 * does of short texts, and of the first of several that are alike.
 */
final class RegularJson
{
    /** Records of a list that the expression is made of, spread over it. */
    private const LEARNED_FROM = 8;

    /** And where those were too few to show all members that some have. */
    private const LEARNED_FROM_MORE = 512;

    /** Members in all that an expression is made for. */
    private const MOST_MEMBERS = 200;

    private const STRING = '"[^"\\\\]*+(?:\\\\.[^"\\\\]*+)*+"';

    /** Those that decoding keeps: up to 18 digits without a point, up to 14 with one, no exponent, no minus zero. */
    private const NUMBER = '-?(?:[1-9]\d{0,3}+(?:\.\d{1,10}+|\d{1,5}+(?:\.\d{1,5}+|\d{1,9}+)?+)?+|0\.\d{1,14}+)|0';

    private const SPACE = '[ \t\n\r]*+';

    /** Bytes of a text below which it is quick to count members. */
    private const WORTH = 16_384;

    /** Hashes of expressions that are remembered. */
    private const REMEMBERED = 16;

    /** Texts that were not regular, one after the other, after which only each so many-th is tried. */
    private const PATIENCE = 8;

    private static int $misses = 0;

    /** The expression that was used last. */
    private static string $last = '';

    /** @var array<string, true> hashes of expressions that were made */
    private static array $met = [];

    private int $members = 0;

    private function __construct(private readonly string $space, private readonly int $learnedFrom)
    {
    }

    /**
     * @param  string  $json  valid
     * @param  mixed  $document  what it was decoded to, objects as `stdClass`
     */
    public static function is(string $json, mixed $document): bool
    {
        if (strlen($json) < self::WORTH) {
            return false;
        }
        // Where several in a row were not, hardly any of the next ones is.
        $isTried = self::$misses < self::PATIENCE || self::$misses % self::PATIENCE === 0;
        $is = $isTried && self::matches($json, $document);
        self::$misses = $is ? 0 : self::$misses + 1;

        return $is;
    }

    private static function matches(string $json, mixed $document): bool
    {
        if (self::$last !== '' && preg_match(self::$last, $json) === 1) {
            return true;
        }
        $isSpaced = preg_match('/^\s*[{\[]\s|[{\[,:"]\s+["{\[\d]/', substr($json, 0, 400)) === 1;
        $isAgain = self::$misses >= self::PATIENCE / 2;
        $value = (new self($isSpaced ? self::SPACE : '', $isAgain ? self::LEARNED_FROM_MORE : self::LEARNED_FROM))->value([$document]);
        $pattern = $value === null ? self::$last : '/\A\s*+'.$value.'\s*+\z/s';
        if ($pattern === self::$last || ! $isAgain && ! self::wasMet($pattern)) {
            return false;
        }
        // One that is too large for the regex engine says nothing.
        $is = @preg_match($pattern, $json);
        self::$last = $is === false ? '' : $pattern;

        return $is === 1;
    }

    /**
     * Whether a text before led to the same expression. To compile one takes longer than to count the members
     * of one page, so it is for lists whose pages are alike.
     */
    private static function wasMet(string $pattern): bool
    {
        $hash = hash('xxh128', $pattern);
        if (isset(self::$met[$hash])) {
            return true;
        }
        self::$met = [$hash => true] + array_slice(self::$met, 0, self::REMEMBERED - 1, true);

        return false;
    }

    /**
     * @param  list<mixed>  $samples  what may stand there
     * @return string|null null where it would be too long
     */
    private function value(array $samples): ?string
    {
        $kinds = self::STRING.'|'.self::NUMBER.'|null|true|false';
        $objects = array_values(array_filter($samples, static fn (mixed $sample): bool => $sample instanceof \stdClass));
        $lists = array_values(array_filter($samples, is_array(...)));
        if ($objects !== []) {
            $object = $this->object($objects);
            if ($object === null) {
                return null;
            }
            $kinds .= "|$object";
        }
        if ($lists !== []) {
            $element = $this->value(array_merge(...array_map($this->some(...), $lists)));
            if ($element === null) {
                return null;
            }
            $kinds .= "|\\[{$this->space}(?:$element{$this->space}(?:,{$this->space}|(?=\\])))*+\\]";
        }

        return "(?:$kinds)";
    }

    /**
     * @param  list<\stdClass>  $objects
     */
    private function object(array $objects): ?string
    {
        /** @var list<string> $names */
        $names = [];
        $values = [];
        foreach ($objects as $object) {
            $at = 0;
            foreach (get_object_vars($object) as $name => $value) {
                if (! isset($values[$name])) {
                    // After the one that it follows here.
                    array_splice($names, $at, 0, [(string) $name]);
                    $this->members++;
                }
                $values[$name][] = $value;
                $at = 1 + (int) array_search((string) $name, $names, true);
            }
            if ($this->members > self::MOST_MEMBERS) {
                return null;
            }
        }
        $pattern = '';
        foreach ($names as $name) {
            $value = $this->value($this->some($values[$name]));
            if ($value === null) {
                return null;
            }
            $written = substr((string) json_encode($name, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), 1, -1);
            $pattern .= '(?:"'.preg_quote($written, '/')."\"{$this->space}:{$this->space}$value{$this->space},?+{$this->space})?+";
        }

        return "\\{{$this->space}$pattern\\}";
    }

    /**
     * @param  array<mixed>  $values
     * @return list<mixed>
     */
    private function some(array $values): array
    {
        $values = array_values($values);
        $count = count($values);
        if ($count <= $this->learnedFrom) {
            return $values;
        }
        $some = [];
        for ($number = 0; $number < $this->learnedFrom; $number++) {
            $some[] = $values[intdiv($number * ($count - 1), $this->learnedFrom - 1)];
        }

        return $some;
    }
}
