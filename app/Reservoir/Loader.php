<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * A process of its own that loads files while this one reads on. One statement is under way at
 * most.
 */
final class Loader
{
    /** @var resource */
    private $process;

    /** @var array<int, resource> */
    private array $pipes = [];

    /**
     * @param  array<string, mixed>  $connection  of `config/database.php`
     *
     * @throws KeepFailed
     */
    public function __construct(array $connection)
    {
        $process = proc_open([PHP_BINARY, '-d', 'memory_limit=128M', __DIR__.'/loader.php'], [['pipe', 'r'], ['pipe', 'w'], ['file', '/dev/null', 'w']], $pipes);
        if (! is_resource($process)) {
            throw KeepFailed::because('The process that loads rows cannot be started.');
        }
        $this->process = $process;
        $this->pipes = $pipes;
        $this->write(['dsn' => "mysql:host={$connection['host']};port={$connection['port']};charset=utf8mb4", 'user' => $connection['username'], 'password' => $connection['password']]);
    }

    /**
     * @throws KeepFailed
     */
    public function begin(string $sql): void
    {
        $this->write($sql);
    }

    /**
     * Waits for the statement under way.
     *
     * @return int rows that were loaded
     *
     * @throws KeepFailed when the database refused, or would have changed a value
     */
    public function result(): int
    {
        $answer = json_decode((string) fgets($this->pipes[1]), true);
        if (! is_array($answer)) {
            throw KeepFailed::because('The process that loads rows has ended: the database may have been stopped.');
        }
        if ($answer['error'] !== null) {
            throw KeepFailed::because('The database did not take the rows: '.mb_strimwidth($answer['error'], 0, 300, '…', 'UTF-8').'.');
        }
        if ($answer['warning'] !== null) {
            throw KeepFailed::because("The database would have changed a value: {$answer['warning']}.");
        }

        return (int) $answer['rows'];
    }

    public function close(): void
    {
        foreach ($this->pipes as $pipe) {
            fclose($pipe);
        }
        $this->pipes = [];
        proc_close($this->process);
    }

    private function write(mixed $line): void
    {
        if (@fwrite($this->pipes[0], json_encode($line, JSON_UNESCAPED_SLASHES | JSON_THROW_ON_ERROR)."\n") === false) {
            throw KeepFailed::because('The process that loads rows has ended: the database may have been stopped.');
        }
    }
}
