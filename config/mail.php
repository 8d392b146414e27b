<?php

declare(strict_types=1);

return [
    // Without a host of a mail server nothing is sent, and links are handed over by hand.
    'default' => env('MAIL_MAILER', env('MAIL_HOST') ? 'smtp' : 'none'),
    'mailers' => [
        'smtp' => [
            'transport' => 'smtp',
            'scheme' => env('MAIL_SCHEME'),
            'host' => env('MAIL_HOST', '127.0.0.1'),
            'port' => env('MAIL_PORT', 25),
            'username' => env('MAIL_USERNAME'),
            'password' => env('MAIL_PASSWORD'),
            'timeout' => 10,
            'local_domain' => parse_url((string) env('APP_URL', 'http://localhost'), PHP_URL_HOST) ?: 'localhost',
        ],
        'none' => ['transport' => 'array'],
        'array' => ['transport' => 'array'],
    ],
    'from' => ['address' => env('MAIL_FROM_ADDRESS', 'deep-spring@localhost'), 'name' => 'Deep Spring'],
];
