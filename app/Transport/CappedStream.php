<?php

declare(strict_types=1);

namespace App\Transport;

use GuzzleHttp\Psr7\StreamDecoratorTrait;
use GuzzleHttp\Psr7\Utils;
use Psr\Http\Message\StreamInterface;

/**
 * Takes a body up to a number of bytes (after decompression), then refuses more, which makes curl
 * end the transfer.
 */
final class CappedStream implements StreamInterface
{
    use StreamDecoratorTrait;

    private StreamInterface $stream;

    private int $taken = 0;

    public bool $overflowed = false;

    public function __construct(private readonly int $most)
    {
        $this->stream = Utils::streamFor('');
    }

    public function write($string): int
    {
        $this->taken += strlen($string);
        if ($this->taken > $this->most) {
            $this->overflowed = true;

            return 0;
        }

        return $this->stream->write($string);
    }
}
