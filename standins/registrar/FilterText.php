<?php

declare(strict_types=1);

namespace StandIns\Registrar;

/**
 * A `$filter` of either version → a function that looks at a record.
 *
 * @phpstan-type Term \Closure(array<string, mixed>, array<string, array{string, array<string, mixed>}>): mixed
 */
final class FilterText
{
    private const TOKEN = "~\\G\\s*(?:(?<text>(?:[A-Za-z_][\\w.]*)?'(?:[^']|'')*')|(?<guid>[0-9a-fA-F]{8}-(?:[0-9a-fA-F]{4}-){3}[0-9a-fA-F]{12})|(?<time>\\d{4}-\\d\\d-\\d\\d(?:T[\\d:.]+(?:Z|[+-]\\d\\d:\\d\\d)?)?|\\d\\d:\\d\\d(?::[\\d.]+)?)|(?<number>-?\\d+(?:\\.\\d+)?(?:[eE][+-]?\\d+)?[LMdfm]?)|(?<word>[\\p{L}_\$][\\p{L}\\p{N}_.\$]*)|(?<mark>[()/,:]))~u";

    /** @var list<array{string, string}> kind and text */
    private array $tokens = [];

    private int $place = 0;

    private function __construct(private readonly Collection $collection, private readonly bool $isOld)
    {
    }

    /**
     * @return \Closure(array<string, mixed>): bool
     *
     * @throws Refusal
     */
    public static function of(string $filter, string $set, Collection $collection, bool $isOld): \Closure
    {
        $self = new self($collection, $isOld);
        for ($at = 0; trim(substr($filter, $at)) !== ''; $at += strlen($part[0])) {
            if (preg_match(self::TOKEN, $filter, $part, PREG_UNMATCHED_AS_NULL, $at) !== 1) {
                throw new Refusal(400, 'BadFilter', "Syntax error at position $at in '$filter'.");
            }
            foreach (['text', 'guid', 'time', 'number', 'word', 'mark'] as $kind) {
                if ($part[$kind] !== null) {
                    $self->tokens[] = [$kind, $part[$kind]];
                }
            }
        }
        $term = $self->either($set);
        if ($self->place < count($self->tokens)) {
            throw new Refusal(400, 'BadFilter', "Unexpected '{$self->tokens[$self->place][1]}' in '$filter'.");
        }

        return static fn (array $record): bool => $term($record, []) === true;
    }

    /**
     * @return Term
     */
    private function either(string $set): \Closure
    {
        $left = $this->both($set);
        while ($this->takes('or')) {
            $right = $this->both($set);
            $left = static fn (array $record, array $in): bool => $left($record, $in) === true || $right($record, $in) === true;
        }

        return $left;
    }

    /**
     * @return Term
     */
    private function both(string $set): \Closure
    {
        $left = $this->comparison($set);
        while ($this->takes('and')) {
            $right = $this->comparison($set);
            $left = static fn (array $record, array $in): bool => $left($record, $in) === true && $right($record, $in) === true;
        }

        return $left;
    }

    /**
     * @return Term
     */
    private function comparison(string $set): \Closure
    {
        if ($this->takes('not')) {
            $of = $this->comparison($set);

            return static fn (array $record, array $in): bool => $of($record, $in) !== true;
        }
        $left = $this->value($set);
        $operator = $this->tokens[$this->place][1] ?? '';
        if (($this->tokens[$this->place][0] ?? '') !== 'word' || ! in_array($operator, ['eq', 'ne', 'gt', 'ge', 'lt', 'le', 'in'], true)) {
            return $left;
        }
        $this->place++;
        if ($operator === 'in') {
            if ($this->isOld) {
                throw new Refusal(400, 'BadFilter', "Operator 'in' is not known.");
            }
            $this->expect('(');
            $items = $this->arguments($set);

            return static fn (array $record, array $in): bool => in_array($left($record, $in), array_map(static fn (\Closure $item): mixed => $item($record, $in), $items), true);
        }
        $right = $this->value($set);

        return static function (array $record, array $in) use ($left, $right, $operator): bool {
            [$a, $b] = [$left($record, $in), $right($record, $in)];
            if ($operator === 'eq' || $operator === 'ne') {
                return (self::alike($a, $b) ? 'eq' : 'ne') === $operator;
            }
            if ($a === null || $b === null) {
                return false;
            }
            $order = is_numeric($a) && is_numeric($b) ? (float) $a <=> (float) $b : (string) $a <=> (string) $b;

            return match ($operator) {
                'gt' => $order > 0, 'ge' => $order >= 0, 'lt' => $order < 0, default => $order <= 0,
            };
        };
    }

