<?php

declare(strict_types=1);

/*
 * Three accounts on one server. `app` owns the application's own schema; `keeper` owns the kept
 * tables and hands out reading rights on them; people's queries run as accounts of their own,
 * made by the keeper, that can only SELECT (App\Reservoir\ReaderAccounts).
 */
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
        ],
        'keeper' => $base + [
            'database' => env('DB_SCHEMA', 'deep_spring').'_data',
            'username' => env('DB_KEEPER_USER', 'ds_keeper'),
            'password' => env('DB_KEEPER_PASSWORD', ''),
            'options' => extension_loaded('pdo_mysql') ? [PDO::MYSQL_ATTR_LOCAL_INFILE => true] : [],
        ],
    ],
    'migrations' => ['table' => 'migrations', 'update_date_on_publish' => false],
];
