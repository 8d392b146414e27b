<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

use DeepSpring\Answer\JsonPath\JsonPath;

/**
 * What becomes of each field of a record: a column, several, a branch table.
 */
final class Layout
{
    /** Objects that only hold what belongs to the record itself; their names are left out. */
    private const WRAPPERS = ['attributes', 'fields', 'properties', '_source', 'node', '_embedded'];

    /** Names of arrays that say nothing beside the name of what holds them. */
    private const LISTS = ['results', 'items', 'data', 'edges', 'nodes', 'list', 'values', 'elements', 'entries', 'records', 'value', 'item', 'entry'];

    /** Elements of an array of values that are still joined. */
    private const JOINED = 12;

    /** Bytes of a text of which twice as many are joined: codes, tags. */
    private const CODE = 12;

    /** Bytes of a text that is still joined. */
    private const SHORT = 100;

    /** @var list<Draft> */
    public array $columns = [];

    /** @var list<BranchDraft> */
    public array $branches = [];

    /**
     * @param  list<mixed>  $records
     */
    public function __construct(private readonly Shapes $shapes, private readonly array $records, private readonly int $depth, private readonly bool $branching)
    {
    }

    public function of(RecordField $record): self
    {
        if ($record->isArray() && $record->element !== null) {
            $this->positions($record, '$', [], 40);
        } elseif ($record->isScalar() || ! $record->isObject()) {
            $this->columns[] = $record->isScalar() ? new Draft(['value'], '$', $record) : new Draft(['value'], '$', $record, ['type' => 'json'], $record->filled() > $record->objects ? 'sometimes a value, sometimes a structure' : null);
        } elseif ($this->branching && $this->shapes->isDictionary($record) && count($this->records) === 1) {
            $this->branches[] = new BranchDraft(['members'], '$.*', $record->anyMember(), true, 'the names of its members are data');
        } else {
            $this->members($record, '$', [], 1);
        }
        if ($this->columns === [] && $this->branches === []) {
            $this->columns[] = new Draft(['value'], '$', $record, ['type' => 'json'], 'empty so far');
        }

        return $this;
    }

    /**
     * @param  list<string>  $names
     */
    private function members(RecordField $object, string $path, array $names, int $level): void
    {
        foreach ($object->members as $name => $field) {
            if ($name === "\0more") {
                continue;
            }
            $at = $path.RecordField::step($name);
            $own = [...$names, (string) $name];
            match (true) {
                $field->isScalar() => $this->columns[] = new Draft($own, $at, $field),
                $field->isObject() => $this->object($field, $at, $own, (string) $name, $level),
                $field->isArray() => $this->array($field, $at, $own),
                default => $this->columns[] = new Draft($own, $at, $field, ['type' => 'json'], 'sometimes a value, sometimes a structure'),
            };
        }
    }

    /**
     * @param  non-empty-list<string>  $names
     */
    private function object(RecordField $field, string $path, array $names, string $name, int $level): void
    {
        if ($field->members === []) {
            $this->columns[] = new Draft($names, $path, $field, ['type' => 'json'], 'an empty object so far');
        } elseif ($this->branching && $this->shapes->isDictionary($field)) {
            $this->branches[] = new BranchDraft($names, "$path.*", $field->anyMember(), true, 'the names of its members are data: '.implode(', ', array_slice(array_map(strval(...), array_keys($field->members)), 0, 3)).'…');
        } elseif ($level >= $this->depth || count($field->members) >= RecordField::MOST_MEMBERS) {
            $this->columns[] = new Draft($names, $path, $field, ['type' => 'json'], 'too many fields for columns of their own');
        } else {
            $isWrapper = in_array(strtolower($name), self::WRAPPERS, true);
            $this->members($field, $path, $isWrapper ? array_slice($names, 0, -1) : $names, $level + 1);
        }
    }

    /**
     * @param  non-empty-list<string>  $names
     */
    private function array(RecordField $field, string $path, array $names): void
    {
        $element = $field->element ?? new RecordField;
        $most = $field->lengths === [] ? 0 : max($field->lengths);
        if ($element->present() === 0) {
            $this->columns[] = new Draft($names, $path, $field, ['type' => 'json'], 'an empty list so far');
        } elseif ($element->isScalar()) {
            $this->valueList($field, $element, $path, $names, $most);
        } elseif ($element->isObject() && $this->branching) {
            $pairs = $this->shapes->pairs($element, $this->arraysAt($path));
            $pairs === null ? $this->branches[] = new BranchDraft(self::named($names), "{$path}[*]", $element, false, 'a list of objects, '.self::between($field->lengths).' each') : $this->pairs($pairs, $path, $names);
        } else {
            $this->columns[] = new Draft($names, $path, $field, ['type' => 'json'], $element->isArray() ? 'lists inside a list' : ($this->branching ? 'a list of values and structures' : 'too deep for a table of its own'));
        }
    }

