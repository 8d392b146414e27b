<?php

declare(strict_types=1);

namespace App\Local;

/**
 * Schemas and accounts of the application on MariaDB, stated anew at every start: for our own server,
 * and to be run by hand where the database stands elsewhere.
 */
final readonly class DatabaseAccounts
{
    private const SCHEMAS = ['deep_spring', 'deep_spring_test'];

    /**
     * @param  array<string, string>  $env  passwords of the accounts
     * @param  string|null  $administrator  account of the system that administers the database over its socket: the caller when null, nobody when empty
     * @param  list<string>  $schemas
     */
    public static function sql(array $env, ?string $administrator = null, array $schemas = self::SCHEMAS): string
    {
        $client = $env['DB_CLIENT_HOST'] ?? '127.0.0.1';
        $administrator ??= MariaDb::caller();
        $sql = [];
        foreach ($administrator === '' ? [] : array_unique(['root', $administrator]) as $name) {
            // An account over the socket is that of the same name of the system.
            array_push($sql, "CREATE USER IF NOT EXISTS '$name'@'localhost' IDENTIFIED VIA unix_socket;", "ALTER USER '$name'@'localhost' IDENTIFIED VIA unix_socket;", "GRANT ALL PRIVILEGES ON *.* TO '$name'@'localhost' WITH GRANT OPTION;");
        }
        foreach ($schemas as $schema) {
            foreach (['', '_data', '_data_trial'] as $part) {
                $sql[] = "CREATE DATABASE IF NOT EXISTS `$schema$part` CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin;";
            }
        }
        foreach (['ds_app' => 'DB_APP_PASSWORD', 'ds_keeper' => 'DB_KEEPER_PASSWORD', 'ds_backup' => 'DB_BACKUP_PASSWORD'] as $account => $password) {
            $sql[] = "CREATE USER IF NOT EXISTS '$account'@'$client' IDENTIFIED BY '{$env[$password]}';";
            $sql[] = "ALTER USER '$account'@'$client' IDENTIFIED BY '{$env[$password]}';";
            // What an earlier version granted and is not needed any more.
            $sql[] = "REVOKE ALL PRIVILEGES, GRANT OPTION FROM '$account'@'$client';";
        }
        foreach ($schemas as $schema) {
            $data = str_replace('_', '\\_', "{$schema}_data").'%';
            array_push($sql, ...self::log("{$schema}_log", $client, max(30, (int) ($env['SPRING_LOG_DAYS'] ?? 400))));
            $sql[] = 'GRANT ALL ON `'.str_replace('_', '\\_', $schema)."`.* TO 'ds_app'@'$client';";
            // Every environment has a schema of its own, made when it is added.
            $sql[] = "GRANT ALL ON `$data`.* TO 'ds_keeper'@'$client' WITH GRANT OPTION;";
            foreach ([str_replace('_', '\\_', $schema), str_replace('_', '\\_', "{$schema}_log"), $data] as $all) {
                $sql[] = "GRANT SELECT, SHOW VIEW, LOCK TABLES ON `$all`.* TO 'ds_backup'@'$client';";
            }
        }
        // Accounts of readers are made, looked up, and their statements ended.
        // An event of its ends statements of tools that take too long, for which it has to see them.
        $sql[] = "GRANT CREATE USER, CONNECTION ADMIN, PROCESS ON *.* TO 'ds_keeper'@'$client';";
        $sql[] = "GRANT SELECT ON mysql.tables_priv TO 'ds_keeper'@'$client';";
        $sql[] = "GRANT SELECT ON mysql.innodb_index_stats TO 'ds_keeper'@'$client';";
        $sql[] = "GRANT SELECT (User, Host) ON mysql.global_priv TO 'ds_keeper'@'$client';";

        return implode("\n", $sql)."\n";
    }

    /**
     * The log of who did what: the application can add to it and read it, and only the database
     * itself thins it.
     *
     * @return list<string>
     */
    private static function log(string $schema, string $client, int $days): array
    {
        return [
            "CREATE DATABASE IF NOT EXISTS `$schema` CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin;",
            "CREATE TABLE IF NOT EXISTS `$schema`.entries (id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6), "
                .'person BIGINT UNSIGNED NULL, person_name VARCHAR(190) NOT NULL, action VARCHAR(60) NOT NULL, subject VARCHAR(300) NOT NULL, detail VARCHAR(2000) NOT NULL, ip VARCHAR(45) NULL, '
                .'KEY at (at), KEY action (action, id), KEY person (person, id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_nopad_bin;',
            "GRANT SELECT, INSERT ON `$schema`.entries TO 'ds_app'@'$client';",
            // What was changed at services through this application; nobody thins it.
            "CREATE TABLE IF NOT EXISTS `$schema`.journal (id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6), "
                .'person BIGINT UNSIGNED NULL, person_name VARCHAR(190) NOT NULL, via VARCHAR(20) NOT NULL, environment VARCHAR(64) NOT NULL, source VARCHAR(64) NOT NULL, endpoint VARCHAR(64) NOT NULL, `table` VARCHAR(64) NOT NULL, kind VARCHAR(10) NOT NULL, record VARCHAR(300) NOT NULL, '
                .'before_ MEDIUMTEXT NOT NULL, after_ MEDIUMTEXT NOT NULL, request MEDIUMTEXT NOT NULL, answer MEDIUMTEXT NOT NULL, status SMALLINT UNSIGNED NULL, milliseconds INT UNSIGNED NULL, outcome VARCHAR(10) NOT NULL, reason VARCHAR(1000) NOT NULL, change_id BIGINT UNSIGNED NULL, undoes BIGINT UNSIGNED NULL, '
                .'KEY at (at), KEY record (environment, `table`, record, id), KEY person (person, id), KEY change_id (change_id), KEY undoes (undoes)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_nopad_bin;',
            "GRANT SELECT, INSERT ON `$schema`.journal TO 'ds_app'@'$client';",
            "CREATE OR REPLACE EVENT `$schema`.thin ON SCHEDULE EVERY 1 DAY ON COMPLETION PRESERVE DO DELETE FROM `$schema`.entries WHERE at < UTC_TIMESTAMP() - INTERVAL $days DAY;",
        ];
    }

    /**
     * Whether an account lets in whoever names it.
     *
     * @param  array<string, mixed>  $account  as `mysql.global_priv` holds it
     */
    public static function isOpen(array $account): bool
    {
        if (($account['account_locked'] ?? false) === true) {
            return false;
        }
        // Several ways may be given, of which one is enough.
        foreach ($account['auth_or'] ?? [$account] as $way) {
            $way += array_intersect_key($account, ['plugin' => 1, 'authentication_string' => 1]);
            $plugin = (string) ($way['plugin'] ?? '');
            $proof = (string) ($way['authentication_string'] ?? '');
            if ($plugin === 'unix_socket' || $proof !== '') {
                continue;
            }

            return true;
        }

        return false;
    }
}
