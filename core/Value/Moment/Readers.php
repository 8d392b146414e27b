<?php

declare(strict_types=1);

namespace DeepSpring\Value\Moment;

/**
 * The `read_as` of a source file → a reader.
 */
final class Readers
{
    public const NAMED = ['iso', 'epoch', 'epoch-ms', 'odata-v2', 'rfc2822'];

    /**
     * @throws UnusablePattern
     */
    public static function of(string $readAs): MomentReader
    {
        return match ($readAs) {
            'iso' => new Iso,
            'epoch' => new Epoch(false),
            'epoch-ms' => new Epoch(true),
            'odata-v2' => new ODataV2,
            'rfc2822' => new Mail,
            default => new Pattern($readAs),
        };
    }
}
