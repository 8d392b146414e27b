<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
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
}