    private static function alike(mixed $a, mixed $b): bool
    {
        return is_numeric($a) && is_numeric($b) && ! (is_string($a) && is_string($b)) ? (float) $a === (float) $b : $a === $b;
    }

    /**
     * @return Term
     */
    private function value(string $set): \Closure
    {
        [$kind, $text] = $this->tokens[$this->place++] ?? ['end', ''];
        if ($text === '(' && $kind === 'mark') {
            $of = $this->either($set);
            $this->expect(')');

            return $of;
        }
        $constant = static fn (mixed $value): \Closure => static fn (): mixed => $value;
        if ($kind === 'text') {
            [$prefix, $quoted] = explode("'", $text, 2);
            $plain = str_replace("''", "'", substr($quoted, 0, -1));
            if ($prefix !== '' && $this->isOld !== in_array($prefix, ['datetime', 'datetimeoffset', 'guid', 'time'], true)) {
                throw new Refusal(400, 'BadFilter', "Literal $text is not understood.");
            }

            return $constant(match ($prefix) {
                'datetime' => str_ends_with($plain, 'T00:00:00') ? substr($plain, 0, 10) : $plain.'Z',
                default => $plain,
            });
        }
        if (in_array($kind, ['guid', 'time'], true)) {
            return $this->isOld ? throw new Refusal(400, 'BadFilter', "Literal $text is not understood.") : $constant($kind === 'guid' ? strtolower($text) : $text);
        }
        if ($kind === 'number') {
            $plain = rtrim($text, 'LMdfm');
            if ($plain !== $text && ! $this->isOld) {
                throw new Refusal(400, 'BadFilter', "Literal $text is not understood.");
            }

            return $constant(ctype_digit(ltrim($plain, '-')) ? (int) $plain : (float) $plain);
        }
        if ($kind !== 'word') {
            throw new Refusal(400, 'BadFilter', 'A value is missing.');
        }
        if (in_array($text, ['true', 'false', 'null'], true)) {
            return $constant(['true' => true, 'false' => false, 'null' => null][$text]);
        }

        return ($this->tokens[$this->place][1] ?? '') === '(' ? $this->call($text, $set) : $this->path($text, $set);
    }

    /**
     * @return Term
     */
    private function call(string $name, string $set): \Closure
    {
        $this->place++;
        $arguments = $this->arguments($set);
        $known = ['startswith' => 2, 'endswith' => 2, 'length' => 1, 'tolower' => 1, 'toupper' => 1, 'year' => 1, 'month' => 1, 'day' => 1, 'indexof' => 2, 'trim' => 1] + ($this->isOld ? ['substringof' => 2] : ['contains' => 2, 'date' => 1]);
        if (! isset($known[$name])) {
            throw new Refusal(400, 'BadFilter', "Function '$name' is not known.");
        }
        if (count($arguments) !== $known[$name]) {
            throw new Refusal(400, 'BadFilter', "Function '$name' takes {$known[$name]} arguments.");
        }

        return static function (array $record, array $in) use ($name, $arguments): mixed {
            $values = array_map(static fn (\Closure $one): mixed => $one($record, $in), $arguments);
            if (in_array(null, $values, true)) {
                return null;
            }
            $values = array_map(strval(...), $values);

            return match ($name) {
                'startswith' => str_starts_with($values[0], $values[1]), 'endswith' => str_ends_with($values[0], $values[1]), 'contains' => str_contains($values[0], $values[1]),
                'substringof' => str_contains($values[1], $values[0]), 'length' => mb_strlen($values[0]), 'tolower' => mb_strtolower($values[0]), 'toupper' => mb_strtoupper($values[0]),
                'year' => (int) substr($values[0], 0, 4), 'month' => (int) substr($values[0], 5, 2), 'day' => (int) substr($values[0], 8, 2), 'indexof' => ($at = mb_strpos($values[0], $values[1])) === false ? -1 : $at,
                'date' => substr($values[0], 0, 10), default => trim($values[0]),
            };
        };
    }

