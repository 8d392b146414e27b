<?php

declare(strict_types=1);

namespace DeepSpring\Value\Kind;

/**
 * A class that is one kind among others, such as a pager, an access scheme or a column type, and says
 * itself what it is called and which settings it has. The validator, the schema of source files, the
 * forms, the command line and the tables of the documentation are made from that.
 */
interface Declared
{
    public static function kind(): Kind;
}
