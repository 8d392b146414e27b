<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Shell;

use DeepSpring\Describe\UnreadableCommand;

/**
 * One way of writing a command line.
 */
interface Dialect
{
    /**
     * The words of each command of a text, in their order; what follows a pipe or goes to a file is
     * left out.
     *
     * @return list<list<string>>
     *
     * @throws UnreadableCommand
     */
    public function commands(string $text): array;
}
