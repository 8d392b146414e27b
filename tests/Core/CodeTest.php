<?php

declare(strict_types=1);

namespace Tests\Core;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * What tools say of the code itself.
 */
final class CodeTest extends TestCase
{
    /** They compute for long. */
    private const FASTER = '-d opcache.enable_cli=1 -d opcache.jit=tracing -d opcache.jit_buffer_size=128M';

    /**
     * @return iterable<string, array{list<string>}>
     */
    public static function tools(): iterable
    {
        yield 'static analysis of core, level 8' => [['vendor/bin/phpstan', 'analyse', '-c', 'phpstan-core.neon', '--no-progress', '--memory-limit=1G', '--error-format=raw']];
        yield 'static analysis of app, level 6' => [['vendor/bin/phpstan', 'analyse', '-c', 'phpstan-app.neon', '--no-progress', '--memory-limit=1G', '--error-format=raw']];
        yield 'formatting' => [['vendor/bin/pint', '--test']];
    }

    /**
     * @param  list<string>  $command
     */
    #[DataProvider('tools')]
    public function test_a_tool_finds_nothing(array $command): void
    {
        exec('cd '.escapeshellarg(dirname(__DIR__, 2)).' && '.escapeshellarg(PHP_BINARY).' '.self::FASTER.' '.implode(' ', array_map(escapeshellarg(...), $command)).' 2>&1', $output, $code);
        self::assertSame(0, $code, implode("\n", array_slice($output, -40)));
    }

    public function test_the_lock_file_of_npm_holds_no_addresses(): void
    {
        self::assertStringNotContainsString('"resolved"', (string) file_get_contents(dirname(__DIR__, 2).'/package-lock.json'));
    }

    public function test_every_composer_package_is_pinned(): void
    {
        $composer = json_decode((string) file_get_contents(dirname(__DIR__, 2).'/composer.json'), true);
        foreach ($composer['require'] + $composer['require-dev'] as $name => $version) {
            if (! str_starts_with($name, 'ext-') && $name !== 'php') {
                self::assertMatchesRegularExpression('/^\d+\.\d+\.\d+$/D', $version, $name);
            }
        }
    }
}
