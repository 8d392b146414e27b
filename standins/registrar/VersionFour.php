<?php

declare(strict_types=1);

namespace StandIns\Registrar;

use StandIns\Request;
use StandIns\Response;

/**
 * OData 4.01.
 */
final class VersionFour extends Version
{
    private const HEADERS = ['OData-Version' => '4.01'];

    private bool $longAsText = false;

    protected function dispatch(Request $request): Response
    {
        $this->longAsText = stripos($request->headers['accept'] ?? '', 'IEEE754Compatible=true') !== false;
        if ($request->path === '/$metadata') {
            return new Response(200, ['Content-Type' => 'application/xml'] + self::HEADERS, (string) file_get_contents(__DIR__.'/metadata-4.xml'));
        }
        if ($request->path === '' || $request->path === '/') {
            $sets = array_map(static fn (string $set): array => ['name' => $set, 'kind' => 'EntitySet', 'url' => $set], array_keys(Collection::KEYS));

            return Response::json(['@odata.context' => $this->context(''), 'value' => [...$sets, ['name' => 'Office', 'kind' => 'Singleton', 'url' => 'Office']]], 200, self::HEADERS);
        }
        if ($request->path === '/$batch') {
            return (new Batch($this))->answer($request);
        }
        if ($request->path === '/Office') {
            return Response::json(['@odata.context' => $this->context('Office'), 'ID' => 1, 'Name' => 'Registrar of the Circle', 'Season' => '2030/31'], 200, self::HEADERS);
        }
        if (preg_match('~^/OnDisplay\(day=(\d{4}-\d\d-\d\d)\)$~D', $request->path, $part) === 1) {
            return $this->page($request, 'Exhibitions', array_values(array_filter($this->collection->all('Exhibitions'), static fn (array $one): bool => $one['Opens'] <= $part[1] && $one['Closes'] >= $part[1])));
        }
        if (preg_match('~^/OnDisplay~', $request->path) === 1) {
            throw new Refusal(400, 'BadParameter', "The parameter 'day' is needed, like OnDisplay(day=2030-05-01).", 'day');
        }

        return parent::dispatch($request);
    }

    protected function below(Request $request, string $set, string $key, array $record, array $segments): Response
    {
        $name = $segments[0] ?? '';
        if ($set === 'Objects' && preg_match('/^Saltmarsh\.Registrar\.Similar\(most=(\d+)\)$/D', $name, $part) === 1) {
            $similar = array_filter($this->collection->all('Objects'), static fn (array $one): bool => $one['Title'] === $record['Title'] && $one['Number'] !== $record['Number']);

            return $this->page($request, 'Objects', array_slice(array_values($similar), 0, (int) $part[1]));
        }
        if ($set === 'Exhibitions' && $name === 'Saltmarsh.Registrar.Extend' && $request->method === 'POST') {
            $days = $this->body($request)['days'] ?? null;
            if (! is_int($days) || $days < 1 || $days > 365) {
                throw new Refusal(400, 'BadParameter', "'days' is a whole number from 1 to 365.", 'days');
            }
            $record['Closes'] = gmdate('Y-m-d', strtotime($record['Closes'].' UTC') + 86400 * $days);
            $this->collection->keep($set, $key, $record);

            return $this->one($set, $record, new Choice);
        }

        return parent::below($request, $set, $key, $record, $segments);
    }

    protected function ofSet(Request $request, string $set, array $segments): Response
    {
        if ($segments === [] && $request->method === 'GET' && isset($request->query['$apply'])) {
            return Response::json(['@odata.context' => $this->context("$set()"), 'value' => (new Aggregation($this->collection))->of($set, $request->query['$apply'])], 200, self::HEADERS);
        }
        if ($segments === [] && $request->method === 'GET' && isset($request->query['$deltatoken'])) {
            return $this->delta($request, $set);
        }

        return parent::ofSet($request, $set, $segments);
    }

