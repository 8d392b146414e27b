<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Value\Kind\Family;

/**
 * The styles of paging there are. A new one is a class that implements `PagingStyle`, and a line here.
 */
final class Pagers
{
    private const ALL = [
        SinglePage::class, PageNumbers::class, Offsets::class, Cursor::class, NextLink::class, LinkHeader::class, Ranges::class, Partitions::class, Windows::class,
    ];

    /** @var Family<PagingStyle>|null */
    private static ?Family $family = null;

    /**
     * @return Family<PagingStyle>
     */
    public static function family(): Family
    {
        return self::$family ??= new Family(PagingStyle::class, self::ALL);
    }
}
