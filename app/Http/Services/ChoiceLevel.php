<?php

declare(strict_types=1);

namespace App\Http\Services;

use DeepSpring\OData\Filter\Condition;
use DeepSpring\OData\Filter\FilterFinding;
use DeepSpring\OData\Model\EntitySet;
use DeepSpring\OData\Model\StructuredType;
use DeepSpring\OData\SetChoice;

/**
 * The set, or what navigation leads to, as the page of a choice shows it.
 */
final readonly class ChoiceLevel
{
    /**
     * @param  list<string>  $paths  what can be selected
     * @param  list<Condition>|null  $conditions  null when the filter says more than conditions can
     * @param  list<string>  $comparable  what can be asked about
     * @param  list<FilterFinding>  $findings  of the filter
     * @param  list<FilterFinding>  $orderFindings
     */
    public function __construct(
        public int $number,
        public string $path,
        public StructuredType $type,
        public ?EntitySet $set,
        public bool $many,
        public SetChoice $choice,
        public array $paths,
        public ?array $conditions,
        public array $comparable,
        public array $findings,
        public array $orderFindings,
        public ?string $broken,
    ) {
    }

    public function isChosen(string $path): bool
    {
        return $this->choice->select === [] || in_array($path, $this->choice->select, true) || in_array(explode('/', $path)[0], $this->choice->select, true);
    }

    public function isKey(string $path): bool
    {
        foreach ($this->type->key as $part) {
            if ($part->path === $path) {
                return true;
            }
        }

        return false;
    }

    /**
     * @return list<array{string, bool}> by what, and whether from the end
     */
    public function orders(): array
    {
        $orders = [];
        foreach ($this->choice->order === '' ? [] : explode(',', $this->choice->order) as $one) {
            $orders[] = [(string) preg_replace('/\s+(?:asc|desc)$/i', '', trim($one)), preg_match('/\sdesc$/i', trim($one)) === 1];
        }

        return $orders;
    }
}
