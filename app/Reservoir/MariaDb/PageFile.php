<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Reservoir\KeepFailed;

/**
 * Bodies of answers that are kept with the next commit, one after the other in a file.
 */
final class PageFile
{
    /** @var list<array{int, string, int}> number, media type, bytes */
    private array $pages = [];

    /** @var resource|null */
    private $handle = null;

    private string $path = '';

    /** The file that is being loaded. */
    private string $loading = '';

    private int $bytes = 0;

    /**
     * @param  int  $most  bytes of all of them
     * @param  \Closure(): string  $newPath
     */
    public function __construct(private readonly int $most, private readonly \Closure $newPath)
    {
    }

    /**
     * @return bool false when there are too many bytes now
     *
     * @throws KeepFailed
     */
    public function add(int $number, string $type, string $body): bool
    {
        $this->bytes += strlen($body);
        if ($this->bytes > $this->most) {
            return false;
        }
        if ($this->handle === null) {
            $this->path = ($this->newPath)();
            $opened = @fopen($this->path, 'w');
            $this->handle = $opened === false ? null : $opened;
        }
        if ($this->handle === null || @fwrite($this->handle, $body) !== strlen($body)) {
            throw KeepFailed::because('Pages cannot be written to the disk of this server: is it full?');
        }
        $this->pages[] = [$number, substr($type, 0, 200), strlen($body)];

        return true;
    }

    /**
     * Hands out what came since the last time.
     *
     * @return array{table: string, file: string, pages: list<array{int, string, int}>, part: int}|null for the loader
     */
    public function hand(string $table): ?array
    {
        if ($this->handle === null) {
            return null;
        }
        fclose($this->handle);
        $this->handle = null;
        $this->loading = $this->path;
        $pages = $this->pages;
        $this->pages = [];

        return ['table' => $table, 'file' => $this->loading, 'pages' => $pages, 'part' => MariaDbKeptPages::PART];
    }

    /**
     * What was handed out is loaded.
     */
    public function loaded(): void
    {
        self::remove($this->loading);
        $this->loading = '';
    }

    public function clear(): void
    {
        if ($this->handle !== null) {
            fclose($this->handle);
            $this->handle = null;
        }
        self::remove($this->path);
        self::remove($this->loading);
        [$this->pages, $this->loading, $this->path] = [[], '', ''];
    }

    /**
     * The process that has taken the run over may have removed it in this moment.
     */
    private static function remove(string $file): void
    {
        if ($file !== '') {
            @unlink($file);
        }
    }
}
