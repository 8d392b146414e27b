<?php

declare(strict_types=1);

namespace App\Local;

use Symfony\Component\Process\Exception\ExceptionInterface;
use Symfony\Component\Process\Process;

/**
 * Runs a program to its end and passes on what it prints, as it comes.
 */
final class Foreground
{
    /**
     * The environment of a process of ours: what it is given, and what this process has in its own. What PHP
     * holds in `$_ENV` alone was put there for this process only.
     *
     * @param  array<string, string>  $env
     * @return array<string, string|false> false for what is not handed on
     */
    public static function environment(array $env): array
    {
        return $env + getenv() + array_fill_keys(array_keys($_ENV), false);
    }

    /**
     * @param  list<string>  $command
     * @param  array<string, string>  $env  beside our own
     * @return int its exit code; 1 when it could not be started or was killed
     */
    public static function run(array $command, string $folder, array $env = []): int
    {
        $process = new Process($command, $folder, self::environment($env), timeout: null);
        $process->disableOutput();
        try {
            return $process->run(static function (string $kind, string $text): void {
                fwrite($kind === Process::ERR ? STDERR : STDOUT, $text);
            });
        } catch (ExceptionInterface) {
            return 1;
        }
    }
}
