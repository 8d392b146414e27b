<?php

declare(strict_types=1);

namespace Tests\App;

use PHPUnit\Framework\TestCase;
use Tests\Lane;

final class BuildTest extends TestCase
{
    public function test_what_is_committed_in_public_build_is_what_the_sources_give(): void
    {
        $root = dirname(__DIR__, 2);
        $fresh = "$root/".Lane::folder().'/build';
        exec('cd '.escapeshellarg($root).' && SPRING_BUILD='.escapeshellarg($fresh).' npx --no-install vite build 2>&1', $output, $code);
        self::assertSame(0, $code, implode("\n", $output));
        self::assertSame($this->files($fresh), $this->files("$root/public/build"), 'Run npx vite build and commit public/build.');
    }

    /**
     * @return array<string, string> hash by name
     */
    private function files(string $folder): array
    {
        $files = [];
        foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator($folder, \FilesystemIterator::SKIP_DOTS)) as $file) {
            if ($file instanceof \SplFileInfo) {
                $files[substr($file->getPathname(), strlen($folder))] = (string) hash_file('sha256', $file->getPathname());
            }
        }
        ksort($files);

        return $files;
    }
}
