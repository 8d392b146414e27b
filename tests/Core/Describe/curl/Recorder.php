<?php

declare(strict_types=1);

namespace Tests\Core\Describe\curl;

/**
 * A server that writes down what it is asked, in a folder with the files that commands name.
 */
final class Recorder
{
    public const FILES = ['loan.json' => "{ \"house\":\n \"gull-tower\" }\n", 'note.txt' => 'two words', 'headers.txt' => "X-A: 1\nX-B: 2\n"];

    public readonly string $folder;

    /** Host and port. */
    public readonly string $address;

    /** @var resource|null */
    private $process;

    /**
     * @param  string  $name  of the folder
     */
    public function __construct(string $name)
    {
        $this->folder = sys_get_temp_dir()."/$name-".getmypid();
        @mkdir($this->folder);
        foreach (self::FILES as $file => $content) {
            file_put_contents("$this->folder/$file", $content);
        }
        $this->process = proc_open([PHP_BINARY, __DIR__.'/recorder-server.php', "$this->folder/address", "$this->folder/log"], array_fill(0, 3, ['file', '/dev/null', 'r+']), $pipes) ?: null;
        for ($until = microtime(true) + 60; (string) @file_get_contents("$this->folder/address") === '' && microtime(true) < $until; usleep(20_000)) {
            continue;
        }
        $this->address = (string) file_get_contents("$this->folder/address");
    }

    /**
     * What came since the last time.
     *
     * @return list<array{method: string, target: string, headers: array<string, list<string>>, body: string}|null> null for a line that somebody else wrote
     */
    public function taken(): array
    {
        $log = (string) @file_get_contents("$this->folder/log");
        @unlink("$this->folder/log");

        return array_map(static fn (string $line): ?array => $line === '-' ? null : self::request((string) base64_decode($line, true)), array_values(array_filter(explode("\n", $log), static fn (string $line): bool => $line !== '')));
    }

    public function stop(): void
    {
        if ($this->process !== null) {
            proc_terminate($this->process);
            proc_close($this->process);
            $this->process = null;
        }
        array_map(unlink(...), glob("$this->folder/*") ?: []);
        @rmdir($this->folder);
    }

    /**
     * @return array{method: string, target: string, headers: array<string, list<string>>, body: string}
     */
    private static function request(string $raw): array
    {
        [$head, $body] = explode("\r\n\r\n", $raw, 2);
        $lines = explode("\r\n", $head);
        [$method, $target] = explode(' ', array_shift($lines));
        $headers = [];
        foreach ($lines as $line) {
            [$name, $value] = explode(':', $line, 2);
            $headers[strtolower($name)][] = trim($value);
        }

        return ['method' => $method, 'target' => $target, 'headers' => $headers, 'body' => $body];
    }
}
