<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Models\Feed;
use App\Models\KeptTable;
use App\Models\Principal;
use App\Outlets\FeedRight;
use DeepSpring\Feed\FeedColumn;

/**
 * Which ways a reader can follow from a feed: those to feeds that are on and that they may read.
 */
final class FeedLinks
{
    /** @var array<int, FeedEntity|null> by the id of the feed */
    private array $entities = [];

    /** @var array<int, list<FeedLink>> */
    private array $links = [];

    public function __construct(private readonly Principal $reader)
    {
    }

    /**
     * @return list<FeedLink>
     */
    public function of(FeedEntity $entity): array
    {
        return $this->links[$entity->feed->id] ??= $this->read($entity);
    }

    public function find(FeedEntity $entity, string $name): ?FeedLink
    {
        return array_column($this->of($entity), null, 'name')[$name] ?? null;
    }

    /**
     * @return list<FeedLink>
     */
    private function read(FeedEntity $entity): array
    {
        $links = [];
        foreach ($entity->feed->links as $link) {
            $to = $this->entity($link['feed']);
            $pairs = $to === null ? [] : array_map(static fn (array $pair): array => [$entity->shape->column($pair[0]), $to->shape->column($pair[1])], $link['on']);
            $isWhole = $pairs !== [] && array_filter($pairs, static fn (array $pair): bool => $pair[0] === null || $pair[1] === null) === [];
            if ($to !== null && $isWhole) {
                /** @var non-empty-list<array{FeedColumn, FeedColumn}> $pairs */
                $links[] = new FeedLink($link['name'], $entity, $to, $link['many'], $pairs);
            }
        }

        return $links;
    }

    private function entity(int $id): ?FeedEntity
    {
        if (! array_key_exists($id, $this->entities)) {
            $feed = Feed::query()->with('environment', 'user')->where('is_on', true)->find($id);
            $table = $feed === null || ! FeedRight::mayRead($this->reader, $feed) ? null : KeptTable::query()->where(['environment_id' => $feed->environment_id, 'name' => $feed->reads])->first();
            $entity = $feed === null || $table === null ? null : new FeedEntity($feed, $table);
            $this->entities[$id] = $entity === null || $entity->shape->missing !== [] ? null : $entity;
        }

        return $this->entities[$id];
    }
}
