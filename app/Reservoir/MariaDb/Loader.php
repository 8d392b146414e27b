<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Reservoir\ConnectionLost;
use App\Reservoir\KeepFailed;
use App\Reservoir\RunSuperseded;
use Symfony\Component\Process\PhpExecutableFinder;

/**
 * A process of its own that loads files while this one reads on. One transaction is under way at
 * most. It is spoken to line by line over plain pipes: a line is waited for without asking every
 * moment whether one has come.
 */
final class Loader
{
    /** @var resource */
    private $process;

    /** @var array<int, resource> */
    private array $pipes = [];

    /** One that has nothing to do, so that the next run need not start another. */
    private static ?self $spare = null;

    /**
     * One that is there, or a new one.
     *
     * @param  array<string, mixed>  $connection  of `config/database.php`
     *
     * @throws KeepFailed
     */
    public static function with(array $connection): self
    {
        [$spare, self::$spare] = [self::$spare, null];
        if ($spare?->isReady($connection) === true) {
            return $spare;
        }
        $spare?->end();

        return new self($connection);
    }

    /**
     * @param  array<string, mixed>  $connection  of `config/database.php`
     *
     * @throws KeepFailed
     */
    private function __construct(private readonly array $connection)
    {
        // In a process of the web server PHP_BINARY is that server.
        $php = PHP_SAPI === 'cli' ? PHP_BINARY : (new PhpExecutableFinder)->find(false);
        $process = proc_open([$php === false ? 'php' : $php, '-d', 'memory_limit=128M', __DIR__.'/loader.php'], [['pipe', 'r'], ['pipe', 'w'], ['file', '/dev/null', 'w']], $pipes);
        if (! is_resource($process)) {
            throw KeepFailed::because('The process that loads rows cannot be started.');
        }
        $this->process = $process;
        $this->pipes = $pipes;
        $this->write(['dsn' => "mysql:host={$connection['host']};port={$connection['port']};charset=utf8mb4", 'user' => $connection['username'], 'password' => $connection['password'], 'options' => $connection['options'] ?? []]);
    }

    /**
     * Begins one transaction.
     *
     * @param  array<int, string>  $loads  statements by the number of their table
     * @param  array{string, list<string|int>}|null  $mark  a statement that changes one row, and its values
     * @param  array{table: string, file: string, pages: list<array{int, string, int}>, part: int}|null  $pages  answers to be kept: number, media type and bytes of each in the file; most bytes of a part
     *
     * @throws ConnectionLost
     */
    public function begin(array $loads, ?array $mark, ?array $pages = null): void
    {
        $this->write(['loads' => $loads === [] ? new \stdClass : $loads, 'mark' => $mark, 'pages' => $pages]);
    }

    /**
     * Whether the transaction under way has ended, so that its result need not be waited for.
     */
    public function hasAnswered(): bool
    {
        [$read, $write, $except] = [[$this->pipes[1]], null, null];

        return (int) stream_select($read, $write, $except, 0) > 0;
    }

    /**
     * Waits for the transaction under way.
     *
     * @return array<int, int> rows that were loaded, by the number of their table
     *
     * @throws KeepFailed when the database refused, or would have changed a value
     * @throws ConnectionLost
     * @throws RunSuperseded
     */
    public function result(): array
    {
        $answer = json_decode((string) fgets($this->pipes[1]), true);
        if (! is_array($answer) || $answer['lost']) {
            throw ConnectionLost::because(is_array($answer) ? $answer['error'] : 'The process that loads rows has ended.');
        }
        if ($answer['error'] !== null) {
            throw KeepFailed::because('The database did not take the rows: '.mb_strimwidth($answer['error'], 0, 300, '…', 'UTF-8').'.');
        }
        if ($answer['warning'] !== null) {
            throw KeepFailed::because("The database would have changed a value: {$answer['warning']}.");
        }
        if ($answer['overtaken']) {
            throw new RunSuperseded;
        }

        return array_map(intval(...), $answer['rows']);
    }

    /**
     * Nothing more is to be loaded.
     *
     * @param  bool  $isIdle  whether nothing is under way that has to be over before anything else is done
     */
    public function close(bool $isIdle): void
    {
        // A worker loads again before long. A process of the web server has nothing left when its request is over.
        if ($isIdle && self::$spare === null && PHP_SAPI === 'cli') {
            self::$spare = $this;

            return;
        }
        $this->end();
    }

    /**
     * It ends with its input.
     */
    private function end(): void
    {
        foreach ($this->pipes as $pipe) {
            fclose($pipe);
        }
        $this->pipes = [];
        proc_close($this->process);
    }

    /**
     * Whether it can be used again with a connection.
     *
     * @param  array<string, mixed>  $connection
     */
    private function isReady(array $connection): bool
    {
        if ($this->connection !== $connection) {
            return false;
        }
        try {
            $this->begin([], null);
            $this->result();

            return true;
        } catch (ConnectionLost|KeepFailed) {
            return false;
        }
    }

    private function write(mixed $line): void
    {
        if (@fwrite($this->pipes[0], json_encode($line, JSON_UNESCAPED_SLASHES | JSON_THROW_ON_ERROR)."\n") === false) {
            throw ConnectionLost::because('The process that loads rows has ended.');
        }
    }
}
