<?php

declare(strict_types=1);

namespace StandIns\Registrar;

use StandIns\Request;
use StandIns\Response;

/**
 * OData 2.0, with its habits: everything under `d`, times as /Date(ms)/, decimals as texts, deferred
 * links, a token against forged requests before anything is written.
 */
final class VersionTwo extends Version
{
    private const TOKEN = 'reg-7Q1xkM';

    protected function dispatch(Request $request): Response
    {
        if ($request->path === '/$metadata') {
            return new Response(200, ['Content-Type' => 'application/xml', 'DataServiceVersion' => '2.0'], (string) file_get_contents(__DIR__.'/metadata-2.xml'));
        }
        if ($request->method !== 'GET' && $request->method !== 'HEAD' && ($request->headers['x-csrf-token'] ?? '') !== self::TOKEN) {
            return new Response(403, ['X-CSRF-Token' => 'Required', 'Content-Type' => 'text/plain'], 'CSRF token validation failed');
        }
        $response = $request->path === '/$batch' ? (new Batch($this))->answer($request) : $this->found($request);
        if (strcasecmp($request->headers['x-csrf-token'] ?? '', 'fetch') === 0) {
            $response = new Response($response->status, ['X-CSRF-Token' => self::TOKEN] + $response->headers, $response->body);
        }

        return $response;
    }

    private function found(Request $request): Response
    {
        if ($request->path === '' || $request->path === '/') {
            return Response::json(['d' => ['EntitySets' => array_keys(Collection::KEYS)]], 200, ['DataServiceVersion' => '2.0']);
        }
        $wantsJson = str_contains($request->headers['accept'] ?? '', 'json') || ($request->query['$format'] ?? '') === 'json';
        if (! $wantsJson && $request->method === 'GET' && ! str_ends_with($request->path, '$count')) {
            return new Response(200, ['Content-Type' => 'application/atom+xml;type=feed', 'DataServiceVersion' => '2.0'], '<?xml version="1.0" encoding="utf-8"?><feed xmlns="http://www.w3.org/2005/Atom"><title type="text">'.htmlspecialchars(trim($request->path, '/')).'</title></feed>');
        }
        if ($request->path === '/OnDisplay') {
            $day = preg_match("/^datetime'(\\d{4}-\\d\\d-\\d\\d)T/", $request->query['day'] ?? '', $part) === 1 ? $part[1] : throw new Refusal(400, '005056A509B11ED1', "Invalid parameter 'day': a literal like datetime'2030-05-01T00:00:00' is expected.", 'day');

            return $this->page($request, 'Exhibitions', array_values(array_filter($this->collection->all('Exhibitions'), static fn (array $one): bool => $one['Opens'] <= $day && $one['Closes'] >= $day)));
        }
        if ($request->path === '/Extend' && $request->method === 'POST') {
            $key = $request->query['ID'] ?? '';
            $record = $this->collection->all('Exhibitions')[$key] ?? throw new Refusal(404, '005056A509B11EE1', 'There is no such exhibition.');
            $record['Closes'] = gmdate('Y-m-d', strtotime($record['Closes'].' UTC') + 86400 * (int) ($request->query['days'] ?? 0));
            $this->collection->keep('Exhibitions', $key, $record);

            return $this->one('Exhibitions', $record, new Choice);
        }

        return parent::dispatch($request);
    }

    protected function isOld(): bool
    {
        return true;
    }

    protected function choice(Request $request, string $set): Choice
    {
        foreach (['$count', '$search', '$apply'] as $name) {
            if (isset($request->query[$name])) {
                throw new Refusal(400, '005056A509B11ED2', "The query option '$name' is not known.");
            }
        }

        return Choice::two($request->query, $set);
    }

    protected function listed(string $set, array $records, Choice $choice, ?int $count, ?string $next, Request $request): Response
    {
        return Response::json(['d' => ($count === null ? [] : ['__count' => (string) $count]) + ['results' => array_map(fn (array $record): array => $this->shaped($set, $record, $choice), $records)] + ($next === null ? [] : ['__next' => $next])], 200, ['DataServiceVersion' => '2.0']);
    }

    protected function one(string $set, array $record, Choice $choice, int $status = 200): Response
    {
        return Response::json(['d' => $this->shaped($set, $record, $choice)], $status, ['DataServiceVersion' => '2.0', 'ETag' => $this->etag($record)] + ($status === 201 ? ['Location' => $this->uri($set, $record)] : []));
    }

