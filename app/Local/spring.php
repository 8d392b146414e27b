<?php

declare(strict_types=1);

use App\Local\Command;
use App\Local\Handover;
use App\Local\Help;
use App\Local\Trouble;
use Symfony\Component\Console\Application;
use Symfony\Component\Console\Output\ConsoleOutput;

/*
 * Where ./spring arrives once PHP and the packages are there.
 */
require __DIR__.'/../../vendor/autoload.php';

$root = dirname(__DIR__, 2);
$words = array_slice($argv, 1);

$handover = new Handover($root);
$wantsHelp = in_array($words[0] ?? 'help', ['help', 'list', '--help', '-h'], true) || array_intersect(['--help', '-h'], $words) !== [];
if (! $wantsHelp && isset(Handover::COMMANDS[$words[0]])) {
    $handover->to($words);
}

$application = new Application('Deep Spring');
$application->setAutoExit(false);
$application->setCatchExceptions(false);
$application->addCommands([
    new Command\Up($root), new Command\Down($root), new Command\Status($root),
    new Command\Serve($root), new Command\DatabaseSql($root),
    new Command\Backup($root), new Command\Restore($root),
    new Command\Kinds, new Command\Docs($root),
    new Command\Test($root), new Command\Shots($root), new Command\Bench($root),
]);

$output = new ConsoleOutput;
$help = new Help($application, $handover);
$about = array_values(array_filter($words, static fn (string $word): bool => ! str_starts_with($word, '-') && ! in_array($word, ['help', 'list'], true)));
try {
    if ($wantsHelp) {
        $output->write($about === [] ? $help->all() : $help->of($about[0]), false, ConsoleOutput::OUTPUT_RAW);
        exit(0);
    }
    if (! $help->knows($words[0])) {
        $output->getErrorOutput()->writeln($help->unknown($words[0])->getMessage(), ConsoleOutput::OUTPUT_RAW);
        exit(2);
    }
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
