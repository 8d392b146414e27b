<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

/**
 * What objects and arrays are used for, seen from how their members come and go.
 */
final readonly class Shapes
{
    private const PAIR_NAMES = ['name', 'key', 'code', 'id', 'label', 'attribute', 'field', 'property', 'param', 'k', 'n', 'title', 'type'];

    private const PAIR_VALUES = ['value', 'val', 'v', 'content', 'text', 'data'];

    private const KEY_LIKE = ['/^\d+$/D', '/^\d{4}-\d\d(?:-\d\d)?$/D', '/^[0-9a-f]{8}-[0-9a-f-]{27}$/iD', '/^[A-Z]{2,3}(?:-[A-Z0-9]{1,4})?$/D', '/^(?=.*\d)[A-Za-z]{1,6}[-_.:]?\d[\w.:-]*$/D'];

    /**
     * Whether the names of the members are data themselves.
     */
    public function isDictionary(RecordField $field): bool
    {
        $names = array_map(strval(...), array_keys($field->members));
        $count = count($names);
        if ($count >= RecordField::MOST_MEMBERS) {
            return true;
        }
        if ($count < 3 || ! $this->areAlike($field->members)) {
            return false;
        }
        foreach (self::KEY_LIKE as $pattern) {
            if (count((array) preg_grep($pattern, $names)) === $count) {
                return true;
            }
        }
        $present = array_sum(array_map(static fn (RecordField $member): int => $member->present(), $field->members));
        $changing = $field->objects >= 4 && $count >= 10 && $present < 0.3 * $count * $field->objects;

        // One object alone whose many members are objects of one form.
        return $changing || $count >= 8 && $this->areObjects($field->members);
    }

    /**
     * Where an array of objects is a list of names and values: the two members.
     *
     * @param  list<list<mixed>>  $arrays  as they came
     * @return array{string, string, list<string>}|null name, value, all names that occur
     */
    public function pairs(RecordField $element, array $arrays): ?array
    {
        $members = array_map(strval(...), array_keys($element->members));
        if (count($members) !== 2) {
            return null;
        }
        foreach ([$members, array_reverse($members)] as [$name, $value]) {
            if (! in_array(strtolower($name), self::PAIR_NAMES, true) || ! in_array(strtolower($value), self::PAIR_VALUES, true)) {
                continue;
            }
            $names = $element->members[$name];
            if (! $names->isScalar() || ! $names->stats()->isText() || $names->stats()->emptyTexts > 0 || $names->present() < $element->objects || ! $element->members[$value]->isScalar() || count($names->stats()->distinct) > 40) {
                return null;
            }
            foreach ($arrays as $array) {
                $seen = array_map(static fn (mixed $one): mixed => $one instanceof \stdClass ? $one->{$name} ?? null : null, $array);
                if (count(array_unique($seen, SORT_REGULAR)) !== count($seen)) {
                    return null;
                }
            }

            return [$name, $value, $names->stats()->texts()];
        }

        return null;
    }

    /**
     * @param  array<array-key, RecordField>  $members
     */
    private function areAlike(array $members): bool
    {
        if ($this->areObjects($members)) {
            return true;
        }
        $kinds = [];
        foreach ($members as $member) {
            if (! $member->isScalar()) {
                return false;
            }
            $stats = $member->stats();
            if ($stats->filled > 0) {
                $kinds[$stats->isNumber() ? 'number' : ($stats->isText() ? 'text' : 'other')] = true;
            }
        }

        return count($kinds) === 1;
    }

    /**
     * Whether all are objects that share most of their members.
     *
     * @param  array<array-key, RecordField>  $members
     */
    private function areObjects(array $members): bool
    {
        $names = [];
        $empty = 0;
        foreach ($members as $member) {
            if (! $member->isObject()) {
                return false;
            }
            $empty += $member->members === [] ? 1 : 0;
            foreach (array_keys($member->members) as $name) {
                $names[$name] = ($names[$name] ?? 0) + 1;
            }
        }
        $common = array_filter($names, static fn (int $times): bool => $times >= 0.6 * count($members));

        // Very many objects that have only a few members among them are of one form, too.
        return $common !== [] && $empty <= 0.2 * count($members) && (count($common) >= 0.4 * count($names) || count($names) <= max(6, 0.05 * count($members)));
    }
}
