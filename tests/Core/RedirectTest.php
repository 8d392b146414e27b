<?php

declare(strict_types=1);

namespace Tests\Core;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/**
 * What a command writes can be redirected to a file. proc_open sets a stream that it is handed back to
 * where PHP believes it to stand, so a second process that was handed STDOUT wrote over what the first
 * had written. A process that is handed nothing inherits the stream as it is.
 */
final class RedirectTest extends TestCase
{
    public function test_processes_that_inherit_the_output_write_one_after_the_other_into_a_file(): void
    {
        $file = (string) tempnam(sys_get_temp_dir(), 'spring-redirect');
        $script = 'foreach ([1, 2, 3] as $n) { proc_close(proc_open(["echo", "line $n"], [], $pipes)); }';
        exec(escapeshellarg(PHP_BINARY).' -r '.escapeshellarg($script).' > '.escapeshellarg($file));
        self::assertSame("line 1\nline 2\nline 3\n", file_get_contents($file));
        unlink($file);
    }

    /**
     * Elsewhere symfony/process runs them. What each of these needs stands at its place.
     */
    public function test_plain_pipes_are_used_in_four_places_of_the_application(): void
    {
        $places = array_filter(array_keys(iterator_to_array(self::files())), static fn (string $file): bool => str_starts_with($file, 'app/'));
        self::assertEqualsCanonicalizing(['app/Local/Backup/DatabaseDump.php', 'app/Local/Backup/Restoring.php', 'app/Local/Child.php', 'app/Reservoir/MariaDb/Loader.php'], $places);
    }

    public function test_output_is_passed_on_as_it_comes_and_an_exit_code_too(): void
    {
        $script = 'require "vendor/autoload.php"; exit(App\\Local\\Foreground::run(["sh", "-c", "echo one; echo two >&2; exit 7"], "/", []));';
        $process = new Process([PHP_BINARY, '-r', $script], dirname(__DIR__, 2));
        self::assertSame([7, "one\n", "two\n"], [$process->run(), $process->getOutput(), $process->getErrorOutput()]);
        $script = 'require "vendor/autoload.php"; $_ENV["ONLY_HERE"] = "x"; putenv("OURS=y"); exit(App\\Local\\Foreground::run(["sh", "-c", "echo [\\$ONLY_HERE] [\\$OURS] [\\$GIVEN]"], "/", ["GIVEN" => "z"]));';
        self::assertSame("[] [y] [z]\n", (new Process([PHP_BINARY, '-r', $script], dirname(__DIR__, 2)))->mustRun()->getOutput());
        $script = 'require "vendor/autoload.php"; exit(App\\Local\\Foreground::run(["true"], "/no such folder"));';
        self::assertSame(1, (new Process([PHP_BINARY, '-r', $script], dirname(__DIR__, 2)))->run());
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function files(): iterable
    {
        $root = dirname(__DIR__, 2);
        foreach ([...glob("$root/bench/*.php") ?: [], ...glob("$root/app/{,*/,*/*/}*.php", GLOB_BRACE) ?: [], ...glob("$root/standins/{,*/}*.php", GLOB_BRACE) ?: []] as $file) {
            if (str_contains((string) file_get_contents($file), 'proc_open(')) {
                yield substr($file, strlen($root) + 1) => [$file];
            }
        }
    }

    #[DataProvider('files')]
    public function test_no_process_is_handed_the_output(string $file): void
    {
        preg_match_all('/proc_open\(.*\$pipes/sU', (string) file_get_contents($file), $calls);
        self::assertNotSame([], $calls[0]);
        foreach ($calls[0] as $call) {
            self::assertDoesNotMatchRegularExpression('/\bSTD(OUT|ERR)\b/', $call);
        }
    }
}
