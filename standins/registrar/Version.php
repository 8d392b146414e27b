<?php

declare(strict_types=1);

namespace StandIns\Registrar;

use StandIns\Faults;
use StandIns\Request;
use StandIns\Response;

/**
 * What both versions have in common: the parts of a path, reading a set page by page, writing with ETags.
 */
abstract class Version
{
    protected const PAGE = 100;

    public function __construct(protected readonly Collection $collection, protected readonly Faults $faults)
    {
    }

    abstract protected function error(Refusal $refusal): Response;

    /**
     * @param  list<array<string, mixed>>  $records
     */
    abstract protected function listed(string $set, array $records, Choice $choice, ?int $count, ?string $next, Request $request): Response;

    /**
     * @param  array<string, mixed>  $record
     */
    abstract protected function one(string $set, array $record, Choice $choice, int $status = 200): Response;

    abstract protected function choice(Request $request, string $set): Choice;

    abstract protected function isOld(): bool;

    /**
     * A body → members as they are kept here.
     *
     * @param  array<string, mixed>  $body
     * @return array<string, mixed>
     */
    abstract protected function taken(string $set, array $body): array;

    public function answer(Request $request): Response
    {
        try {
            return $this->dispatch($request);
        } catch (Refusal $refusal) {
            return $this->error($refusal);
        }
    }

    /**
     * What was changed so far, to which a change set that fails goes back.
     *
     * @return array<string, mixed>
     */
    public function state(): array
    {
        return $this->collection->state();
    }

    /**
     * @param  array<string, mixed>  $state
     */
    public function restore(array $state): void
    {
        $this->collection->restore($state);
    }

    protected function dispatch(Request $request): Response
    {
        preg_match_all("~/((?:[^/'(]|\\((?:[^()']|'(?:[^']|'')*')*\\)|'(?:[^']|'')*')+)~", $request->path, $found);
        $segments = $found[1];
        $first = array_shift($segments) ?? '';
        preg_match('/^([\w.]+)(?:\((.*)\))?$/sD', $first, $part);
        $set = $part[1] ?? $first;
        if (! isset(Collection::KEYS[$set])) {
            throw new Refusal(404, 'NotFound', "Resource not found for the segment '$first'.");
        }
        if (! isset($part[2])) {
            return $segments === ['$count'] ? $this->counted($request, $set, array_values($this->collection->all($set))) : $this->ofSet($request, $set, $segments);
        }
        $key = $this->keyed($set, $part[2]);
        $record = $this->collection->all($set)[$key] ?? throw new Refusal(404, 'NotFound', "There is no entity with this key in '$set'.");

        return $this->below($request, $set, $key, $record, $segments);
    }

    /**
     * @param  list<string>  $segments
     */
    protected function ofSet(Request $request, string $set, array $segments): Response
    {
        if ($segments !== []) {
            throw new Refusal(404, 'NotFound', "Resource not found for the segment '$segments[0]'.");
        }

        return match ($request->method) {
            'GET' => $this->page($request, $set, array_values($this->collection->all($set))),
            'POST' => $this->create($request, $set),
            default => throw new Refusal(405, 'MethodNotAllowed', "$request->method is not possible here."),
        };
    }

    /**
     * @param  array<string, mixed>  $record
     * @param  list<string>  $segments
     */
    protected function below(Request $request, string $set, string $key, array $record, array $segments): Response
    {
        if ($segments === []) {
            return match ($request->method) {
                'GET' => $this->one($set, $record, $this->choice($request, $set)),
                'PATCH', 'MERGE' => $this->change($request, $set, $key, $record, true),
                'PUT' => $this->change($request, $set, $key, $record, false),
                'DELETE' => $this->remove($request, $set, $key, $record),
                default => throw new Refusal(405, 'MethodNotAllowed', "$request->method is not possible here."),
            };
        }
        $way = Collection::WAYS[$set][$segments[0]] ?? throw new Refusal(404, 'NotFound', "Resource not found for the segment '$segments[0]'.");
        $related = $this->collection->related($set, $record, $segments[0]);
        if (($segments[1] ?? '') === '$count') {
            return $this->counted($request, $way[0], $related);
        }
        if ($way[1]) {
            return $this->page($request, $way[0], $related);
        }

        return $related === [] ? new Response(204, [], '') : $this->one($way[0], $related[0], $this->choice($request, $way[0]));
    }