    /**
     * @return list<Term>
     */
    private function arguments(string $set): array
    {
        $arguments = [];
        if (! $this->takes(')')) {
            do {
                $arguments[] = $this->either($set);
            } while ($this->takes(','));
            $this->expect(')');
        }

        return $arguments;
    }

    /**
     * @return Term
     */
    private function path(string $first, string $set): \Closure
    {
        $steps = [$first];
        while ($this->takes('/')) {
            $step = $this->tokens[$this->place++][1] ?? '';
            if (in_array($step, ['any', 'all'], true) && $this->takes('(')) {
                return $this->lambda($steps, $step === 'all', $set);
            }
            $steps[] = $step;
        }
        $collection = $this->collection;
        if (! isset($this->variables[$first])) {
            $this->look($steps, $set);
        }

        return function (array $record, array $in) use ($steps, $set, $collection): mixed {
            if (isset($in[$steps[0]])) {
                [$set, $record] = $in[$steps[0]];
                $steps = array_slice($steps, 1);
            }
            if ($steps === []) {
                return $record['it'] ?? null;
            }
            $value = $record;
            foreach ($steps as $step) {
                if ($step === '$count') {
                    return is_array($value) ? count($value) : 0;
                }
                if (isset(Collection::WAYS[$set][$step])) {
                    $related = $collection->related($set, $value, $step);
                    [$set, $many] = Collection::WAYS[$set][$step];
                    $value = $many ? $related : $related[0] ?? null;
                } else {
                    $value = is_array($value) ? $value[$step] ?? null : null;
                }
                if ($value === null) {
                    return null;
                }
            }

            return $value;
        };
    }

    /** @var array<string, true> */
    private array $variables = [];

    /**
     * @param  non-empty-list<string>  $steps
     * @return Term
     */
    private function lambda(array $steps, bool $all, string $set): \Closure
    {
        if ($this->isOld) {
            throw new Refusal(400, 'BadFilter', "'any' and 'all' are not known in this version.");
        }
        $way = Collection::WAYS[$set][$steps[0]] ?? null;
        $target = $way[0] ?? '';
        $collection = $this->collection;
        $gather = static fn (array $record): array => $way !== null ? $collection->related($set, $record, $steps[0]) : array_map(static fn (mixed $one): array => ['it' => $one], $record[$steps[0]] ?? []);
        if ($this->takes(')')) {
            return static fn (array $record): bool => $gather($record) !== [];
        }
        $variable = $this->tokens[$this->place++][1] ?? '';
        $this->expect(':');
        $this->variables[$variable] = true;
        $of = $this->either($set);
        unset($this->variables[$variable]);
        $this->expect(')');

        return static function (array $record, array $in) use ($gather, $of, $variable, $target, $all): bool {
            foreach ($gather($record) as $one) {
                if (($of($record, [$variable => [$target, $one]] + $in) === true) !== $all) {
                    return ! $all;
                }
            }

            return $all;
        };
    }

    /**
     * @param  non-empty-list<string>  $steps
     */
    private function look(array $steps, string $set): void
    {
        $example = $this->collection->all($set);
        $record = (array) reset($example);
        $name = $steps[0];
        if (! array_key_exists($name, $record) && ! isset(Collection::WAYS[$set][$name])) {
            throw new Refusal(400, 'UnknownProperty', "Could not find a property named '$name' on type '".rtrim($set, 's')."'.", $name);
        }
        if ($name === 'Remarks' && $set === 'Objects') {
            throw new Refusal(400, 'NotFilterable', "The property 'Remarks' cannot be used in the \$filter query option.", 'Remarks');
        }
    }

    private function takes(string $text): bool
    {
        if (($this->tokens[$this->place][1] ?? null) !== $text || $this->tokens[$this->place][0] === 'text') {
            return false;
        }
        $this->place++;

        return true;
    }

    private function expect(string $text): void
    {
        if (! $this->takes($text)) {
            throw new Refusal(400, 'BadFilter', "'$text' is missing.");
        }
    }
}
