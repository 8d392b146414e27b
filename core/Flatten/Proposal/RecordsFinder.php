<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

/**
 * Finds the records of an answer among what else is in it: counts, links, errors, side lists.
 */
final class RecordsFinder
{
    /** Names that lists of records go by. */
    /** Members that count the pages of a list, or what is on them. */
    private const COUNTS = '/^(?:pages?|size|first|last|empty|limit|offset|count|per_?page|page_?size|total(?:_?(?:pages|elements|items|records|results|count))?|number_?of_?elements)$/i';

    public const LISTS = ['data', 'items', 'results', 'records', 'rows', 'values', 'entries', 'content', 'list', 'objects', 'hits', 'elements', 'value', 'result', 'features', 'members', 'member'];

    /** What stands beside records and is no record. */
    private const ASIDE = ['errors', 'error', 'warnings', 'messages', 'included', 'links', '_links', 'link', 'meta', 'metadata', 'facets', 'aggregations', 'filters', 'pagination', 'paging', 'debug', 'schema', 'fields', 'columns', 'headers', 'parameters', 'params', 'sort', 'breadcrumbs', 'notices', 'tags', 'categories', 'legend'];

    private const NAMES = ['columns', 'fields', 'headers', 'header', 'names', 'cols', 'schema', 'columnnames', 'column_names', 'rowtype', 'variables'];

    private const DEEPEST = 5;

    private const LOOKED_AT = 200;

    /** @var list<RecordsProposal> */
    private array $found = [];

    private mixed $document = null;

    /**
     * The likeliest first.
     *
     * @return list<RecordsProposal>
     */
    public function find(mixed $document): array
    {
        $this->found = [];
        $this->document = $document;
        if (is_array($document)) {
            $this->list($document, '$', '', 0);
        } elseif ($document instanceof \stdClass) {
            $this->walk($document, '$', 0);
            $isRecord = self::hasNameOfItsOwn($document);
            $scalars = count(array_filter((array) $document, static fn (mixed $one): bool => is_scalar($one)));
            $this->found[] = new RecordsProposal([], 1, $isRecord ? 'the answer is one record: it has a name or number of its own' : 'the whole answer as one record', $isRecord ? 130 : 5 + min(20, $scalars));
        }
        usort($this->found, static fn (RecordsProposal $a, RecordsProposal $b): int => [$b->score, $b->count] <=> [$a->score, $a->count]);

        return array_slice($this->found, 0, 6);
    }

    /**
     * Whether it has what one record is known by. A number beside others that count pages is that of a page, and
     * a code beside a message that of a status.
     */
    private static function hasNameOfItsOwn(\stdClass $document): bool
    {
        $names = array_map(strval(...), array_keys(get_object_vars($document)));
        $isPage = count(preg_grep(self::COUNTS, $names) ?: []) > 1;
        $isStatus = preg_grep('/^(?:message|msg|status|success|error)$/i', $names) !== [] && is_numeric($document->code ?? null);
        $known = array_diff(['id', 'uuid', '_id', 'guid', 'number', 'ref', 'code'], $isPage ? ['number'] : [], $isStatus ? ['code'] : []);

        return array_filter($known, static fn (string $name): bool => is_scalar($document->{$name} ?? null)) !== [];
    }

    private function walk(\stdClass $object, string $path, int $depth): void
    {
        $members = get_object_vars($object);
        if ($depth > 0 || count($members) > 2) {
            $this->dictionary($members, $path, $depth);
        }
        foreach (array_slice($members, 0, self::LOOKED_AT, true) as $name => $value) {
            $at = $path.RecordField::step($name);
            if (is_array($value)) {
                $this->list($value, $at, (string) $name, $depth);
            } elseif ($value instanceof \stdClass && $depth < self::DEEPEST) {
                $this->walk($value, $at, $depth + 1);
            }
        }
    }

    /**
     * @param  array<array-key, mixed>  $list
     */
    private function list(array $list, string $path, string $name, int $depth): void
    {
        if ($list === []) {
            return;
        }
        $looked = array_slice($list, 0, self::LOOKED_AT);
        $objects = count(array_filter($looked, static fn (mixed $one): bool => $one instanceof \stdClass));
        $arrays = count(array_filter($looked, is_array(...)));
        $score = $this->score($name, $depth, count($list), $looked);
        if ($objects === count($looked)) {
            $this->found[] = new RecordsProposal(['records' => "{$path}[*]"], count($list), $this->why($name, count($list), 'objects'), $score + 60);
        } elseif ($arrays === count($looked)) {
            $this->arrays(array_values($list), $path, $name, $score);
        } elseif ($objects + $arrays === 0) {
            $this->found[] = new RecordsProposal(['records' => "{$path}[*]"], count($list), $this->why($name, count($list), 'values'), $path === '$' ? 50 : $score - 40);
        }
    }

