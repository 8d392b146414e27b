<?php

declare(strict_types=1);

namespace DeepSpring\OData;

/**
 * One entry of a delta answer (OData JSON 4.01 §15): a changed or new entity, one that is gone, or a
 * link, which is of no matter for rows.
 */
final readonly class DeltaEntry
{
    private function __construct(public \stdClass $record, public bool $isRemoved, private bool $isLink)
    {
    }

    public static function of(\stdClass $record): self
    {
        $context = is_string($record->{'@odata.context'} ?? $record->{'@context'} ?? null) ? $record->{'@odata.context'} ?? $record->{'@context'} : '';
        // 4.0 says it by the context, 4.01 by an annotation.
        $isRemoved = isset($record->{'@removed'}) || isset($record->{'@odata.removed'}) || str_ends_with($context, '/$deletedEntity');

        return new self($record, $isRemoved, preg_match('~/\$(?:deletedL|l)ink$~', $context) === 1 || isset($record->source, $record->relationship, $record->target));
    }

    public function isOfNoMatter(): bool
    {
        return $this->isLink;
    }

    /**
     * The values of the key: as members, or in the entity's id.
     *
     * @param  non-empty-list<string>  $names  of the properties of the key
     * @return array<string, string>|null null when they are not to be found
     */
    public function key(array $names): ?array
    {
        $key = [];
        foreach ($names as $name) {
            $value = $this->record->{$name} ?? null;
            if (is_scalar($value)) {
                $key[$name] = is_bool($value) ? ($value ? 'true' : 'false') : (string) $value;
            }
        }
        if (count($key) === count($names)) {
            return $key;
        }
        $id = $this->record->{'@id'} ?? $this->record->{'@odata.id'} ?? $this->record->id ?? null;

        return is_string($id) ? self::inAddress($id, $names) : null;
    }

    /**
     * Whether it says of each of these members what it is now: a service may send only what changed.
     *
     * @param  list<string>  $members
     */
    public function isWhole(array $members): bool
    {
        foreach ($members as $member) {
            if (! property_exists($this->record, $member)) {
                return false;
            }
        }

        return true;
    }

    /**
     * @param  non-empty-list<string>  $names
     * @return array<string, string>|null
     */
    private static function inAddress(string $id, array $names): ?array
    {
        if (preg_match('/\(((?:[^()\']|\'(?:[^\']|\'\')*\')*)\)\/?$/D', rawurldecode($id), $part) !== 1) {
            return null;
        }
        preg_match_all("/(?:([\\p{L}_][\\p{L}\\p{N}_]*)=)?('(?:[^']|'')*'|[^,']+)(?:,|$)/u", $part[1], $found, PREG_SET_ORDER);
        $key = [];
        foreach ($found as $one) {
            $name = $one[1] !== '' ? $one[1] : (count($names) === 1 ? $names[0] : '');
            $key[$name] = str_starts_with($one[2], "'") ? str_replace("''", "'", substr($one[2], 1, -1)) : trim($one[2]);
        }

        return array_diff($names, array_keys($key)) === [] ? array_intersect_key($key, array_flip($names)) : null;
    }
}