    /**
     * @param  list<array<string, mixed>>  $records
     */
    protected function page(Request $request, string $set, array $records): Response
    {
        $choice = $this->choice($request, $set);
        if ($choice->count && $set === 'Couriers') {
            throw new Refusal(400, 'NotCountable', "The entity set 'Couriers' cannot be counted.");
        }
        $select = new Records($this->collection, $this->isOld());
        $records = $select->filtered($records, $set, $choice->filter, $request->query['$search'] ?? '');
        $count = $choice->count ? count($records) : null;
        $records = array_slice($select->ordered($records, $set, $choice->order), $choice->skip, $choice->top);
        $from = (int) ($request->query['$skiptoken'] ?? 0);
        preg_match('/(?:odata\.)?maxpagesize=(\d+)/', $this->faults->setting('heedless') === true ? '' : $request->headers['prefer'] ?? '', $size);
        $size = min(500, max(1, (int) ($size[1] ?? $this->faults->setting('page') ?? self::PAGE)));
        $next = $from + $size < count($records) ? $this->address($request, ['$skiptoken' => (string) ($from + $size)]) : null;

        return $this->listed($set, array_slice($records, $from, $size), $choice, $count, $next, $request);
    }

    /**
     * @param  array<string, string>  $with
     */
    protected function address(Request $request, array $with): string
    {
        $query = $with + array_map(strval(...), $request->query);

        return Request::origin().'/registrar/'.($this->isOld() ? 'v2' : 'v4').$request->path.'?'.implode('&', array_map(static fn (string $name, string $value): string => str_replace('%24', '$', rawurlencode($name)).'='.rawurlencode($value), array_map(strval(...), array_keys($query)), $query));
    }

    /**
     * @param  list<array<string, mixed>>  $records
     */
    private function counted(Request $request, string $set, array $records): Response
    {
        if ($set === 'Couriers') {
            throw new Refusal(400, 'NotCountable', "The entity set 'Couriers' cannot be counted.");
        }

        return new Response(200, ['Content-Type' => 'text/plain'], (string) count((new Records($this->collection, $this->isOld()))->filtered($records, $set, $request->query['$filter'] ?? '')));
    }

    protected function keyed(string $set, string $predicate): string
    {
        $names = Collection::KEYS[$set];
        preg_match_all("/(?:(\\w+)=)?('(?:[^']|'')*'|[^,']+)(?:,|$)/", $predicate, $found, PREG_SET_ORDER);
        $values = [];
        foreach ($found as $place => $one) {
            $name = $one[1] !== '' ? $one[1] : ($names[$place] ?? '');
            $values[$name] = str_starts_with($one[2], "'") ? str_replace("''", "'", substr($one[2], 1, -1)) : $one[2];
        }
        if (array_diff($names, array_keys($values)) !== [] || count($names) > 1 && ($found[0][1] ?? '') === '') {
            throw new Refusal(400, 'BadKey', "The key predicate '($predicate)' does not fit '$set'.");
        }

        return Collection::key($set, $values);
    }

    /**
     * @param  array<string, mixed>  $record
     */
    protected function etag(array $record): string
    {
        return 'W/"'.substr(hash('xxh3', serialize($record)), 0, 12).'"';
    }

