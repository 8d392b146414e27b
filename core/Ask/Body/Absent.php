<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

/**
 * In place of a node that is not sent.
 */
enum Absent
{
    case It;
}
