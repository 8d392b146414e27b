<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter;

enum TokenKind
{
    case Name;
    case Literal;
    case Mark;
    case End;
}
