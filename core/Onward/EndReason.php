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
    case MaxPages = 'max-pages';
    case MaxRecords = 'max-records';
}
