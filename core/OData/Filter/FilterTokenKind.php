<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter;

enum FilterTokenKind
{
    case Name;
    case Literal;
    case Mark;
    case End;
}
