<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

enum EndReason: string
{
    case Single = 'single';
    case EmptyPage = 'empty-page';
    case ShortPage = 'short-page';
    case NoMore = 'no-more';
    case NoNext = 'no-next';
    case Total = 'total';
    /** All partitions, all windows. */
    case All = 'all';
    /** 416, or a status that was set to mean it. */
    case PastEnd = 'past-end';
    /** 304: nothing changed since the last run. */
    case Unchanged = 'unchanged';
    case MaxPages = 'max-pages';
    case MaxRecords = 'max-records';
}
