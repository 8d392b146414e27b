<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

use DeepSpring\Ask\Body\BodyNode;

/**
 * A body that was seen → the body of an endpoint, with an input for every value that may vary.
 */
final class BodyFromSample
{
    private const MOST_INPUTS = 60;

    private const DEEPEST = 5;

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
        $type = strtolower(trim(explode(';', $contentType)[0]));
        $tree = json_decode($bytes, false, 512, JSON_BIGINT_AS_STRING);
        if (json_last_error() === JSON_ERROR_NONE && (is_array($tree) || $tree instanceof \stdClass)) {
            return [['as' => 'json', 'of' => $this->node($tree, [], 0)], $this->inputs];
        }
        if ($type === 'application/x-www-form-urlencoded' && preg_match('/^[^=&\s]+=/', $bytes) === 1) {
            return [$this->form($bytes), $this->inputs];
        }
        $as = str_contains($type, 'xml') || preg_match('/^\s*<\?xml/', $bytes) === 1 ? 'xml' : 'text';

        return [['as' => $as, 'of' => strtr($bytes, ['{' => '{{', '}' => '}}'])], []];
    }

    /**
     * @return array<string, mixed>
     */
    private function form(string $bytes): array
    {
        $fields = new \stdClass;
        foreach (explode('&', $bytes) as $pair) {
            [$name, $value] = array_map(static fn (string $one): string => mb_scrub(urldecode($one), 'UTF-8'), explode('=', $pair, 2) + [1 => '']);
            if ($name === '' || $name[0] === "\0") {
                continue;
            }
            if (isset($fields->{$name})) {
                $this->again($fields->{$name}->input, $value);
            } else {
                $fields->{$name} = $this->input([$name], 'text', $value);
            }
        }

        return ['as' => 'form', 'of' => $fields];
    }

    private function again(string $name, string $value): void
    {
        foreach ($this->inputs as $number => $input) {
            if ($input['name'] === $name) {
                $this->inputs[$number] = ['many' => 'repeat', 'try' => [...(array) ($input['try'] ?? []), $value]] + $input;
            }
        }
    }

    /**
     * @param  list<string>  $path
     */
    private function node(mixed $value, array $path, int $depth): mixed
    {
        if (count($this->inputs) >= self::MOST_INPUTS) {
            return BodyNode::literally($value);
        }
        if ($value instanceof \stdClass && $depth < self::DEEPEST) {
            $object = new \stdClass;
            foreach (get_object_vars($value) as $name => $member) {
                $object->{$name} = $this->node($member, [...$path, (string) $name], $depth + 1);
            }

            return get_object_vars($value) === [] ? $value : $object;
        }
        if (is_array($value) && $value !== [] && array_filter($value, static fn (mixed $one): bool => ! is_string($one) && ! is_int($one)) === [] && count(array_unique(array_map(get_debug_type(...), $value))) === 1) {
            return $this->input($path, is_int($value[0]) ? 'integer' : 'text', null, ['many' => 'comma', 'try' => $value]);
        }

        return match (true) {
            is_string($value) => $this->input($path, self::typeOf($value), $value),
            is_int($value) => $this->input($path, 'integer', $value),
            is_float($value) => $this->input($path, 'number', $value),
            is_bool($value) => $this->input($path, 'boolean', $value),
            $value === null => null,
            default => $this->input($path, 'json', (string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION)),
        };
    }

    private static function typeOf(string $value): string
    {
        return match (1) {
            preg_match('/^\d{4}-\d\d-\d\d$/D', $value) => 'date',
            preg_match('/^\d{4}-\d\d-\d\dT\d\d:\d\d/', $value) => 'datetime',
            default => 'text',
        };
    }

    /**
     * @param  list<string>  $path
     * @param  array<string, mixed>  $more  of the input
     */
    private function input(array $path, string $type, string|int|float|bool|null $try, array $more = []): \stdClass
    {
        $input = ['name' => $this->names->take($path), 'in' => 'body'] + ($type === 'text' ? [] : ['type' => $type]) + ($try === null || $try === '' ? [] : ['try' => $try]) + $more;
        $this->inputs[] = $input;

        return (object) ['input' => $input['name']];
    }
}
