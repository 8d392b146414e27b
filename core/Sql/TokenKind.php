<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

enum TokenKind
{
    /** A keyword, a function or a name without quotes. */
    case Word;

    /** A name in backticks. */
    case Name;

    case Text;
    case Number;

    /** `:house`, a value that is asked for. */
    case Parameter;

    case Sign;
}