    /**
     * @param  non-empty-list<string>  $names
     */
    private function valueList(RecordField $field, RecordField $element, string $path, array $names, int $most): void
    {
        $stats = $element->stats();
        $isPoint = count(array_unique($field->lengths)) === 1 && $most >= 2 && $most <= 4 && $stats->isNumber() && count($field->lengths) > 1;
        if ($isPoint) {
            $this->positions($field, $path, $names, $most);
        } elseif (($most <= self::JOINED && $stats->longest <= self::SHORT || $most <= 2 * self::JOINED && $stats->longest <= self::CODE) && $stats->nulls === 0) {
            $this->columns[] = new Draft($names, "{$path}[*]", $element, ['type' => 'text', 'many' => 'join', 'with' => self::separator($element)]);
        } elseif ($this->branching) {
            $this->branches[] = new BranchDraft(self::named($names), "{$path}[*]", $element, false, 'a list of '.self::between($field->lengths).' values each, too long to be joined');
        } else {
            $this->columns[] = new Draft($names, $path, $field, ['type' => 'json'], 'too deep for a table of its own');
        }
    }

    /**
     * The places of an array as columns.
     *
     * @param  list<string>  $names
     */
    private function positions(RecordField $field, string $path, array $names, int $most): void
    {
        $count = min($most, $field->lengths === [] ? 0 : max($field->lengths));
        $arrays = $this->arraysAt($path);
        for ($place = 0; $place < $count; $place++) {
            $one = new RecordField;
            foreach ($arrays as $array) {
                if (array_key_exists($place, $array)) {
                    $one->take($array[$place]);
                }
            }
            $own = $names === [] ? ['column_'.($place + 1)] : [...$names, (string) ($place + 1)];
            $this->columns[] = new Draft($own, "{$path}[$place]", $one, $one->isScalar() ? null : ['type' => 'json']);
        }
    }

    /**
     * @param  array{string, string, list<string>}  $pairs
     * @param  non-empty-list<string>  $names
     */
    private function pairs(array $pairs, string $path, array $names): void
    {
        [$name, $value, $all] = $pairs;
        foreach ($all as $one) {
            $from = $path.'[?@'.RecordField::step($name).' == '.json_encode($one, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES).']'.RecordField::step($value);
            $field = new RecordField;
            foreach ($this->records as $record) {
                foreach (JsonPath::parse($from)->values($record) as $found) {
                    $field->take($found);
                }
            }
            $this->columns[] = new Draft([...$names, $one], $from, $field, ['many' => 'first'] + (new Guess\Guesses)->of($field->stats(), $one)->column, "from the list of names and values {$names[count($names) - 1]}");
        }
    }

    /**
     * @return list<list<mixed>>
     */
    private function arraysAt(string $path): array
    {
        $parsed = JsonPath::parse($path);
        $arrays = [];
        foreach ($this->records as $record) {
            foreach ($parsed->values($record) as $value) {
                if (is_array($value)) {
                    $arrays[] = array_values($value);
                }
            }
        }

        return $arrays;
    }

    /**
     * Without a last name that says only that it is a list.
     *
     * @param  non-empty-list<string>  $names
     * @return non-empty-list<string>
     */
    private static function named(array $names): array
    {
        while (count($names) > 1 && in_array(strtolower($names[count($names) - 1]), [...self::LISTS, ...self::WRAPPERS], true)) {
            $names = array_slice($names, 0, -1);
        }

        return $names === [] ? ['items'] : $names;
    }

    /**
     * A separator that none of the values holds.
     */
    private static function separator(RecordField $element): string
    {
        foreach ([', ', '; ', ' | '] as $separator) {
            if ($element->stats()->matching('/'.preg_quote(trim($separator), '/').'/') === []) {
                return $separator;
            }
        }

        return "\n";
    }

    /**
     * @param  list<int>  $lengths
     */
    private static function between(array $lengths): string
    {
        [$least, $most] = $lengths === [] ? [0, 0] : [min($lengths), max($lengths)];

        return $least === $most ? (string) $most : "$least to $most";
    }
}
