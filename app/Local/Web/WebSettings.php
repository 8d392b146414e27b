<?php

declare(strict_types=1);

namespace App\Local\Web;

/**
 * How the web server of an instance listens and how much it does at once.
 */
final readonly class WebSettings
{
    /**
     * @param  string  $folder  of the instance
     * @param  string  $address  it listens on
     * @param  int  $pages  processes that answer pages
     * @param  int  $slow  processes that answer what may take long
     * @param  array{string, string}|null  $certificate  files of the certificate and its key
     */
    public function __construct(
        public string $root,
        public string $folder,
        public string $address,
        public int $port,
        public int $pages = 8,
        public int $slow = 8,
        public ?array $certificate = null,
    ) {
    }

    /**
     * Where a pool listens. The path of a socket has at most some hundred characters.
     */
    public function socket(string $pool): string
    {
        $path = "{$this->folder}/run/$pool.sock";

        return strlen($path) <= 100 ? $path : sys_get_temp_dir().'/deep-spring-'.hash('xxh3', $this->folder)."/$pool.sock";
    }
}
