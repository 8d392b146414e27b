<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

enum Place: string
{
    case Path = 'path';
    case Query = 'query';
    case Header = 'header';
    case Cookie = 'cookie';
    case Body = 'body';
}