    protected function error(Refusal $refusal): Response
    {
        return Response::json(['error' => ['code' => "REG/{$refusal->errorCode}", 'message' => ['lang' => 'en', 'value' => $refusal->getMessage()], 'innererror' => ['errordetails' => $refusal->target === null ? [] : [['code' => $refusal->errorCode, 'message' => $refusal->getMessage(), 'propertyref' => $refusal->target, 'severity' => 'error']]]]], $refusal->status, ['DataServiceVersion' => '1.0']);
    }

    protected function taken(string $set, array $body): array
    {
        $members = [];
        $known = array_keys((array) current($this->collection->all($set)));
        foreach ($body as $name => $value) {
            if ($name === '__metadata' || $name === 'Currency') {
                continue;
            }
            if (isset(Collection::WAYS[$set][$name])) {
                if (isset(Collection::HELD_IN[$name]) && is_array($value) && is_string($value['__metadata']['uri'] ?? null) && preg_match('~\((.*)\)$~', $value['__metadata']['uri'], $part) === 1) {
                    $members[Collection::HELD_IN[$name]] = $this->keyed(Collection::WAYS[$set][$name][0], $part[1]);
                }

                continue;
            }
            if (! in_array($name, $known, true)) {
                throw new Refusal(400, '005056A509B11ED3', "Property '$name' is invalid.", $name);
            }
            $members[$name] = match (true) {
                is_string($value) && preg_match('~^/Date\((-?\d+)\)/$~D', $value, $part) === 1 => gmdate(in_array($name, ['Acquired', 'Opens', 'Closes'], true) ? 'Y-m-d' : 'Y-m-d\TH:i:s.000\Z', intdiv((int) $part[1], 1000)),
                $name === 'MadeOf' => is_string($value) ? explode(', ', $value) : [],
                $name === 'Value' && $value !== null && ! is_string($value) => throw new Refusal(400, '005056A509B11ED4', "The value of 'Value' has to be a text, as decimals are.", 'Value'),
                default => $value,
            };
        }

        return $members;
    }

    /**
     * @param  array<string, mixed>  $record
     * @return array<string, mixed>
     */
    private function shaped(string $set, array $record, Choice $choice): array
    {
        $uri = $this->uri($set, $record);
        $shaped = ['__metadata' => ['id' => $uri, 'uri' => $uri, 'type' => 'REGISTRAR.'.rtrim($set, 's')] + (in_array($set, ['Objects', 'ConditionReports'], true) ? ['etag' => $this->etag($record)] : [])];
        $all = $choice->select === [] || in_array('*', $choice->select, true);
        foreach ($set === 'Objects' ? $record + ['Currency' => 'SMK'] : $record as $name => $value) {
            if ($all || in_array($name, $choice->select, true)) {
                $shaped[$name] = $this->value($name, $value);
            }
        }
        foreach (Collection::WAYS[$set] as $way => [$target, $many]) {
            if (isset($choice->expand[$way])) {
                $related = array_map(fn (array $one): array => $this->shaped($target, $one, $choice->expand[$way]), $this->collection->related($set, $record, $way));
                $shaped[$way] = $many ? ['results' => $related] : $related[0] ?? null;
            } elseif ($all || in_array($way, $choice->select, true)) {
                $shaped[$way] = ['__deferred' => ['uri' => "$uri/$way"]];
            }
        }

        return $shaped;
    }

    private function value(string $name, mixed $value): mixed
    {
        return match (true) {
            $value === null => null,
            in_array($name, ['Acquired', 'Opens', 'Closes'], true) => '/Date('.(1000 * (int) strtotime("$value UTC")).')/',
            in_array($name, ['Changed', 'Seen'], true) => '/Date('.(new \DateTimeImmutable($value))->format('Uv').'+0000)/',
            $name === 'Doors' => 'PT'.(int) substr($value, 0, 2).'H'.(int) substr($value, 3, 2).'M00S',
            $name === 'MadeOf' => implode(', ', $value),
            $name === 'Mileage' => (string) $value,
            $name === 'Weight' => (string) $value,
            $name === 'Address' => ['__metadata' => ['type' => 'REGISTRAR.Address']] + $value,
            default => $value,
        };
    }

    /**
     * @param  array<string, mixed>  $record
     */
    private function uri(string $set, array $record): string
    {
        $values = array_map(static fn (string $name): string => is_int($record[$name]) ? (string) $record[$name] : "'".rawurlencode(str_replace("'", "''", (string) $record[$name]))."'", Collection::KEYS[$set]);

        return Request::origin()."/registrar/v2/$set(".(count($values) === 1 ? $values[0] : implode(',', array_map(static fn (string $name, string $value): string => "$name=$value", Collection::KEYS[$set], $values))).')';
    }
}
