<?php

declare(strict_types=1);

namespace App\Queries;

use Illuminate\Support\Facades\File;

/**
 * Where results lie that were written to files, for an hour.
 */
final class ExportFiles
{
    /** Seconds. */
    public const STAYS = 3600;

    public static function path(string $name): string
    {
        is_dir(self::folder()) || @mkdir(self::folder(), 0700, true);

        return self::folder()."/$name";
    }

    public static function tidy(): void
    {
        foreach (glob(self::folder().'/*') ?: [] as $path) {
            if (filemtime($path) < time() - self::STAYS) {
                is_dir($path) ? File::deleteDirectory($path) : @unlink($path);
            }
        }
    }

    private static function folder(): string
    {
        return base_path(config('spring.var').'/tmp/exports');
    }
}