    protected function isOld(): bool
    {
        return false;
    }

    protected function choice(Request $request, string $set): Choice
    {
        $known = ['$filter', '$select', '$expand', '$orderby', '$top', '$skip', '$count', '$search', '$skiptoken', '$deltatoken', '$apply', '$format'];
        foreach (array_keys($request->query) as $name) {
            if (str_starts_with((string) $name, '$') && ! in_array($name, $known, true)) {
                throw new Refusal(400, 'UnknownOption', "The query option '$name' is not supported.");
            }
        }

        return Choice::four($request->query, $set);
    }

    protected function listed(string $set, array $records, Choice $choice, ?int $count, ?string $next, Request $request): Response
    {
        $tracks = $set === 'ConditionReports' && str_contains($request->headers['prefer'] ?? '', 'track-changes');
        $answer = ['@odata.context' => $this->context($set)] + ($count === null ? [] : ['@odata.count' => $this->longAsText ? (string) $count : $count]) + ['value' => array_map(fn (array $record): array => $this->shaped($set, $record, $choice), $records)] + ($next === null ? [] : ['@odata.nextLink' => $next]);
        if ($tracks && $next === null) {
            $answer['@odata.deltaLink'] = Request::origin()."/registrar/v4/$set?\$deltatoken=".$this->collection->number();
        }

        return Response::json($answer, 200, ['Content-Type' => 'application/json;odata.metadata=minimal'.($this->longAsText ? ';IEEE754Compatible=true' : '')] + self::HEADERS + ($tracks ? ['Preference-Applied' => 'odata.track-changes'] : []));
    }

    protected function one(string $set, array $record, Choice $choice, int $status = 200): Response
    {
        return Response::json(['@odata.context' => $this->context("$set/\$entity")] + $this->shaped($set, $record, $choice), $status, self::HEADERS + ['ETag' => $this->etag($record)] + ($status === 201 ? ['Location' => Request::origin()."/registrar/v4/$set(".$this->predicate($set, $record).')'] : []));
    }

    protected function error(Refusal $refusal): Response
    {
        return Response::json(['error' => ['code' => $refusal->errorCode, 'message' => $refusal->getMessage()] + ($refusal->target === null ? [] : ['target' => $refusal->target])], $refusal->status, self::HEADERS);
    }

    protected function taken(string $set, array $body): array
    {
        $members = array_filter($body, static fn (string $name): bool => ! str_contains($name, '@') && ! isset(Collection::WAYS[$set][$name]), ARRAY_FILTER_USE_KEY);
        $known = array_keys((array) current($this->collection->all($set)));
        foreach (array_keys($members) as $name) {
            if (! in_array($name, $known, true)) {
                throw new Refusal(400, 'UnknownProperty', "The property '$name' does not exist on type 'Saltmarsh.Registrar.".rtrim($set, 's')."'.", $name);
            }
        }
        foreach (Collection::WAYS[$set] as $way => [$target]) {
            $bound = $body["$way@odata.bind"] ?? $body[$way]['@id'] ?? null;
            if (is_string($bound) && isset(Collection::HELD_IN[$way]) && preg_match('~(\\w+)\\((.*)\\)$~', $bound, $part) === 1) {
                $key = $this->keyed($target, $part[2]);
                isset($this->collection->all($target)[$key]) || throw new Refusal(400, 'NotFound', "There is no $bound.", $way);
                $members[Collection::HELD_IN[$way]] = is_numeric($key) && $way === 'Courier' ? (int) $key : $key;
            }
        }
        if (isset($members['Value'])) {
            $members['Value'] = number_format((float) $members['Value'], 2, '.', '');
        }

        return $members;
    }

