<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use DeepSpring\Feed\FeedColumn;

/**
 * A way from rows of one feed to rows of another (OData CSDL 4.01 §8).
 */
final readonly class FeedLink
{
    /**
     * @param  bool  $isMany  whether several rows can be there, or at most one
     * @param  non-empty-list<array{FeedColumn, FeedColumn}>  $pairs  columns that hold the same, here and there
     */
    public function __construct(public string $name, public FeedEntity $from, public FeedEntity $to, public bool $isMany, public array $pairs)
    {
    }

    /**
     * @return list<FeedColumn> by which a row here says which rows there belong to it
     */
    public function here(): array
    {
        return array_column($this->pairs, 0);
    }

    /**
     * @return list<FeedColumn>
     */
    public function there(): array
    {
        return array_column($this->pairs, 1);
    }
}
