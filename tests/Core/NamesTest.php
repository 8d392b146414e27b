<?php

declare(strict_types=1);

namespace Tests\Core;

use PHPUnit\Framework\TestCase;

/**
 * A name says one thing: no two types of the application have the same.
 */
final class NamesTest extends TestCase
{
    public function test_no_type_has_the_name_of_another(): void
    {
        $root = dirname(__DIR__, 2);
        $found = [];
        foreach (['app', 'core', 'standins', 'database', 'bench', 'compat'] as $folder) {
            foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator("$root/$folder", \FilesystemIterator::SKIP_DOTS)) as $file) {
                if ($file instanceof \SplFileInfo && $file->getExtension() === 'php' && preg_match('/^(?:(?:final|abstract|readonly) )*(?:class|interface|enum|trait) (\w+)/m', (string) file_get_contents($file->getPathname()), $part) === 1) {
                    $found[$part[1]][] = substr($file->getPathname(), strlen($root) + 1);
                }
            }
        }
        self::assertGreaterThan(600, count($found));
        self::assertSame([], array_filter($found, static fn (array $files): bool => count($files) > 1));
    }
}
