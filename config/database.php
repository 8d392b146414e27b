<?php

declare(strict_types=1);

/*
 * Three accounts on one server. `app` owns the application's own schema; `keeper` owns the kept
 * tables and hands out reading rights on them; people's queries run as accounts of their own,
 * made by the keeper, that can only SELECT (App\Reservoir\MariaDb\MariaDbReaderAccounts).
 */
$tls = env('DB_TLS_CA') && extension_loaded('pdo_mysql')
    ? [PDO::MYSQL_ATTR_SSL_CA => env('DB_TLS_CA'), PDO::MYSQL_ATTR_SSL_VERIFY_SERVER_CERT => (bool) env('DB_TLS_VERIFY', true)]
    : [];
$base = [
    'driver' => 'mariadb',
    'host' => env('DB_HOST', '127.0.0.1'),
    'port' => env('DB_PORT', '8403'),
    'charset' => 'utf8mb4',
    'collation' => 'utf8mb4_nopad_bin',
    'prefix' => '',
    'strict' => true,
    'engine' => 'InnoDB',
    'timezone' => '+00:00',
];

return [
    'default' => 'app',
    'connections' => [
        'app' => $base + [
            'database' => env('DB_SCHEMA', 'deep_spring'),
            'username' => env('DB_APP_USER', 'ds_app'),
            'password' => env('DB_APP_PASSWORD', ''),
            'options' => $tls,
        ],
        'keeper' => $base + [
            'database' => env('DB_SCHEMA', 'deep_spring').'_data',
            'username' => env('DB_KEEPER_USER', 'ds_keeper'),
            'password' => env('DB_KEEPER_PASSWORD', ''),
            'options' => (extension_loaded('pdo_mysql') ? [PDO::MYSQL_ATTR_LOCAL_INFILE => true] : []) + $tls,
            // From where the processes of the application connect, as MariaDB sees them: accounts of readers are made for it.
            'client_host' => env('DB_CLIENT_HOST', '127.0.0.1'),
        ],
    ],
    'migrations' => ['table' => 'migrations', 'update_date_on_publish' => false],
    'redis' => [
        'client' => 'predis',
        'options' => ['prefix' => env('REDIS_PREFIX', 'deep_spring:')],
        'default' => [
            'scheme' => env('REDIS_SCHEME', 'tcp'), 'host' => env('REDIS_HOST', '127.0.0.1'), 'port' => env('REDIS_PORT', 6379),
            'username' => env('REDIS_USERNAME'), 'password' => env('REDIS_PASSWORD'), 'database' => env('REDIS_DB', 0), 'timeout' => 5.0, 'read_write_timeout' => 60,
        ],
        'cache' => [
            'scheme' => env('REDIS_SCHEME', 'tcp'), 'host' => env('REDIS_HOST', '127.0.0.1'), 'port' => env('REDIS_PORT', 6379),
            'username' => env('REDIS_USERNAME'), 'password' => env('REDIS_PASSWORD'), 'database' => env('REDIS_CACHE_DB', 1), 'timeout' => 5.0, 'read_write_timeout' => 60,
        ],
    ],
];
