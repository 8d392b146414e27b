<?php

declare(strict_types=1);

namespace DeepSpring\OData;

/**
 * Versions of the protocol, as far as they differ for who reads and writes. 4.0 and 4.01 are one: what
 * 4.01 adds is optional in requests.
 */
enum ODataVersion: int
{
    case V2 = 2;
    case V3 = 3;
    case V4 = 4;

    /**
     * Of a version as headers and documents write it ("4.01", "2.0;", "1.0"); null when it is none.
     */
    public static function read(string $text): ?self
    {
        return preg_match('/^\s*([1-4])\.\d+/', $text, $part) === 1 ? self::from(max(2, (int) $part[1])) : null;
    }

    public function isV4(): bool
    {
        return $this === self::V4;
    }

    /**
     * Headers of every request (OData 4.01 part 1 §8.2; OData 2 and 3 [Overview] §3).
     *
     * @return array<string, string>
     */
    public function headers(): array
    {
        return match ($this) {
            self::V2 => ['maxdataserviceversion' => '2.0'],
            self::V3 => ['maxdataserviceversion' => '3.0'],
            self::V4 => ['odata-maxversion' => '4.01'],
        };
    }

    /**
     * @param  bool  $longNumbers  whether Int64 and Decimal should come as text (OData JSON 4.01 §3.2)
     */
    public function accept(bool $longNumbers = false): string
    {
        return match ($this) {
            self::V2 => 'application/json',
            self::V3 => 'application/json;odata=verbose',
            self::V4 => 'application/json;odata.metadata=minimal'.($longNumbers ? ';IEEE754Compatible=true' : ''),
        };
    }
}
