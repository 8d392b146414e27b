<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Outlets\FeedProblem;
use App\Outlets\FeedQuestion;
use App\Outlets\FeedRows;
use App\Outlets\FeedState;
use App\Outlets\RelatedRows;

/**
 * Delta links (OData 4.01 protocol §11.3): who reads all rows with `Prefer: track-changes` is given an address behind
 * the last of them, which tells what has changed since.
 */
final readonly class TrackedRows
{
    /** Carries from page to page up to which moment the first page tells everything. */
    private const TRACKED = '_tracked';

    public function __construct(private FeedRows $rows, private RelatedRows $related, private FeedChanges $changes)
    {
    }

    public static function wants(ODataCall $call, FeedEntity $entity, FeedQuestion $question): bool
    {
        return $call->protocol->isV4() && $entity->feed->tracks && $question->source === null && $question->expand === [] && $question->top === null && $question->skip === 0 && ! str_contains($call->path, '(')
            && (preg_match('/\b(?:odata\.)?track-changes\b/i', $call->prefer) === 1 || isset($call->query[self::TRACKED]));
    }

    /**
     * What a delta link asks with; null where none is followed.
     */
    public static function token(ODataCall $call): ?string
    {
        $token = $call->query['$deltatoken'] ?? $call->query['deltatoken'] ?? null;

        return is_string($token) ? $token : null;
    }

    /**
     * Up to which moment the rows that follow tell everything, sealed; of the first page, on all that come after it.
     *
     * @throws FeedProblem
     */
    public function tracked(ODataCall $call, FeedEntity $entity, FeedQuestion $question): string
    {
        $given = $call->query[self::TRACKED] ?? null;
        if (is_string($given)) {
            $this->changes->since($entity, $question, $given);

            return $given;
        }

        return $this->changes->seal($entity, $question, $this->changes->now($entity, $call->reader));
    }

    /**
     * @return array<string, string> what the address of a next page says besides
     */
    public static function carried(string $tracked): array
    {
        return [self::TRACKED => $tracked];
    }

    /**
     * The address that tells what has changed since.
     */
    public function link(ODataCall $call, FeedEntity $entity, string $tracked): string
    {
        $options = array_filter($call->query, static fn (int|string $name): bool => in_array(ltrim(strtolower((string) $name), '$'), ['filter', 'select', 'search', 'format'], true) || str_starts_with((string) $name, '@'), ARRAY_FILTER_USE_KEY);

        return "$call->root/$entity->set?".http_build_query($options + ['$deltatoken' => $tracked], '', '&', PHP_QUERY_RFC3986);
    }

    /**
     * What has changed since a delta link was given.
     *
     * @throws FeedProblem
     */
    public function answer(ODataCall $call, ODataWriting $writing, FeedLinks $links, FeedEntity $entity, FeedQuestion $question, FeedState $state, string $token, int $size): ODataAnswer
    {
        if (! $entity->feed->tracks || ! $writing instanceof ODataWriting4) {
            throw new FeedProblem(501, '$deltatoken cannot be answered here: no versions of the rows are kept.', [], '$deltatoken');
        }
        $since = $this->changes->since($entity, $question, $token);
        $tracked = $this->tracked($call, $entity, $question);
        $asked = $question->where(FeedChanges::changed($entity, $since));
        $page = $this->rows->page($entity->feed, $entity->shape, $state, $asked, $call->reader, $size);
        $objects = new ODataObjects($this->related, $writing, $call->root, $links, $call->reader);
        $written = $objects->of($entity, $asked, $page);
        $removed = $page->next === null ? $this->changes->removed($entity, $question, $since, $call->reader) : [];
        $next = null;
        if ($page->next !== null) {
            $options = array_filter($call->query, static fn (int|string $name): bool => ltrim(strtolower((string) $name), '$') !== 'skiptoken', ARRAY_FILTER_USE_KEY);
            $next = "$call->root/$entity->set?".http_build_query(self::carried($tracked) + $options + ['$skiptoken' => $page->next], '', '&', PHP_QUERY_RFC3986);
        }

        return new ODataAnswer(200, $writing->type(), $writing->delta($call->root, $entity, $question, $written, $removed, $next, $next === null ? $this->link($call, $entity, $tracked) : null), $objects->rows() + count($removed), $entity->feed, along: $objects->along($entity->feed));
    }
}
