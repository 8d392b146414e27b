<?php

declare(strict_types=1);

namespace App\Transport;

/**
 * What curl says while it works, for what its figures lack: the head as it left, the TLS version.
 * It is written to a nameless file that vanishes with this object, since it holds secrets.
 */
final readonly class Log
{
    /** @var resource */
    public mixed $stream;

    public function __construct()
    {
        $this->stream = tmpfile() ?: throw new \RuntimeException('No temporary file can be made.');
    }

    /**
     * Of the last request, when several were sent because of redirects.
     */
    public function head(): ?string
    {
        $lines = null;
        $open = false;
        foreach (explode("\n", $this->text()) as $line) {
            if (preg_match('/^> [A-Z]+ \S+ HTTP\/[\d.]+\s*$/D', $line) === 1) {
                $lines = [rtrim(substr($line, 2))];
                $open = true;
            } elseif ($open && trim($line) !== '') {
                $lines[] = rtrim(str_starts_with($line, '> ') ? substr($line, 2) : $line);
            } else {
                $open = false;
            }
        }

        return $lines === null ? null : implode("\n", $lines)."\n";
    }

    public function tlsVersion(): string
    {
        return preg_match_all('/^\* SSL connection using (TLSv?[\d.]+|SSLv\d)/m', $this->text(), $found) > 0 ? end($found[1]) : '';
    }

    private function text(): string
    {
        rewind($this->stream);

        return (string) stream_get_contents($this->stream);
    }
}
