<?php

declare(strict_types=1);

namespace Tests\Core;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

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
