<?php

declare(strict_types=1);

return [
    'driver' => env('SESSION_DRIVER', 'database'),
    'lifetime' => 480,
    'expire_on_close' => false,
    'encrypt' => true,
    'connection' => env('SESSION_DRIVER') === 'redis' ? 'default' : null,
    'table' => 'sessions',
    'lottery' => [2, 100],
    'cookie' => 'deep_spring_session',
    'path' => '/',
    'domain' => null,
    // Where it is not said, by the address that people use.
    'secure' => env('SESSION_SECURE_COOKIE'),
    'http_only' => true,
    'same_site' => 'lax',
    'partitioned' => false,
];
