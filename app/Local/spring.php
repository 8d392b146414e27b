<?php

declare(strict_types=1);

use App\Local\Command;
use App\Local\Trouble;
use Symfony\Component\Console\Application;
use Symfony\Component\Console\Output\ConsoleOutput;

/*
 * Where ./spring arrives once PHP and the packages are there.
 */
require __DIR__.'/../../vendor/autoload.php';

$root = dirname(__DIR__, 2);
$words = array_slice($argv, 1);
$handedOver = ['import' => 'spring:import', 'export' => 'spring:export', 'try' => 'spring:try', 'refresh' => 'spring:refresh', 'query' => 'spring:query', 'allow' => 'spring:allow', 'environment' => 'spring:environment', 'rotate-key' => 'spring:rotate-key', 'versions' => 'spring:versions', 'runs' => 'spring:runs', 'pace' => 'spring:pace', 'odata' => 'spring:odata'];

if (isset($handedOver[$words[0] ?? ''])) {
    if (! is_file("$root/.env")) {
        fwrite(STDERR, "Nothing is set up here yet. Start with ./spring up.\n");
        exit(1);
    }
    pcntl_exec(PHP_BINARY, ['-d', 'memory_limit=1G', '-d', 'opcache.enable_cli=1', "$root/artisan", $handedOver[$words[0]], ...array_slice($words, 1)]);
}

$application = new Application('Deep Spring');
$application->setAutoExit(false);
$application->setCatchExceptions(false);
$application->addCommands([
    new Command\Up($root), new Command\Down($root), new Command\Status($root),
    new Command\Test($root), new Command\Shots($root), new Command\Bench($root),
]);

$output = new ConsoleOutput;
try {
    exit($application->run(null, $output));
} catch (Trouble $trouble) {
    $output->getErrorOutput()->writeln($trouble->getMessage());
    exit(1);
} catch (Symfony\Component\Console\Exception\ExceptionInterface $wrong) {
    $output->getErrorOutput()->writeln($wrong->getMessage());
    exit(2);
}
