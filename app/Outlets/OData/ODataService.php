<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Models\Feed;
use App\Models\Joined;
use App\Models\KeptTable;
use App\Outlets\FeedParameters;
use App\Outlets\FeedProblem;
use App\Outlets\FeedQuestion;
use App\Outlets\FeedRight;
use App\Outlets\FeedRows;
use App\Outlets\FeedState;
use App\Outlets\RelatedRows;
use DeepSpring\Feed\BoundSql;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\FeedValue;
use DeepSpring\Feed\RowJson;
use DeepSpring\OData\Url\InvalidOption;
use DeepSpring\OData\Url\NestedText;
use Illuminate\Support\Carbon;

/**
 * Feeds of one version as a service: the service itself, what it has, sets of rows, single rows, and what can be
 * reached from these.
 */
final readonly class ODataService
{
    /** Segments of a path. */
    private const LONGEST_PATH = 8;

    /** Feeds of one service. */
    private const MOST = 1000;

    public function __construct(private FeedRows $rows, private RelatedRows $related, private TrackedRows $tracked)
    {
    }

    public function writing(ODataCall $call, string $version): ODataWriting
    {
        return $call->protocol->isV4() ? new ODataWriting4($version, $call->wantsTexts()) : new ODataWriting2;
    }

    /**
     * @throws FeedProblem
     */
    public function answer(ODataCall $call, ODataWriting $writing): ODataAnswer
    {
        $links = new FeedLinks($call->reader);
        if ($call->path === '') {
            return new ODataAnswer(200, $writing->type(), $writing->service($call->root, array_map(self::entity(...), $this->feeds($call))));
        }
        if ($call->path === '$metadata') {
            $format = strtolower($call->format());
            [$document, $type] = $writing->metadata(array_map(self::entity(...), $this->feeds($call)), $links, $format !== '' ? str_contains($format, 'json') : str_contains(explode(',', $call->accept)[0], 'json'));

            return new ODataAnswer(200, $type, $document);
        }
        try {
            $segments = NestedText::split($call->path, '/');
            [$set, $key] = NestedText::call((string) array_shift($segments));
        } catch (InvalidOption $invalid) {
            throw new FeedProblem(400, $invalid->getMessage(), [], null, $invalid);
        }
        if (count($segments) > self::LONGEST_PATH) {
            throw new FeedProblem(400, 'A path has at most '.self::LONGEST_PATH.' segments.');
        }
        $feed = $this->feed($call, $set) ?? throw FeedProblem::isNotThere($set);

        return $this->reached($call, $writing, $links, self::entity($feed), $key, $segments);
    }

    /**
     * The feed with which a path begins, for the log; null where there is none that the reader may read.
     */
    public function asked(ODataCall $call): ?Feed
    {
        $feed = $this->named($call);

        return $feed !== null && FeedRight::mayRead($call->reader, $feed) ? $feed : null;
    }

    /**
     * The feed with which a path begins, whoever asks.
     */
    public function named(ODataCall $call): ?Feed
    {
        return preg_match('/^\w+/', $call->path, $found) === 1 ? $this->of($call, $found[0]) : null;
    }

    private function feed(ODataCall $call, string $set): ?Feed
    {
        $feed = $this->of($call, $set);

        return $feed !== null && FeedRight::mayRead($call->reader, $feed) ? $feed : null;
    }

    private function of(ODataCall $call, string $set): ?Feed
    {
        return Joined::first(Feed::query()->where(['feeds.name' => FeedEntity::feedOf($set), 'version' => $call->version, 'is_on' => true]), 'environment', 'user');
    }

    /**
     * Follows a path from a set to what is asked for.
     *
     * @param  list<string>  $segments  behind the set
     *
     * @throws FeedProblem
     */
    private function reached(ODataCall $call, ODataWriting $writing, FeedLinks $links, FeedEntity $entity, ?string $key, array $segments): ODataAnswer
    {
        $where = $key === null ? [] : [EntityKey::condition($entity, $key, $call->protocol)];
        $isOne = $key !== null;
        $from = $entity->feed;
        $state = $this->state($entity);
        $states = [$state];
        foreach ($segments as $number => $segment) {
            $rest = array_slice($segments, $number + 1);
            [$name, $inside] = NestedText::call($segment);
            $link = $inside === null || $isOne ? $links->find($entity, $name) : null;
            if ($segment === '$count' && ! $isOne && $rest === []) {
                return new ODataAnswer(200, 'text/plain', (string) $this->rows->count($entity->feed, $this->question($call, $links, $entity)->where(BoundSql::all(...$where)), $call->reader), 0, $from);
            }
            if ($isOne && $link === null && ($rest === [] || $rest === ['$value'])) {
                return $this->property($call, $writing, $entity, $where, $segment, $rest !== [], $from);
            }
            if ($link === null || ! $isOne) {
                throw new FeedProblem(404, $isOne || $link === null ? "There is no \"$segment\" behind $entity->set." : "$link->name is reached from one row of $entity->set, which its key names: $entity->set(…)/$link->name.");
            }
            $row = $this->row($call, $entity, $where, $link->here()) ?? throw new FeedProblem(404, 'There is no such row of '.$entity->set.'.');
            $here = array_values(array_filter($row, is_string(...)));
            $where = [count($here) === count($row) ? RelatedRows::anyOf($link->there(), [$here]) : new BoundSql('FALSE', [])];
            $entity = $link->to;
            $states[] = $state = $this->state($entity);
            $isOne = ! $link->isMany;
            if ($inside !== null && $link->isMany) {
                $where[] = EntityKey::condition($entity, $inside, $call->protocol);
                $isOne = true;
            }
        }
        $question = $this->question($call, $links, $entity)->where(BoundSql::all(...$where));
        array_push($states, ...$this->expandedStates($question));

        return $this->rows($call, $writing, $links, $entity, $question, $isOne, $state, $states, $from);
    }

    /**
     * @param  FeedState  $state  of the entity
     * @param  non-empty-list<FeedState>  $states  of all feeds that the answer is made of
     *
     * @throws FeedProblem
     */
    private function rows(ODataCall $call, ODataWriting $writing, FeedLinks $links, FeedEntity $entity, FeedQuestion $question, bool $isOne, FeedState $state, array $states, Feed $from): ODataAnswer
    {
        $feed = $entity->feed;
        $size = min($call->pageSize() ?? $feed->most, $feed->most);
        $wanted = $isOne ? 1 : ($question->top === null ? $size : min($size, $question->top));
        $token = TrackedRows::token($call);
        if ($token !== null && ! $isOne && count($states) === 1) {
            return $this->tracked->answer($call, $writing, $links, $entity, $question, $state, $token, $size);
        }
        $tracked = ! $isOne && TrackedRows::wants($call, $entity, $question) ? $this->tracked->tracked($call, $entity, $question) : null;
        $marks = array_map(static fn (FeedState $state): ?string => $state->mark, $states);
        $moments = array_map(static fn (FeedState $state): ?Carbon => $state->since, $states);
        $mark = in_array(null, $marks, true) ? null : hash('xxh128', (string) json_encode([$marks, $call->reader->account(), $call->root, $call->path, $call->query, $writing->type(), $call->prefer]));
        $since = in_array(null, $moments, true) ? null : max($moments);
        if ($call->hasAnswer($mark, $since)) {
            return new ODataAnswer(304, $writing->type(), '', 0, $from, $mark, $since);
        }
        $page = $this->rows->page($feed, $entity->shape, $state, $question, $call->reader, $wanted);
        $objects = new ODataObjects($this->related, $writing, $call->root, $links, $call->reader);
        $written = $objects->of($entity, $question, $page);
        $answer = static fn (string $body, array $headers = []): ODataAnswer => new ODataAnswer(200, $writing->type(), $body, $objects->rows(), $from, $mark, $since, $headers + ($state->run === null ? [] : ['Spring-Run' => (string) $state->run]), null, $objects->along($from));
        if ($isOne) {
            return isset($written[0]) ? $answer($writing->entity($call->root, $entity, $question, $written[0])) : throw new FeedProblem(404, "There is no $call->path.");
        }
        $left = $question->top === null ? null : $question->top - count($page->rows);
        $next = null;
        if ($page->next !== null && $left !== 0) {
            $options = array_filter($call->query, static fn (int|string $name): bool => ! in_array(ltrim(strtolower((string) $name), '$'), ['skip', 'skiptoken', 'top'], true), ARRAY_FILTER_USE_KEY);
            $next = "$call->root/".implode('/', array_map(rawurlencode(...), explode('/', $call->path))).'?'.http_build_query(($tracked === null ? [] : TrackedRows::carried($tracked)) + $options + ($left === null ? [] : ['$top' => $left]) + ['$skiptoken' => $page->next], '', '&', PHP_QUERY_RFC3986);
        }

        $applied = implode(', ', array_filter([$call->pageSize() === null ? '' : "odata.maxpagesize=$size", $tracked === null ? '' : 'track-changes']));
        $delta = $tracked !== null && $next === null ? $this->tracked->link($call, $entity, $tracked) : null;

        return $answer($writing->collection($call->root, $entity, $question, $written, $page->total, $next, $delta), $applied === '' ? [] : ['Preference-Applied' => $applied]);
    }

    /**
     * One value of one row, as JSON or by itself (OData 4.01 protocol §11.2.4).
     *
     * @param  list<BoundSql>  $where
     *
     * @throws FeedProblem
     */
    private function property(ODataCall $call, ODataWriting $writing, FeedEntity $entity, array $where, string $name, bool $isBare, Feed $from): ODataAnswer
    {
        $column = array_column($entity->columns, null, 'name')[$name] ?? throw new FeedProblem(404, "There is no \"$name\" behind a row of $entity->set.");
        $row = $this->row($call, $entity, $where, [$column]) ?? throw new FeedProblem(404, 'There is no such row of '.$entity->set.'.');
        if ($row[0] === null) {
            return new ODataAnswer(204, '', '', 1, $from);
        }
        if ($isBare) {
            return new ODataAnswer(200, 'text/plain;charset=utf-8', in_array($column->type, ['text', 'json'], true) ? $row[0] : trim(FeedValue::json($column, $row[0]), '"'), 1, $from);
        }
        $value = $call->protocol->isV4() ? substr((new RowJson([$column], $call->wantsTexts(), true))->object($row), strlen($name) + 4, -1) : ODataWriting2::value($column, $row[0]);

        return new ODataAnswer(200, $writing->type(), $writing->property("$call->root/\$metadata#".explode('/', $call->path)[0]."/$name", $name, $value), 1, $from);
    }

    /**
     * @param  list<BoundSql>  $where
     * @param  list<FeedColumn>  $columns
     * @return list<string|null>|null
     *
     * @throws FeedProblem
     */
    private function row(ODataCall $call, FeedEntity $entity, array $where, array $columns): ?array
    {
        $question = new FeedQuestion($columns, BoundSql::all(...$where), FeedQuestion::order('', $entity->columns, $entity->shape->key), 1, '', false, '', asked: $this->askedWith($call, $entity));
        $row = $this->rows->page($entity->feed, $entity->shape, $this->state($entity), $question, $call->reader, 1)->rows[0] ?? null;

        return $row === null ? null : array_slice($row, 0, count($columns));
    }

    /**
     * @throws FeedProblem
     */
    private function question(ODataCall $call, FeedLinks $links, FeedEntity $entity): FeedQuestion
    {
        return (new ODataOptions($links, $call->protocol, Carbon::now()->toDateTimeImmutable()))->read($entity, $call->query)->with($this->askedWith($call, $entity));
    }

    /**
     * Options of one's own are what the query of the feed asks for.
     *
     * @return array<string, string>
     *
     * @throws FeedProblem
     */
    private function askedWith(ODataCall $call, FeedEntity $entity): array
    {
        return $entity->table === null ? [] : FeedParameters::of($entity->feed, $entity->table)->read($call->query);
    }

    /**
     * @return list<FeedState>
     *
     * @throws FeedProblem
     */
    private function expandedStates(FeedQuestion $question): array
    {
        $states = [];
        foreach ($question->expand as $one) {
            array_push($states, $this->state($one->link->to), ...$this->expandedStates($one->question));
        }

        return $states;
    }

    /**
     * @throws FeedProblem where its rows cannot be read, or are too old
     */
    private function state(FeedEntity $entity): FeedState
    {
        $table = $entity->table;
        if ($table === null || $entity->shape->missing !== []) {
            throw new FeedProblem(503, 'What this feed reads is not there now. Whoever answers for it can see why.', ['Retry-After' => '60']);
        }
        $state = FeedState::of($entity->feed, $table);
        $state->mustBeFresh($entity->feed);

        return $state;
    }

    /**
     * @return list<Feed> of this version that a reader may read
     */
    private function feeds(ODataCall $call): array
    {
        return array_values(FeedRight::readable($call->reader)->where(['is_on' => true, 'version' => $call->version])->orderBy('name')->limit(self::MOST)->get(['feeds.*'])->all());
    }

    private static function entity(Feed $feed): FeedEntity
    {
        return new FeedEntity($feed, KeptTable::query()->where(['environment_id' => $feed->environment_id, 'name' => $feed->reads])->first());
    }
}
