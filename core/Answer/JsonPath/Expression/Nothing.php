<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

/**
 * The absence of a value, which is not null (RFC 9535 §2.4.1).
 */
enum Nothing
{
    case Here;
}
