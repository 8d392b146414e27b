<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Models\Feed;
use App\Models\KeptTable;
use App\Outlets\FeedShape;
use DeepSpring\Feed\FeedColumn;

/**
 * A feed as an entity set of a service.
 */
final readonly class FeedEntity
{
    /** @var list<FeedColumn> that tell entities apart */
    public array $key;

    /** @var list<FeedColumn> */
    public array $columns;

    public FeedShape $shape;

    /** Names of sets hold no hyphens (OData CSDL 4.01 §15.2). */
    public string $set;

    public function __construct(public Feed $feed, public ?KeptTable $table)
    {
        $this->shape = FeedShape::of($feed, $table);
        $this->set = self::nameOf($feed->name);
        $this->key = array_map(static fn ($part): FeedColumn => $part->column, $this->shape->key);
        $isNumbered = $this->key !== [] && $this->key[0]->name === FeedShape::ROW;
        $this->columns = $isNumbered ? [...$this->key, ...$this->shape->columns] : $this->shape->columns;
    }

    public static function nameOf(string $feed): string
    {
        return str_replace('-', '_', $feed);
    }

    public static function feedOf(string $set): string
    {
        return str_replace('_', '-', $set);
    }

    public function type(): string
    {
        return "{$this->set}_row";
    }
}