    private function create(Request $request, string $set): Response
    {
        if (in_array($set, ['Venues', 'Couriers'], true)) {
            throw new Refusal(405, 'NotInsertable', "'$set' cannot be added to.");
        }
        $body = $this->body($request);
        $record = $this->taken($set, $body);
        $empty = array_fill_keys(array_keys((array) current($this->collection->all($set))), null);
        $record += match ($set) {
            'Objects' => ['Changed' => gmdate('Y-m-d\TH:i:s\Z'), 'OnLoan' => false, 'MadeOf' => [], 'Mark' => '00000000-0000-4000-8000-'.substr(hash('xxh64', (string) ($record['Number'] ?? '')), 0, 12)],
            'Exhibitions' => ['ID' => 1 + max([0, ...array_column($this->collection->all('Exhibitions'), 'ID')])],
            default => ['Seen' => gmdate('Y-m-d\TH:i:s.000\Z')],
        };
        /** @var array<string, mixed> $record */
        $record = array_replace($empty, $record);
        foreach (['Objects' => ['Number', 'Title'], 'Exhibitions' => ['Title', 'Opens', 'Closes'], 'ConditionReports' => ['ObjectNumber', 'Line', 'Grade']][$set] as $needed) {
            if ($record[$needed] === null) {
                throw new Refusal(400, 'ValueMissing', "A value for '$needed' is needed.", $needed);
            }
        }
        $key = Collection::key($set, $record);
        if (isset($this->collection->all($set)[$key])) {
            throw new Refusal(409, 'AlreadyThere', 'An entity with this key exists already.');
        }
        $this->collection->keep($set, $key, $record);
        foreach ($set === 'Objects' && is_array($body['Reports'] ?? null) ? $body['Reports'] : [] as $line => $report) {
            $report = ['ObjectNumber' => $record['Number'], 'Line' => $line + 1, 'Seen' => gmdate('Y-m-d\TH:i:s.000\Z'), 'Note' => null, 'CourierID' => null, ...$this->taken('ConditionReports', $report)];
            $this->collection->keep('ConditionReports', Collection::key('ConditionReports', $report), $report);
        }

        return $this->one($set, $record, new Choice, 201);
    }

    /**
     * @param  array<string, mixed>  $record
     */
    private function change(Request $request, string $set, string $key, array $record, bool $isPart): Response
    {
        $this->guard($request, $set, $record);
        $given = array_diff_key($this->taken($set, $this->body($request)), array_flip([...Collection::KEYS[$set], 'Changed', 'Mark']));
        $changed = array_replace($isPart ? $record : array_replace(array_fill_keys(array_keys($record), null), array_intersect_key($record, array_flip([...Collection::KEYS[$set], 'Changed', 'Mark', 'OnLoan', 'MadeOf']))), $given);
        if ($set === 'Objects') {
            $changed['Changed'] = gmdate('Y-m-d\TH:i:s\Z');
        }
        $this->collection->keep($set, $key, $changed);

        return $this->isOld() ? new Response(204, ['DataServiceVersion' => '1.0', 'ETag' => $this->etag($changed)], '') : $this->one($set, $changed, new Choice);
    }

    /**
     * @param  array<string, mixed>  $record
     */
    private function remove(Request $request, string $set, string $key, array $record): Response
    {
        if (in_array($set, ['Venues', 'Couriers'], true)) {
            throw new Refusal(405, 'NotDeletable', "Nothing can be taken out of '$set'.");
        }
        $this->guard($request, $set, $record);
        $this->collection->keep($set, $key, null);

        return new Response(204, [], '');
    }

    /**
     * Nothing is changed that somebody else changed since it was read.
     *
     * @param  array<string, mixed>  $record
     */
    private function guard(Request $request, string $set, array $record): void
    {
        if (! in_array($set, ['Objects', 'ConditionReports'], true)) {
            return;
        }
        $seen = $request->headers['if-match'] ?? null;
        if ($seen === null) {
            throw new Refusal(428, 'PreconditionRequired', "Changing '$set' needs If-Match with the ETag of the entity.");
        }
        if ($seen !== '*' && $seen !== $this->etag($record)) {
            throw new Refusal(412, 'PreconditionFailed', 'The entity was changed by somebody else since you read it.');
        }
    }

    /**
     * @return array<string, mixed>
     */
    protected function body(Request $request): array
    {
        $body = json_decode($request->body, true);

        return is_array($body) ? $body : throw new Refusal(400, 'BadBody', 'The body is no JSON object.');
    }
}
