<?php

declare(strict_types=1);

use StandIns\Faults;
use StandIns\Request;
use StandIns\Response;

/*
 * One process serves the public stand-ins, another (STANDINS=private) those that only a relay
 * should reach; tests have both in one (STANDINS=all).
 */
foreach (['Request', 'Response', 'Faults', 'StandIn', 'Words', 'Desk', 'Notebook'] as $class) {
    require_once __DIR__."/shared/$class.php";
}

$sets = ['public' => ['loans-desk', 'stores', 'box-office', 'freight-tracker', 'label-writer', 'ledger', 'crate-loggers', 'registrar', 'tide-tables', 'doors', 'gatehouse', 'post-room'], 'private' => ['conservation-lab']];
$sets['all'] = [...$sets['public'], ...$sets['private']];
$names = $sets[getenv('STANDINS') ?: 'public'] ?? $sets['public'];
$request = Request::current();

if ($request->path === '/favicon.ico') {
    (new Response(204, [], ''))->send();

    return;
}
if ($request->path === '/') {
    Response::html('<!doctype html><html lang="en"><title>Stand-ins</title><h1>Stand-ins</h1><ul>'.implode('', array_map(static fn (string $name): string => "<li><a href=\"/$name/\">$name</a>", $names)).'</ul></html>')->send();

    return;
}

// RFC 8414 §3.1: the well-known part comes before the path of the issuer.
if (preg_match('~^(/\.well-known/[a-z-]+)/([a-z-]+)$~D', $request->path, $part) === 1) {
    $request = new Request($request->method, "/$part[2]$part[1]", $request->query, $request->headers, $request->body);
}
$name = explode('/', $request->path)[1];
if (! in_array($name, $names, true)) {
    Response::json(['error' => 'not_found', 'message' => 'No such service.'], 404)->send();

    return;
}

$request = $request->below("/$name");
$faults = new Faults($name);
if ($request->path === '/_faults' && $request->method === 'PUT') {
    $faults->set($request->body);
    Response::json(['ok' => true])->send();

    return;
}
if ($request->path === '/' || $request->path === '') {
    Response::html((string) file_get_contents(__DIR__."/$name/docs.html"))->send();

    return;
}
if (preg_match('~^/openapi\.(json|yaml)$~D', $request->path, $part) === 1 && is_file(__DIR__."/$name/openapi.$part[1]")) {
    (new Response(200, ['Content-Type' => $part[1] === 'json' ? 'application/json' : 'application/yaml'], (string) file_get_contents(__DIR__."/$name/openapi.$part[1]")))->send();

    return;
}
$service = require __DIR__."/$name/service.php";
$faults->apply($request, static fn (): Response => $faults->altered($service->answer($request)))->send();
