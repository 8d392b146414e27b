<?php

declare(strict_types=1);

namespace StandIns\Registrar;

use StandIns\Faults;
use StandIns\Notebook;
use StandIns\Request;
use StandIns\Response;
use StandIns\StandIn;
use StandIns\Words;

/**
 * OData in two versions, and venues, objects and couriers as plain lists, each with the address of the
 * next part.
 */
final readonly class Registrar implements StandIn
{
    public const NAME = 'circle';

    public const PASSWORD = 'rg-demo-lamp-and-oar';

    private const PAGE = 40;

    private const OBJECTS = 930;

    public function __construct(private Faults $faults, private Notebook $notes)
    {
    }

    public function answer(Request $request): Response
    {
        if (($request->headers['authorization'] ?? '') !== 'Basic '.base64_encode(self::NAME.':'.self::PASSWORD)) {
            return Response::json(['error' => 'Name and password are needed.'], 401, ['WWW-Authenticate' => 'Basic realm="registrar"']);
        }

        if ($request->path === '/requests') {
            return Response::json(['count' => (new Notebook('registrar', 'requests'))->read()['count'] ?? 0]);
        }
        if ($this->faults->setting('counts') === true) {
            (new Notebook('registrar', 'requests'))->change(static fn (array $state): array => [['count' => ($state['count'] ?? 0) + 1], null]);
        }
        if ($this->faults->setting('no_batch') === true && str_ends_with($request->path, '/$batch')) {
            return Response::json(['error' => ['code' => 'NotFound', 'message' => 'There is no $batch here.']], 404);
        }
        foreach (['/v4' => VersionFour::class, '/v2' => VersionTwo::class] as $prefix => $version) {
            if ($request->path === $prefix || str_starts_with($request->path, "$prefix/")) {
                return (new $version(new Collection($this->notes), $this->faults))->answer($request->below($prefix));
            }
        }

        return match ($request->path) {
            '/lists/venues' => $this->give($request, count(Words::HOUSES), $this->venue(...)),
            '/lists/objects' => $this->give($request, self::OBJECTS, $this->object(...)),
            '/lists/couriers' => $this->give($request, count(Words::PEOPLE), static fn (int $n): array => ['courier' => $n, 'name' => Words::PEOPLE[$n - 1], 'licence' => sprintf('%05d', Words::number("licence$n", 1, 99999))]),
            default => Response::json(['error' => 'There is no such list.'], 404),
        };
    }

    /**
     * @param  \Closure(int): array<string, mixed>  $make
     */
    private function give(Request $request, int $all, \Closure $make): Response
    {
        $from = $request->number('from', 1, 1, 1_000_000) ?? 1;
        $last = min($all, $from + self::PAGE - 1);
        $items = $from > $all ? [] : array_map($make, range($from, $last));
        $next = $last < $all ? basename($request->path).'?from='.($last + 1) : null;
        if ($next !== null && $this->faults->setting('elsewhere') === true) {
            $next = "http://elsewhere.saltmarsh.example/lists/$next";
        }

        return Response::json(['items' => $items, 'count' => $all, 'next' => $next]);
    }

    /**
     * @return array<string, mixed>
     */
    private function venue(int $n): array
    {
        $slug = array_keys(Words::HOUSES)[$n - 1];
        [$name, $town, $postCode] = Words::HOUSES[$slug];

        return ['venue' => $slug, 'name' => $name, 'town' => $town, 'post_code' => $postCode, 'rooms' => Words::number("rooms$n", 2, 30)];
    }

    /**
     * @return array<string, mixed>
     */
    private function object(int $n): array
    {
        return ['number' => sprintf('%04d.%02d', $n, 1 + $n % 3), 'title' => Words::pick("title$n", Words::THINGS), 'made_of' => [Words::pick("a$n", Words::MATERIALS), Words::pick("b$n", Words::MATERIALS)], 'venue' => array_keys(Words::HOUSES)[$n % count(Words::HOUSES)], 'value' => number_format(Words::number("value$n", 1000, 9000000) / 100, 2, '.', '')];
    }
}
