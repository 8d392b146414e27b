<?php

declare(strict_types=1);

namespace App\Local\Command;

use App\Local\Child;
use App\Local\Instance;
use App\Local\Ports;
use App\Local\State;
use App\Local\Trouble;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * Runs the suites against an instance of their own, beside whatever else runs.
 */
final class Test extends Command
{
    private const SUITES = ['core', 'app', 'browser'];

    public function __construct(private readonly string $root)
    {
        parent::__construct('test');
    }

    protected function configure(): void
    {
        $this->setDescription('Installs what the tests need and runs the suites')
            ->addArgument('suite', InputArgument::OPTIONAL, 'core, app or browser; all of them without it')
            ->addOption('filter', null, InputOption::VALUE_REQUIRED, 'Only tests whose name matches');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $suite = $input->getArgument('suite');
        if ($suite !== null && ! in_array($suite, self::SUITES, true)) {
            $output->writeln('The suites are core, app and browser.');

            return 2;
        }
        $suites = is_string($suite) ? [$suite] : self::SUITES;
        $filter = $input->getOption('filter');
        $filter = is_string($filter) ? ['--filter', $filter] : [];

        if ($suites === ['core']) {
            return $this->phpunit($suites, $filter, []);
        }
        State::of("$this->root/var/test")?->stop();
        $instance = new Instance($this->root, 'var/test', Ports::freeFrom(8440), static function (string $text) use ($output): void {
            $output->writeln($text);
        });
        pcntl_async_signals(true);
        foreach ([SIGINT, SIGTERM] as $signal) {
            pcntl_signal($signal, static function () use ($instance): void {
                $instance->stop();
                exit(130);
            });
        }
        $driver = null;
        try {
            $this->nodeModules($output);
            $instance->database();
            $env = $instance->env;
            if (in_array('browser', $suites, true)) {
                $instance->artisan(['migrate:fresh', '--force'], 'The test database cannot be emptied');
                $instance->application();
                $port = Ports::freeFrom(8540)->web;
                $driver = Child::start('driver', ['chromedriver', "--port=$port", '--silent'], [], "$instance->folder/log/chromedriver.log", $this->root);
                Ports::await($port, 'ChromeDriver');
                $env['SPRING_DRIVER'] = "http://127.0.0.1:$port";
            }

            return $this->phpunit($suites, $filter, $env);
        } finally {
            $driver?->stop(2);
            $instance->stop();
        }
    }

    /**
     * @param  list<string>  $suites
     * @param  list<string>  $filter
     * @param  array<string, string>  $env
     */
    private function phpunit(array $suites, array $filter, array $env): int
    {
        $process = proc_open([PHP_BINARY, '-d', 'memory_limit=1G', "$this->root/vendor/bin/phpunit", '--testsuite', implode(',', $suites), ...$filter], [STDIN, STDOUT, STDERR], $pipes, $this->root, $env + getenv());

        return is_resource($process) ? proc_close($process) : 1;
    }

    /**
     * What the build is checked with, the accessibility checker, and the document nobody here wrote.
     */
    private function nodeModules(OutputInterface $output): void
    {
        $sum = hash_file('sha256', "$this->root/package-lock.json");
        $mark = "$this->root/node_modules/.installed-for";
        if (is_file($mark) && file_get_contents($mark) === $sum) {
            return;
        }
        $output->writeln('Installing npm packages …');
        exec('cd '.escapeshellarg($this->root).' && npm install --no-save --no-audit --no-fund --loglevel=error 2>&1', $lines, $code);
        if ($code !== 0) {
            throw new Trouble('npm could not install the packages: '.implode(' ', array_slice($lines, -3)));
        }
        file_put_contents($mark, $sum);
    }
}
