<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

enum ColumnSource: string
{
    case From = 'from';
    case Parent = 'parent';
    case Position = 'position';
    case Input = 'input';
}
