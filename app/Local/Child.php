<?php

declare(strict_types=1);

namespace App\Local;

/**
 * A process that we started, in a session of its own so that Ctrl+C reaches only us. It may outlive us,
 * where a Process of symfony ends with the object.
 */
final class Child
{
    /**
     * @param  resource|null  $process
     */
    private function __construct(public readonly string $name, public readonly int $pid, public readonly string $born, private $process = null)
    {
    }

    /**
     * @param  list<string>  $command
     * @param  array<string, string>  $env
     * @param  Account|null  $as  the caller, when null
     */
    public static function start(string $name, array $command, array $env, string $log, string $cwd, ?Account $as = null): self
    {
        if ($as !== null && $log !== '/dev/null') {
            // Who is started opens it again by itself.
            @touch($log);
            $as->own($log);
        }
        $process = @proc_open(['setsid', ...($as?->command($command) ?? $command)], [0 => ['file', '/dev/null', 'r'], 1 => ['file', $log, 'a'], 2 => ['file', $log, 'a']], $pipes, $cwd, $env + getenv());
        if (! is_resource($process)) {
            throw new Trouble("$name cannot be started; see $log.");
        }
        $pid = proc_get_status($process)['pid'];

        return new self($name, $pid, self::bornAt($pid), $process);
    }

    /**
     * One that an earlier run of ours left behind.
     */
    public static function known(string $name, int $pid, string $born): self
    {
        return new self($name, $pid, $born);
    }

    /**
     * @phpstan-impure
     */
    public function isAlive(): bool
    {
        if ($this->process !== null) {
            return proc_get_status($this->process)['running'];
        }

        return $this->born !== '' && self::bornAt($this->pid) === $this->born;
    }

    /**
     * Asks it and everything it started to end, and insists after some seconds.
     */
    public function stop(float $patience): void
    {
        if (! $this->isAlive()) {
            // Its own children may outlive it. Its number may be another's by now, unless we started it.
            if ($this->process !== null) {
                @posix_kill(-$this->pid, SIGKILL);
            }

            return;
        }
        @posix_kill(-$this->pid, SIGTERM);
        for ($until = microtime(true) + $patience; microtime(true) < $until && $this->isAlive();) {
            usleep(20_000);
        }
        @posix_kill(-$this->pid, SIGKILL);
        if ($this->process !== null) {
            proc_close($this->process);
        }
    }

    /**
     * When a process began, in clock ticks since boot: with its id it names one process for good.
     */
    public static function bornAt(int $pid): string
    {
        $stat = (string) @file_get_contents("/proc/$pid/stat");
        $fields = explode(' ', substr($stat, (int) strrpos($stat, ')') + 2));

        return $fields[0] === 'Z' ? '' : ($fields[19] ?? '');
    }
}
