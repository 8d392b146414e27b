<?php

declare(strict_types=1);

namespace App\Transport;

final readonly class Limits
{
    public function __construct(
        /** Seconds for one attempt. */
        public int $timeout,
        /** Attempts for one request. */
        public int $tries,
        /** Bytes of a body after decompression. */
        public int $bytes,
        /** Whether redirects are followed to another origin, without anything that says who is asking. */
        public bool $crossOrigin = false,
        /** Whether a request that is not GET or HEAD may be sent again by itself. */
        public bool $repeatable = false,
        /** Whether the head as it left and the TLS version are recorded. */
        public bool $detailed = false,
        /** @var (\Closure(): bool)|null asked about once a second whether to give up */
        public ?\Closure $stopped = null,
        /** Bytes of a body above which it is left where it is, to be read as a stream. */
        public ?int $large = null,
        /** Whether a request whose tries are used up waits for the source to be back. */
        public bool $isPatient = true,
    ) {
    }

    public function repeatable(bool $repeatable): self
    {
        return new self($this->timeout, $this->tries, $this->bytes, $this->crossOrigin, $repeatable, $this->detailed, $this->stopped, $this->large, $this->isPatient);
    }
}
