<?php

declare(strict_types=1);

use App\Local\Command;
use App\Local\Handover;
use App\Local\Trouble;
use Symfony\Component\Console\Application;
use Symfony\Component\Console\Output\ConsoleOutput;

/*
 * Where ./spring arrives once PHP and the packages are there.
 */
require __DIR__.'/../../vendor/autoload.php';

$root = dirname(__DIR__, 2);
$words = array_slice($argv, 1);

if (in_array($words[0] ?? '', Handover::COMMANDS, true)) {
    (new Handover($root))->to($words);
}

$application = new Application('Deep Spring');
$application->setAutoExit(false);
$application->setCatchExceptions(false);
$application->addCommands([
    new Command\Up($root), new Command\Down($root), new Command\Status($root),
    new Command\Serve($root), new Command\DatabaseSql($root),
    new Command\Backup($root), new Command\Restore($root),
    new Command\Test($root), new Command\Shots($root), new Command\Bench($root),
]);

$output = new ConsoleOutput;
try {
    exit($application->run(null, $output));
} catch (Trouble $trouble) {
    $output->getErrorOutput()->writeln($trouble->getMessage(), ConsoleOutput::OUTPUT_RAW);
    exit(1);
} catch (Symfony\Component\Console\Exception\ExceptionInterface $wrong) {
    $output->getErrorOutput()->writeln($wrong->getMessage(), ConsoleOutput::OUTPUT_RAW);
    exit(2);
} catch (ErrorException|Symfony\Component\Process\Exception\ExceptionInterface $failed) {
    // What a system call said, where nobody foresaw it.
    $output->getErrorOutput()->writeln("This did not work: {$failed->getMessage()}", ConsoleOutput::OUTPUT_RAW);
    exit(1);
}
