<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

/**
 * Something that only the validator of the whole language can judge.
 */
final class UnsureOfSchema extends \Exception
{
}
