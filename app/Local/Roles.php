<?php

declare(strict_types=1);

namespace App\Local;

/**
 * The commands of the processes that work beside the web server.
 */
final readonly class Roles
{
    /**
     * Of a worker: records are made and given back page by page, which takes a tenth less where memory comes in
     * large pages (zend_alloc.c, with `madvise` of Linux; without it nothing happens).
     */
    public const WORKER = ['USE_ZEND_ALLOC_HUGE_PAGES' => '1'];

    /**
     * A worker ends by itself after a while and between two jobs, and is started again; a run may
     * take as long as it needs.
     *
     * @return list<string>
     */
    public static function worker(string $root): array
    {
        return self::php("$root/artisan", 'queue:work', '--sleep=0.3', '--tries=1', '--timeout=0', '--max-time=3600', '--memory=256');
    }

    /**
     * @return list<string>
     */
    public static function scheduler(string $root): array
    {
        return self::php("$root/artisan", 'schedule:work', '--quiet');
    }

    /**
     * @return list<string>
     */
    public static function php(string ...$arguments): array
    {
        return [PHP_BINARY, '-d', 'memory_limit=512M', '-d', 'opcache.enable_cli=1', ...array_values($arguments)];
    }
}
