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
     * The commands of a text, in their order; what follows a pipe or goes to a file is left out.
     *
     * @return list<ShellCommand>
     *
     * @throws UnreadableCommand
     */
    public function commands(string $text): array;
}
