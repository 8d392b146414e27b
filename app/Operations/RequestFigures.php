<?php

declare(strict_types=1);

namespace App\Operations;

/**
 * How many requests this machine answered, and how fast: counters in one small file that all its
 * processes share.
 */
final readonly class RequestFigures
{
    /** Upper bounds in seconds. */
    public const BUCKETS = ['0.025', '0.05', '0.1', '0.25', '0.5', '1', '2.5', '10', '30', '120'];

    public function __construct(private string $file)
    {
    }

    /**
     * Never at the cost of the request: where the file cannot be written, nothing is counted.
     */
    public function count(string $pool, int $status, float $seconds): void
    {
        $handle = @fopen($this->file, 'c+');
        if ($handle === false || ! flock($handle, LOCK_EX)) {
            return;
        }
        $figures = json_decode((string) stream_get_contents($handle), true);
        $figures = is_array($figures) ? $figures : [];
        $class = intdiv($status, 100).'xx';
        $figures['requests'][$pool][$class] = ($figures['requests'][$pool][$class] ?? 0) + 1;
        foreach (self::BUCKETS as $bound) {
            if ($seconds <= (float) $bound) {
                $figures['times'][$pool][$bound] = ($figures['times'][$pool][$bound] ?? 0) + 1;
            }
        }
        $figures['sum'][$pool] = ($figures['sum'][$pool] ?? 0.0) + $seconds;
        rewind($handle);
        ftruncate($handle, 0);
        fwrite($handle, (string) json_encode($figures));
        flock($handle, LOCK_UN);
        fclose($handle);
    }

    /**
     * @return array{requests?: array<string, array<string, int>>, times?: array<string, array<string, int>>, sum?: array<string, float>}
     */
    public function read(): array
    {
        $figures = json_decode((string) @file_get_contents($this->file), true);

        return is_array($figures) ? $figures : [];
    }
}
