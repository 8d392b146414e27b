<?php

declare(strict_types=1);

namespace DeepSpring\Note;

/**
 * A text that is no secret to sign with.
 */
final class UnusableKey extends \InvalidArgumentException
{
}
