<?php

declare(strict_types=1);

namespace DeepSpring\Increment;

/**
 * How a moment is written for an API.
 */
final readonly class SentMoment
{
    /** name → in words */
    public const FORMATS = ['iso' => '2031-01-15T06:00:00Z', 'iso-local' => '2031-01-15T06:00:00', 'date' => '2031-01-15', 'epoch' => 'seconds since 1970', 'epoch-ms' => 'milliseconds since 1970', 'rfc2822' => 'Wed, 15 Jan 2031 06:00:00 +0000'];

    public function __construct(public string $format = 'iso', public string $zone = 'UTC')
    {
    }

    /**
     * Never later than the moment itself: what the format cannot hold is cut.
     */
    public function written(\DateTimeImmutable $moment): string
    {
        $local = $moment->setTimezone(new \DateTimeZone($this->zone));
        $fraction = rtrim($local->format('u'), '0');
        $seconds = 'Y-m-d\TH:i:s'.($fraction === '' ? '' : '.').$fraction;

        return match ($this->format) {
            'iso-local' => $local->format($seconds),
            'date' => $local->format('Y-m-d'),
            'epoch' => $local->format('U'),
            'epoch-ms' => $local->format('U').substr($local->format('u'), 0, 3),
            'rfc2822' => $local->format(\DateTimeInterface::RFC2822),
            default => $local->format($seconds).($this->zone === 'UTC' ? 'Z' : $local->format('P')),
        };
    }
}