    /**
     * Rows that are arrays: their names stand elsewhere, or in the first of them.
     *
     * @param  list<array<array-key, mixed>>  $rows
     */
    private function arrays(array $rows, string $path, string $name, int $score): void
    {
        $width = max([0, ...array_map('count', array_slice($rows, 0, self::LOOKED_AT))]);
        $names = $this->names($this->document, '$', $width, 0, $path);
        if ($names !== null) {
            $this->found[] = new RecordsProposal(['rows' => ['names' => $names, 'data' => "{$path}[*]"]], count($rows), $this->why($name, count($rows), 'rows').", whose $width names are at $names", $score + 75);

            return;
        }
        $first = $rows[0];
        if (count($rows) > 1 && count($first) === $width && array_filter($first, static fn (mixed $one): bool => ! is_string($one) || $one === '') === [] && count(array_unique($first)) === $width && array_filter($rows[1], static fn (mixed $one): bool => ! is_string($one)) !== []) {
            $this->found[] = new RecordsProposal(['rows' => ['names' => "{$path}[0][*]", 'data' => "{$path}[1:]"]], count($rows) - 1, $this->why($name, count($rows) - 1, 'rows').', whose names are the first of them', $score + 70);
        }
        $this->found[] = new RecordsProposal(['records' => "{$path}[*]"], count($rows), $this->why($name, count($rows), 'rows').' without names', $score + 20);
    }

    /**
     * A list of as many names as a row has values.
     */
    private function names(mixed $value, string $path, int $width, int $depth, string $except): ?string
    {
        if ($depth > self::DEEPEST || ! $value instanceof \stdClass) {
            return null;
        }
        $below = null;
        foreach (get_object_vars($value) as $name => $member) {
            $at = $path.RecordField::step($name);
            if (is_array($member) && $at !== $except && count($member) === $width && in_array(strtolower((string) $name), self::NAMES, true)) {
                $first = $member[array_key_first($member)] ?? null;
                if (is_string($first)) {
                    return "{$at}[*]";
                }
                foreach (['name', 'label', 'title', 'field', 'key', 'id'] as $inner) {
                    if ($first instanceof \stdClass && is_string($first->{$inner} ?? null)) {
                        return "{$at}[*].$inner";
                    }
                }
            }
            $below ??= $this->names($member, $at, $width, $depth + 1, $except);
        }

        return $below;
    }

    /**
     * Objects that stand under names of their own.
     *
     * @param  array<array-key, mixed>  $members
     */
    private function dictionary(array $members, string $path, int $depth): void
    {
        if (count($members) < 2) {
            return;
        }
        $field = new RecordField;
        $object = new \stdClass;
        foreach (array_slice($members, 0, self::LOOKED_AT, true) as $name => $member) {
            if (! $member instanceof \stdClass) {
                return;
            }
            $object->{$name} = $member;
        }
        $field->take($object);
        $shared = null;
        foreach ($field->members as $member) {
            $names = array_keys($member->members);
            $shared = $shared === null ? $names : array_intersect($shared, $names);
        }
        $isDictionary = (new Shapes)->isDictionary($field) || count($members) < 8 && count($shared ?? []) >= 2;
        if ($isDictionary) {
            $last = preg_match('/(\w+)$/', $path, $part) === 1 ? $part[1] : '';
            $this->found[] = new RecordsProposal(['records' => "$path.*"], count($members), number_format(count($members), 0, '.', ' ').' objects, each under a name of its own'.($last === '' ? '' : " in \"$last\""), $this->score($last, $depth - 1, count($members), []) + 45 + (preg_match('/^by_|_by_/', $last) === 1 ? 20 : 0));
        }
    }

    /**
     * @param  array<array-key, mixed>  $looked
     */
    private function score(string $name, int $depth, int $count, array $looked): int
    {
        $lower = strtolower($name);
        $width = 0;
        foreach (array_slice($looked, 0, 20) as $one) {
            $width = max($width, $one instanceof \stdClass ? count((array) $one) : 0);
        }

        return (in_array($lower, self::LISTS, true) ? 40 : 0) - (in_array($lower, self::ASIDE, true) ? 70 : 0) - 8 * max(0, $depth)
            + (int) min(18, 6 * log10(max(1, $count)) + 1) + min(12, 2 * $width);
    }

    private function why(string $name, int $count, string $what): string
    {
        $number = number_format($count, 0, '.', ' ');

        return $name === '' ? "the answer is a list of $number $what" : "a list of $number $what named \"$name\"".(in_array(strtolower($name), self::LISTS, true) ? ', as lists of records are' : '');
    }
}
