<?php

declare(strict_types=1);

namespace DeepSpring\Expression;

enum ExpressionTokenKind
{
    case Number;
    case Text;
    case Name;
    /** and, or, not, in, true, false, null */
    case Word;
    case Mark;
    case End;
}
