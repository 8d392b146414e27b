<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

use DeepSpring\Ask\Body\BodyNode;
use DeepSpring\Value\JsonText;

/**
 * A body that was seen → the body of an endpoint, with an input for every value that may vary. Filled
 * with the values that were seen it is the body that was seen: what an input, a null or an empty text
 * would leave out is written so that it is sent, and numbers keep their digits.
 */
final class BodyFromSample
{
    private const MOST_INPUTS = 60;

    private const DEEPEST = 5;

    /** Longest name of a field that a form of the source file is given. */
    private const LONGEST_NAME = 190;

    /** @var list<array<string, mixed>> */
    private array $inputs = [];

    private readonly InputNames $names;

    /**
     * @param  list<string>  $taken  names of inputs that are there already
     */
    public function __construct(array $taken = [])
    {
        $this->names = new InputNames($taken);
    }

    /**
     * @return array{array<string, mixed>|null, list<array<string, mixed>>} body and inputs of a source file
     */
    public function of(string $bytes, string $contentType): array
    {
        $this->inputs = [];
        $bytes = mb_scrub($bytes, 'UTF-8');
        if ($bytes === '') {
            return [null, []];
        }
        try {
            $tree = JsonText::decode($bytes);
        } catch (\JsonException) {
            $tree = null;
        }
        if (is_array($tree) || $tree instanceof \stdClass) {
            return [['as' => 'json', 'of' => $this->node($tree, [], 0)], $this->inputs];
        }
        if (self::type($contentType) === 'application/x-www-form-urlencoded' && preg_match('/^[^=&\s]+=/', $bytes) === 1) {
            return [$this->form($bytes), $this->inputs];
        }

        return [self::asText($bytes, $contentType), []];
    }

    /**
     * The bytes as they are, without inputs.
     *
     * @return array<string, mixed>
     */
    public static function asText(string $bytes, string $contentType): array
    {
        $as = str_contains(self::type($contentType), 'xml') || preg_match('/^\s*<\?xml/', $bytes) === 1 ? 'xml' : 'text';

        return ['as' => $as, 'of' => strtr($bytes, ['{' => '{{', '}' => '}}'])];
    }

    private static function type(string $contentType): string
    {
        return strtolower(trim(explode(';', $contentType)[0]));
    }

    /**
     * @return array<string, mixed>
     */
    private function form(string $bytes): array
    {
        $fields = new \stdClass;
        $values = [];
        foreach (explode('&', $bytes) as $pair) {
            [$name, $value] = array_map(static fn (string $one): string => mb_scrub(urldecode($one), 'UTF-8'), explode('=', $pair, 2) + [1 => '']);
            if ($name !== '' && $name[0] !== "\0" && strlen($name) <= self::LONGEST_NAME) {
                $values[$name][] = $value;
            }
        }
        foreach ($values as $name => $all) {
            $name = (string) $name;
            $fields->{$name} = count($all) === 1 ? $this->input([$name], 'text', $all[0]) : $this->input([$name], 'text', null, ['many' => 'repeat', 'try' => $all]);
        }

        return ['as' => 'form', 'of' => $fields];
    }

    /**
     * @param  list<string>  $path
     */
    private function node(mixed $value, array $path, int $depth): mixed
    {
        if (count($this->inputs) >= self::MOST_INPUTS) {
            return $this->literally($value, $path);
        }
        if ($value instanceof \stdClass && $depth < self::DEEPEST) {
            $members = get_object_vars($value);
            $object = new \stdClass;
            $before = $this->inputs;
            foreach ($members as $name => $member) {
                $object->{$name} = $this->node($member, [...$path, (string) $name], $depth + 1);
            }

            if ($members === []) {
                return (object) ['literal' => $value];
            }
            if (BodyNode::of($object)->kind === null && ! BodyNode::isDoubtful($object)) {
                return $object;
            }
            // An object of the API that a source file would read as something else.
            $this->inputs = $before;

            return $this->literally($value, $path);
        }
        if (is_array($value) && $value !== [] && ! in_array('', $value, true)) {
            $types = array_unique(array_map(self::typeOf(...), $value));
            if ($types === ['integer'] || array_diff($types, ['text', 'date', 'datetime']) === []) {
                return $this->input($path, $types === ['integer'] ? 'integer' : 'text', null, ['many' => 'comma', 'try' => array_map(static fn (mixed $one): string|int => $one instanceof JsonText ? $one->json : $one, $value)]);
            }
        }
        $type = self::typeOf($value);

        return match (true) {
            $value === null => (object) ['literal' => null],
            $type === 'json' => $this->input($path, 'json', JsonText::encode($value)),
            default => $this->input($path, $type, $value instanceof JsonText ? $value->json : $value),
        };
    }

    private static function typeOf(mixed $value): string
    {
        return match (true) {
            is_int($value) || $value instanceof JsonText && preg_match('/^-?\d+$/D', $value->json) === 1 => 'integer',
            is_float($value), $value instanceof JsonText => 'number',
            is_bool($value) => 'boolean',
            ! is_string($value) => 'json',
            preg_match('/^(\d{4})-(\d\d)-(\d\d)$/D', $value, $part) === 1 && checkdate((int) $part[2], (int) $part[3], (int) $part[1]) => 'date',
            preg_match('/^(\d{4})-(\d\d)-(\d\d)T(?:[01]\d|2[0-3]):[0-5]\d(?::[0-5]\d(?:\.\d+)?)?(?:Z|[+-]\d\d:?\d\d)?$/D', $value, $part) === 1 && checkdate((int) $part[2], (int) $part[3], (int) $part[1]) => 'datetime',
            default => 'text',
        };
    }

    /**
     * A part that does not vary. Digits that a source file cannot hold as a number are held as text.
     *
     * @param  list<string>  $path
     */
    private function literally(mixed $value, array $path): mixed
    {
        if ($value === null) {
            return (object) ['literal' => null];
        }
        $json = JsonText::encode($value);
        if (JsonText::canonical(json_encode(json_decode($json), JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES) ?: '') === JsonText::canonical($json)) {
            return is_scalar($value) ? $value : (object) ['literal' => json_decode($json)];
        }
        $name = $this->names->take($path);
        $this->inputs[] = ['name' => $name, 'in' => 'body', 'type' => 'json', 'fixed' => $json];

        return (object) ['input' => $name];
    }

    /**
     * @param  list<string>  $path
     * @param  array<string, mixed>  $more  of the input
     */
    private function input(array $path, string $type, string|int|float|bool|null $try, array $more = []): \stdClass
    {
        $input = ['name' => $this->names->take($path), 'in' => 'body'] + ($type === 'text' ? [] : ['type' => $type]) + ($try === '' ? ['send_empty' => true] : ($try === null ? [] : ['try' => $try])) + $more;
        $this->inputs[] = $input;

        return (object) ['input' => $input['name']];
    }
}
