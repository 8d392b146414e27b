<?php

declare(strict_types=1);

namespace App\Local\Command;

use App\Local\Child;
use App\Local\Instance;
use App\Local\Ports;
use App\Local\State;
use App\Local\Trouble;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Helper\QuestionHelper;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\ConsoleOutputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\Console\Question\ConfirmationQuestion;
use Symfony\Component\Process\Process;

final class Up extends Command
{
    private bool $stopAsked = false;

    public function __construct(private readonly string $root)
    {
        parent::__construct('up');
    }

    protected function configure(): void
    {
        $this->setDescription('Sets up what is missing and starts the application with demo data')
            ->addOption('port', null, InputOption::VALUE_REQUIRED, 'Port of the web server; the next three are used too', '8400')
            ->addOption('detach', null, InputOption::VALUE_NONE, 'Leave it running and come back')
            ->addOption('fresh', null, InputOption::VALUE_NONE, 'Drop its own data first')
            ->addOption('yes', null, InputOption::VALUE_NONE, 'Do not ask');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $port = $input->getOption('port');
        if (! is_string($port) || ! ctype_digit($port)) {
            $output->writeln('--port takes a number.');

            return 2;
        }
        $ports = Ports::from((int) $port);
        $state = State::of("$this->root/var");
        if ($state?->isRunning() === true) {
            throw new Trouble("It runs already, at http://127.0.0.1:{$state->port}. Stop it with ./spring down.");
        }
        $state?->stop();
        if ($input->getOption('fresh') === true && ! $this->dropData($input, $output)) {
            return 1;
        }

        return $input->getOption('detach') === true ? $this->detach($ports, $output) : $this->stay($ports, $output);
    }

    private function stay(Ports $ports, OutputInterface $output): int
    {
        $begun = microtime(true);
        foreach ([SIGINT, SIGTERM, SIGHUP] as $signal) {
            pcntl_signal($signal, function (): void {
                $this->stopAsked = true;
            });
        }
        pcntl_async_signals(true);
        $instance = new Instance($this->root, 'var', $ports, static function (string $text) use ($output): void {
            $output->writeln($text);
        });
        try {
            $instance->database();
            if (! $this->stopAsked) {
                $instance->application();
            }
            $instance->writeState(true);
            if (! $this->stopAsked) {
                $this->announce($instance, $output, microtime(true) - $begun);
            }
            while (! $this->stopAsked) {
                usleep(300_000);
                $instance->tend();
            }
            $output->writeln("\nStopping …");
        } finally {
            $instance->stop();
        }

        return 0;
    }

    private function announce(Instance $instance, OutputInterface $output, float $took): void
    {
        $output->writeln(sprintf("\nDeep Spring is ready after %.1f s.\n", $took));
        $output->writeln("  Address    http://127.0.0.1:{$instance->ports->web}");
        $output->writeln("  Builder    ines@saltmarsh.example    {$instance->env['SPRING_DEMO_PASSWORD']}");
        $output->writeln("  Analyst    tomas@saltmarsh.example   {$instance->env['SPRING_DEMO_PASSWORD']}");
        $output->writeln("  Stand-ins  http://127.0.0.1:{$instance->ports->standins} and, private, :{$instance->ports->private}");
        $output->writeln('  Logs       var/log/');
    }

    /**
     * Runs the same command in a session of its own and waits until it is ready.
     */
    private function detach(Ports $ports, OutputInterface $output): int
    {
        $log = "$this->root/var/log/up.log";
        if (! is_dir(dirname($log)) && ! @mkdir(dirname($log), 0700, true)) {
            throw new Trouble("$log cannot be written: is the disk full, or the folder not yours?");
        }
        file_put_contents($log, '');
        $child = Child::start('spring', [PHP_BINARY, __DIR__.'/../spring.php', 'up', '--port', (string) $ports->web], [], $log, $this->root);
        while ($child->isAlive()) {
            usleep(50_000);
            $state = State::of("$this->root/var");
            if ($state !== null && $state->ready && $state->supervisor->pid === $child->pid) {
                $output->write((string) file_get_contents($log));
                $output->writeln('  Stop it    ./spring down');

                return 0;
            }
        }
        $lines = array_values(array_filter(array_map(trim(...), (array) file($log))));
        $this->errors($output)->writeln($lines === [] ? "It ended without a word; see $log." : (string) end($lines));

        return 1;
    }

    private function dropData(InputInterface $input, OutputInterface $output): bool
    {
        if ($input->getOption('yes') !== true) {
            $helper = new QuestionHelper;
            if (! $helper->ask($input, $this->errors($output), new ConfirmationQuestion('Drop all data of this application: sources, tables, queries, accounts? [y/N] ', false))) {
                $this->errors($output)->writeln('Nothing was dropped.');

                return false;
            }
        }
        foreach (['mariadb', 'keys', 'standins', 'tmp', 'views'] as $part) {
            (new Process(['rm', '-rf', "$this->root/var/$part"]))->mustRun();
        }
        @unlink("$this->root/.env");

        return true;
    }

    private function errors(OutputInterface $output): OutputInterface
    {
        return $output instanceof ConsoleOutputInterface ? $output->getErrorOutput() : $output;
    }
}
