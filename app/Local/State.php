<?php

declare(strict_types=1);

namespace App\Local;

/**
 * What the state file of an instance says about its processes.
 */
final readonly class State
{
    /**
     * @param  list<Child>  $children
     */
    private function __construct(private string $file, public Child $supervisor, public array $children, public bool $ready, public int $since, public int $port)
    {
    }

    public static function of(string $folder): ?self
    {
        $file = "$folder/run/state.json";
        $state = json_decode((string) @file_get_contents($file), true);
        if (! is_array($state)) {
            return null;
        }
        $children = [];
        foreach ($state['children'] as $name => $child) {
            $children[] = Child::known((string) $name, $child['pid'], $child['born']);
        }

        return new self($file, Child::known('spring', $state['pid'], $state['born']), $children, $state['ready'], $state['since'], $state['port']);
    }

    public function isRunning(): bool
    {
        return $this->supervisor->isAlive();
    }

    /**
     * Processes that still run.
     *
     * @return list<Child>
     */
    public function left(): array
    {
        return array_values(array_filter($this->children, static fn (Child $child): bool => $child->isAlive()));
    }

    /**
     * Ends the supervisor, which ends the rest; and the rest itself when the supervisor is gone.
     */
    public function stop(): void
    {
        if ($this->supervisor->isAlive()) {
            posix_kill($this->supervisor->pid, SIGTERM);
            for ($until = microtime(true) + 45; $this->supervisor->isAlive() && microtime(true) < $until;) {
                usleep(50_000);
            }
        }
        foreach (array_reverse($this->children) as $child) {
            $child->stop($child->name === 'database' ? 30 : 4);
        }
        @unlink($this->file);
    }
}
