<?php

declare(strict_types=1);

// With the demo, notes go to its post room as long as no server is named. Links that let somebody in do not.
$postRoom = env('SPRING_DEMO') === 'no' ? null : env('SPRING_STANDINS_MAIL');
$mailer = env('MAIL_MAILER', env('MAIL_HOST') ? 'smtp' : 'none');

return [
    // Without a host of a mail server nothing is sent, and links are handed over by hand.
    'default' => $mailer,
    // What notes are sent with.
    'notes' => $mailer === 'none' && $postRoom ? 'post-room' : $mailer,
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
        'post-room' => ['transport' => 'smtp', 'host' => '127.0.0.1', 'port' => $postRoom, 'timeout' => 10, 'local_domain' => 'localhost'],
        'none' => ['transport' => 'array'],
        'array' => ['transport' => 'array'],
    ],
    'from' => ['address' => env('MAIL_FROM_ADDRESS', 'deep-spring@localhost'), 'name' => 'Deep Spring'],
];
