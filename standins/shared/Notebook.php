<?php

declare(strict_types=1);

namespace StandIns;

/**
 * What a service remembers between requests, in a file of its own.
 */
final readonly class Notebook
{
    public function __construct(private string $service, private string $kind = 'notes')
    {
    }

    /**
     * @param  \Closure(array<string, mixed>): array{array<string, mixed>, mixed}  $how  the new state and what to hand back
     */
    public function change(\Closure $how): mixed
    {
        $handle = fopen($this->file(), 'c+');
        if ($handle === false || ! flock($handle, LOCK_EX)) {
            return null;
        }
        [$state, $result] = $how((array) json_decode((string) stream_get_contents($handle), true));
        ftruncate($handle, 0);
        rewind($handle);
        fwrite($handle, (string) json_encode($state));
        fclose($handle);

        return $result;
    }

    /**
     * @return array<string, mixed>
     */
    public function read(): array
    {
        $handle = @fopen($this->file(), 'r');
        // Not in the middle of somebody else's writing.
        if ($handle === false || ! flock($handle, LOCK_SH)) {
            return [];
        }
        $text = (string) stream_get_contents($handle);
        fclose($handle);

        return (array) json_decode($text, true);
    }

    private function file(): string
    {
        return (getenv('STANDINS_STATE') ?: sys_get_temp_dir())."/standin-{$this->service}-{$this->kind}.json";
    }
}