    /**
     * What was changed since a link was handed out, as changed and removed entities.
     */
    private function delta(Request $request, string $set): Response
    {
        if ($set !== 'ConditionReports') {
            throw new Refusal(501, 'NotTracked', "Changes of '$set' are not tracked.");
        }
        if ($this->faults->setting('forgets') === true) {
            throw new Refusal(410, 'TooOld', 'This delta link is too old. Read everything again.');
        }
        $value = [];
        foreach ($this->collection->since($set, (int) $request->query['$deltatoken']) as $key => $record) {
            $names = array_combine(Collection::KEYS[$set], explode("\x1f", (string) $key));
            $value[] = $record === null ? ['@removed' => ['reason' => 'deleted'], '@id' => "$set(ObjectNumber='{$names['ObjectNumber']}',Line={$names['Line']})", 'ObjectNumber' => $names['ObjectNumber'], 'Line' => (int) $names['Line']] : $this->shaped($set, $record, new Choice);
        }

        return Response::json(['@odata.context' => $this->context("$set/\$delta"), 'value' => $value, '@odata.deltaLink' => Request::origin()."/registrar/v4/$set?\$deltatoken=".$this->collection->number()], 200, self::HEADERS);
    }

    /**
     * @param  array<string, mixed>  $record
     * @return array<string, mixed>
     */
    private function shaped(string $set, array $record, Choice $choice): array
    {
        $shaped = in_array($set, ['Objects', 'ConditionReports'], true) ? ['@odata.etag' => $this->etag($record)] : [];
        $wanted = array_map(static fn (string $one): string => explode('/', $one)[0], $choice->select);
        foreach ($wanted as $name) {
            if ($name !== '*' && ! array_key_exists($name, $record) && ! isset(Collection::WAYS[$set][$name]) && $name !== 'Photo') {
                throw new Refusal(400, 'UnknownProperty', "Could not find a property named '$name' on type 'Saltmarsh.Registrar.".rtrim($set, 's')."'.", $name);
            }
        }
        foreach ($record as $name => $value) {
            if ($wanted === [] || in_array('*', $wanted, true) || in_array($name, $wanted, true)) {
                $shaped[$name] = match (true) {
                    $value === null => null,
                    $name === 'Value' && ! $this->longAsText => (float) $value,
                    $name === 'Mileage' && $this->longAsText => (string) $value,
                    $name === 'Address' => $this->partOf($value, $choice->select),
                    default => $value,
                };
            }
        }
        $records = new Records($this->collection, false);
        foreach ($choice->expand as $way => $inner) {
            [$target, $many] = Collection::WAYS[$set][$way] ?? ['', false];
            $related = $this->collection->related($set, $record, $way);
            if ($many) {
                $related = array_slice($records->ordered($records->filtered($related, $target, $inner->filter), $target, $inner->order), $inner->skip, $inner->top);
            }
            $related = array_map(fn (array $one): array => $this->shaped($target, $one, $inner), $related);
            $shaped[$way] = $many ? $related : $related[0] ?? null;
        }

        return $shaped;
    }

    /**
     * @param  array<string, string>  $address
     * @param  list<string>  $select
     * @return array<string, string>
     */
    private function partOf(array $address, array $select): array
    {
        $inside = array_map(static fn (string $one): string => substr($one, 8), array_filter($select, static fn (string $one): bool => str_starts_with($one, 'Address/')));

        return $inside === [] ? $address : array_intersect_key($address, array_flip($inside));
    }

    /**
     * @param  array<string, mixed>  $record
     */
    private function predicate(string $set, array $record): string
    {
        $values = array_map(static fn (string $name): string => is_int($record[$name]) ? (string) $record[$name] : "'".str_replace("'", "''", (string) $record[$name])."'", Collection::KEYS[$set]);

        return count($values) === 1 ? $values[0] : implode(',', array_map(static fn (string $name, string $value): string => "$name=$value", Collection::KEYS[$set], $values));
    }

    private function context(string $of): string
    {
        return Request::origin().'/registrar/v4/$metadata'.($of === '' ? '' : "#$of");
    }
}
