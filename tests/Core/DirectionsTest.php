<?php

declare(strict_types=1);

namespace Tests\Core;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * Who may know whom (docs/architecture.md), over every class that a file names.
 */
final class DirectionsTest extends TestCase
{
    private const ROOT = __DIR__.'/../..';

    /**
     * @return iterable<string, array{string, list<string>}>
     */
    public static function folders(): iterable
    {
        yield 'core knows itself, PSR messages and small libraries' => ['core', ['DeepSpring\\', 'Psr\\Http\\Message\\', 'GuzzleHttp\\Psr7\\', 'Symfony\\Component\\Yaml\\', 'Opis\\JsonSchema\\', 'Brick\\Math\\', 'Firebase\\JWT\\', 'Cron\\']];
        yield 'stand-ins know themselves' => ['standins', ['StandIns\\']];
    }

    /**
     * @param  list<string>  $allowed
     */
    #[DataProvider('folders')]
    public function test_a_folder_knows_only_what_it_may(string $folder, array $allowed): void
    {
        $seen = 0;
        foreach ($this->names($folder) as [$file, $name]) {
            $seen++;
            $ok = ! str_contains($name, '\\') || array_filter($allowed, static fn (string $prefix): bool => str_starts_with($name, $prefix)) !== [];
            self::assertTrue($ok, "$file names $name.");
        }
        self::assertGreaterThan(5, $seen);
    }

    public function test_core_asks_neither_clock_nor_chance_nor_network_nor_environment(): void
    {
        $forbidden = ['time', 'microtime', 'date', 'rand', 'mt_rand', 'random_int', 'random_bytes', 'curl_init', 'fsockopen', 'stream_socket_client', 'getenv', 'env', 'config', 'app', 'sleep', 'usleep', 'file_put_contents'];
        foreach ($this->files('core') as $file) {
            $tokens = \PhpToken::tokenize((string) file_get_contents($file));
            foreach ($tokens as $index => $token) {
                if ($token->is(T_STRING) && in_array($token->text, $forbidden, true) && ($tokens[$index + 1]->text ?? '') === '(' && ! in_array($tokens[$index - 1]->text ?? '', ['->', '::', '?->'], true) && ! $tokens[$index - 2]->is(T_FUNCTION)) {
                    self::fail("$file calls {$token->text}() in line {$token->line}.");
                }
            }
        }
        $this->addToAssertionCount(1);
    }

    public function test_nobody_but_the_application_names_the_application(): void
    {
        foreach (['core', 'standins'] as $folder) {
            foreach ($this->files($folder) as $file) {
                self::assertDoesNotMatchRegularExpression('/\\\\?\bApp\\\\/', (string) file_get_contents($file), $file);
            }
        }
    }

    /**
     * Names in use statements, and names written with a backslash anywhere else.
     *
     * @return iterable<array{string, string}>
     */
    private function names(string $folder): iterable
    {
        foreach ($this->files($folder) as $file) {
            foreach (\PhpToken::tokenize((string) file_get_contents($file)) as $token) {
                if ($token->is([T_NAME_QUALIFIED, T_NAME_FULLY_QUALIFIED])) {
                    $name = ltrim($token->text, '\\');
                    if ($token->is(T_NAME_QUALIFIED) && ! preg_match('/^(DeepSpring|Psr|GuzzleHttp|Symfony|Opis|Brick|Firebase|StandIns|Illuminate|App|Laravel|Carbon|Monolog)\\\\/', $name)) {
                        continue;
                    }
                    yield [$file, $name];
                }
            }
        }
    }

    /**
     * @return iterable<string>
     */
    private function files(string $folder): iterable
    {
        foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator(self::ROOT."/$folder", \FilesystemIterator::SKIP_DOTS)) as $file) {
            if ($file instanceof \SplFileInfo && $file->getExtension() === 'php') {
                yield $file->getPathname();
            }
        }
    }
}
