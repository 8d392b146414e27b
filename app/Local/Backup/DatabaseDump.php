<?php

declare(strict_types=1);

namespace App\Local\Backup;

use App\Local\Trouble;

/**
 * The database as statements, by `mariadb-dump`: all schemas as they were at one moment, while runs go
 * on. Staged tables are left out; whoever reads them begins again.
 */
final readonly class DatabaseDump
{
    private string $schema;

    /**
     * @param  array<string, string>  $env
     */
    public function __construct(private array $env, private string $folder)
    {
        $this->schema = $env['DB_SCHEMA'] ?? 'deep_spring';
    }

    /**
     * The application's own first, then those of kept tables.
     *
     * @return list<string>
     */
    public function schemas(): array
    {
        $statement = $this->connection()->prepare('select schema_name from information_schema.schemata where schema_name = ? or schema_name like ? order by schema_name');
        $statement->execute([$this->schema, addcslashes("{$this->schema}_data", '_%').'%']);

        return array_map(strval(...), $statement->fetchAll(\PDO::FETCH_COLUMN));
    }

    public function write(BackupArchive $archive, bool $withoutPages): void
    {
        $options = "{$this->folder}/tmp/dump-".bin2hex(random_bytes(6)).'.cnf';
        $old = umask(0077);
        file_put_contents($options, $this->options());
        umask($old);
        try {
            $archive->open('database.sql');
            $this->run($this->command($options, $withoutPages), $archive);
            $archive->close();
            $archive->open('log.sql');
            $this->run([...$this->start($options), '--no-create-info', '--skip-triggers', "{$this->schema}_log", 'entries', 'journal'], $archive);
            $archive->close();
        } finally {
            @unlink($options);
        }
    }

    /**
     * @return list<string>
     */
    private function command(string $options, bool $withoutPages): array
    {
        // Views are made again from their queries, by the accounts that own them.
        $left = [];
        $statement = $this->connection()->prepare('select table_schema as s, table_name as t from information_schema.tables where table_schema like ? and (table_name like ? or table_name like ? or table_type = \'VIEW\')');
        $statement->execute([addcslashes("{$this->schema}_data", '_%').'%', 'stage\\_\\_%', $withoutPages ? 'pages\\_\\_%' : 'stage\\_\\_%']);
        foreach ($statement->fetchAll(\PDO::FETCH_ASSOC) as $row) {
            $left[] = "--ignore-table={$row['s']}.{$row['t']}";
        }
        foreach (['sessions', 'cache', 'cache_locks', 'open_sessions', 'pace_readers', 'statement_turns', 'query_results', 'query_result_parts'] as $passing) {
            $left[] = "--ignore-table-data={$this->schema}.$passing";
        }

        return [...$this->start($options), ...$left, '--databases', ...$this->schemas()];
    }

    /**
     * @return list<string>
     */
    private function start(string $options): array
    {
        return ['mariadb-dump', "--defaults-file=$options", '--single-transaction', '--quick', '--hex-blob', '--skip-comments', '--skip-lock-tables', '--default-character-set=utf8mb4', '--max-allowed-packet=64M'];
    }

    /**
     * @param  list<string>  $command
     */
    private function run(array $command, BackupArchive $archive): void
    {
        $errors = tmpfile() ?: throw new Trouble('No temporary file can be made.');
        // A plain pipe, which holds the program back while a piece is written; Process would gather in memory what comes meanwhile.
        $process = proc_open($command, [1 => ['pipe', 'w'], 2 => $errors], $pipes);
        if (! is_resource($process)) {
            throw new Trouble('mariadb-dump cannot be started: is the package mariadb-client installed?');
        }
        while (! feof($pipes[1])) {
            $archive->piece((string) fread($pipes[1], BackupArchive::CHUNK));
        }
        fclose($pipes[1]);
        $code = proc_close($process);
        rewind($errors);
        $said = trim((string) stream_get_contents($errors));
        if ($code !== 0) {
            throw new Trouble('The database could not be backed up: '.mb_strimwidth($said === '' ? "mariadb-dump ended with $code" : $said, 0, 300, '…').'.');
        }
    }

    private function options(): string
    {
        $tls = ($this->env['DB_TLS_CA'] ?? '') === '' ? "skip-ssl\n" : "ssl-ca={$this->env['DB_TLS_CA']}\nssl-verify-server-cert\n";

        return "[mariadb-dump]\nhost={$this->host()}\nport={$this->env['DB_PORT']}\nprotocol=tcp\nuser=ds_backup\npassword=\"{$this->env['DB_BACKUP_PASSWORD']}\"\n$tls";
    }

    private function host(): string
    {
        return $this->env['DB_HOST'] ?? '127.0.0.1';
    }

    private function connection(): \PDO
    {
        try {
            return new \PDO("mysql:host={$this->host()};port={$this->env['DB_PORT']};charset=utf8mb4", 'ds_backup', $this->env['DB_BACKUP_PASSWORD'] ?? '', [\PDO::ATTR_ERRMODE => \PDO::ERRMODE_EXCEPTION, \PDO::ATTR_TIMEOUT => 10]);
        } catch (\PDOException $failed) {
            throw new Trouble('The database does not answer, so it cannot be backed up. Start the application with ./spring up. ('.$failed->getMessage().')');
        }
    }
}
