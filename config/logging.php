<?php

declare(strict_types=1);

return [
    'default' => env('LOG_CHANNEL', 'file'),
    'deprecations' => ['channel' => 'null', 'trace' => false],
    'channels' => [
        // One JSON object a line, a file a day; the account of the command line writes to the same ones.
        'file' => [
            'driver' => 'monolog', 'handler' => Monolog\Handler\RotatingFileHandler::class, 'level' => env('LOG_LEVEL', 'info'),
            'handler_with' => ['filename' => base_path(env('SPRING_VAR', 'var').'/log/application.log'), 'maxFiles' => (int) env('LOG_DAYS', 30), 'filePermission' => 0660],
            'formatter' => App\Operations\LogLine::class,
        ],
        'stderr' => [
            'driver' => 'monolog', 'handler' => Monolog\Handler\StreamHandler::class, 'handler_with' => ['stream' => 'php://stderr'], 'level' => env('LOG_LEVEL', 'info'),
            'formatter' => App\Operations\LogLine::class,
        ],
        'null' => ['driver' => 'monolog', 'handler' => Monolog\Handler\NullHandler::class],
        'emergency' => ['path' => base_path(env('SPRING_VAR', 'var').'/log/application.log')],
    ],
];
