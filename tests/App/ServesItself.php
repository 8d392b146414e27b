<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Models\KeptTable;
use App\Models\RunState;
use App\OData\MetadataFetcher;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use Tests\Lane;

/**
 * The application over HTTP, for one test alone.
 */
trait ServesItself
{
    /**
     * @return array{Child, int} the server, and its port
     */
    private function served(): array
    {
        $port = Lane::ports(8840)->web;
        $server = Child::start('feeds', [PHP_BINARY, '-S', "127.0.0.1:$port", base_path('vendor/laravel/framework/src/Illuminate/Foundation/resources/server.php')], getenv() + ['PHP_CLI_SERVER_WORKERS' => '3'], '/dev/null', base_path('public'));
        for ($until = microtime(true) + 60; @fsockopen('127.0.0.1', $port) === false && microtime(true) < $until; usleep(20_000));

        return [$server, $port];
    }

    /**
     * The application reads a feed of its own over HTTP, as it would any service.
     *
     * @return string the table that is kept of it
     */
    private function keptOfItself(string $service, int $version, string $set, string $key): string
    {
        [$server, $port] = $this->served();
        try {
            $this->allow($port);
            $source = $this->draft("http://127.0.0.1:$port/$service", [['scheme' => 'basic', 'username' => 'any', 'password' => ['secret' => 'key']]], [['slug' => 'loans-again', 'name' => 'Loans again', 'entity_set' => $set]], ['kind' => 'odata', 'odata' => ['version' => $version]]);
            app(Vault::class)->put($source, $this->trial(), 'key', $key, null);
            $read = app(MetadataFetcher::class)->read($source, $this->trial(), null);
            self::assertTrue($read->succeeded, (string) json_encode($read->diagnosis));
            app(SourceStore::class)->publish($source->refresh(), null);
            $run = $this->refresh($source->refresh(), 'loans-again');
            self::assertSame([RunState::Done, 1200, 0], [$run->state, $run->rows, $run->rejects], (string) json_encode($run->diagnosis));
        } finally {
            $server->stop(1);
        }

        return (string) KeptTable::query()->where('endpoint_id', $run->endpoint_id)->value('name');
    }
}
