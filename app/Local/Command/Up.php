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
use Symfony\Component\Console\Input\InputArgument;
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
            ->addOption('yes', null, InputOption::VALUE_NONE, 'Do not ask')
            ->addOption('no-demo', null, InputOption::VALUE_NONE, 'Begin empty, with a link for the first administrator')
            ->addOption('url', null, InputOption::VALUE_REQUIRED, 'The address that people use, where a proxy stands in front, like https://tables.saltmarsh.example')
            ->addOption('tls', null, InputOption::VALUE_REQUIRED, 'Serve https with this certificate (PEM) and the key that follows it')
            ->addArgument('key', InputArgument::OPTIONAL, 'The key of the certificate (PEM)')
            ->addOption('forget-secrets', null, InputOption::VALUE_NONE, 'Begin without the secrets that a lost key file had sealed');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $port = $input->getOption('port');
        if (! is_string($port) || ! ctype_digit($port)) {
            $output->writeln('--port takes a number.');

            return 2;
        }
        $ports = Ports::from((int) $port);
        foreach (['url' => UpOptions::address(...), 'tls' => UpOptions::certificate(...)] as $look) {
            $wrong = $look($input);
            if ($wrong !== null) {
                $this->errors($output)->writeln($wrong);

                return 2;
            }
        }
        $state = State::of("$this->root/var");
        if ($state?->isRunning() === true) {
            throw new Trouble("It runs already, at http://127.0.0.1:{$state->port}. Stop it with ./spring down.");
        }
        $state?->stop();
        if ($input->getOption('fresh') === true && ! $this->dropData($input, $output)) {
            return 1;
        }

        return $input->getOption('detach') === true ? $this->detach($input, $output) : $this->stay($ports, $input, $output);
    }

    private function stay(Ports $ports, InputInterface $input, OutputInterface $output): int
    {
        $options = UpOptions::of($input, $ports->web);
        $begun = microtime(true);
        foreach ([SIGINT, SIGTERM, SIGHUP] as $signal) {
            pcntl_signal($signal, function (): void {
                $this->stopAsked = true;
            });
        }
        pcntl_async_signals(true);
        $instance = new Instance($this->root, 'var', $ports, static function (string $text) use ($output): void {
            $output->writeln($text);
        }, $options->settings);
        if ($options->certificate !== null) {
            $instance->secure(...$options->certificate);
        }
        try {
            $instance->database();
            $said = $this->stopAsked ? [] : $instance->application($options->prepare);
            if (! $this->stopAsked) {
                $this->announce($instance, $said, $output, microtime(true) - $begun);
            }
            // Whoever waits for this reads what was printed before it.
            $instance->writeState(true);
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

    /**
     * @param  list<string>  $said  who can sign in
     */
    private function announce(Instance $instance, array $said, OutputInterface $output, float $took): void
    {
        $output->writeln(sprintf("\nDeep Spring is ready after %.1f s.\n", $took));
        $output->writeln("  Address        {$instance->env['APP_URL']}");
        if ($instance->env['APP_URL'] !== $instance->localAddress()) {
            $output->writeln("  On this host   {$instance->localAddress()}");
        }
        foreach ($said as $line) {
            $output->writeln("  $line", OutputInterface::OUTPUT_RAW);
        }
        $instance->hasDemo() && $output->writeln("  Stand-ins      http://127.0.0.1:{$instance->ports->standins} and, private, :{$instance->ports->private}");
        $output->writeln('  Logs           var/log/');
    }

    /**
     * The same command without --detach, in a process of its own.
     */
    private function detach(InputInterface $input, OutputInterface $output): int
    {
        $log = "$this->root/var/log/spring.log";
        if ((! is_dir(dirname($log)) && ! @mkdir(dirname($log), 0700, true)) || @file_put_contents($log, '') === false) {
            throw new Trouble("$log cannot be written: is the disk full, or the folder not yours?");
        }
        // What is printed holds links and passwords.
        chmod($log, 0600);
        $child = Child::start('spring', [PHP_BINARY, __DIR__.'/../spring.php', 'up', ...UpOptions::again($input)], [], $log, $this->root);
        while ($child->isAlive()) {
            usleep(50_000);
            $state = State::of("$this->root/var");
            if ($state !== null && $state->ready && $state->supervisor->pid === $child->pid) {
                $output->write((string) file_get_contents($log), false, OutputInterface::OUTPUT_RAW);
                $output->writeln('  Stop it        ./spring down');

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
        foreach (['mariadb', 'keys', 'standins', 'tmp', 'views', 'cache'] as $part) {
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
