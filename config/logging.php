<?php

declare(strict_types=1);

return [
    'default' => env('LOG_CHANNEL', 'file'),
    'deprecations' => ['channel' => 'null', 'trace' => false],
    'channels' => [
        'file' => ['driver' => 'single', 'path' => base_path(env('SPRING_VAR', 'var').'/log/application.log'), 'level' => env('LOG_LEVEL', 'info'), 'replace_placeholders' => true],
        'stderr' => ['driver' => 'monolog', 'handler' => Monolog\Handler\StreamHandler::class, 'handler_with' => ['stream' => 'php://stderr'], 'level' => 'warning'],
        'null' => ['driver' => 'monolog', 'handler' => Monolog\Handler\NullHandler::class],
        'emergency' => ['path' => base_path(env('SPRING_VAR', 'var').'/log/application.log')],
    ],
];
