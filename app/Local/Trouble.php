<?php

declare(strict_types=1);

namespace App\Local;

/**
 * Something that a person has to know and mend; the message is the whole sentence.
 */
final class Trouble extends \RuntimeException
{
}
