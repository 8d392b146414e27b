<?php

declare(strict_types=1);

namespace App\Local\Command;

use App\Local\Child;
use App\Local\Foreground;
use App\Local\Instance;
use App\Local\MixedSuites;
use App\Local\Ports;
use App\Local\SideBySide;
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

    /** That of the scripts in the browser, which are checked and tested without one. */
    private const SCRIPTS = 'scripts';

    /** Processes that work through the suites. They wait for about half of their time, so there is one more than processors. */
    private const LANES = 3;

    /** Files after which a process makes way for a new one, so that what tests leave behind does not add up. */
    private const BATCH = 8;

    /** Of each of them. */
    private const MEMORY = '400M';

    public function __construct(private readonly string $root)
    {
        parent::__construct('test');
    }

    protected function configure(): void
    {
        $this->setDescription('Installs what the tests need and runs the suites')
            ->addArgument('suite', InputArgument::OPTIONAL, 'core, app, browser or scripts; all of them without it')
            ->addOption('filter', null, InputOption::VALUE_REQUIRED, 'Only tests whose name matches');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $suite = $input->getArgument('suite');
        if ($suite !== null && ! in_array($suite, [...self::SUITES, self::SCRIPTS], true)) {
            $output->writeln('The suites are core, app, browser and scripts.');

            return 2;
        }
        $filter = $input->getOption('filter');
        $filter = is_string($filter) ? ['--filter', $filter] : [];
        if ($suite === self::SCRIPTS || ! is_string($suite) && $filter === []) {
            $code = $this->scripts($output);
            if ($code !== 0 || is_string($suite)) {
                return $code;
            }
        }
        $suites = is_string($suite) ? [$suite] : self::SUITES;

        return $suites === ['core'] ? $this->suites($suites, $filter, []) : $this->inLanes($suites, $filter, $output);
    }

    /**
     * @param  list<string>  $suites
     * @param  list<string>  $filter
     */
    private function inLanes(array $suites, array $filter, OutputInterface $output): int
    {
        $say = static function (string $text) use ($output): void {
            $output->writeln($text);
        };
        $lanes = $this->lanes($say);
        /** @var Child|null $driver */
        $driver = null;
        pcntl_async_signals(true);
        foreach ([SIGINT, SIGTERM] as $signal) {
            pcntl_signal($signal, static function () use ($lanes, &$driver): void {
                $driver?->stop(2);
                array_map(static fn (Instance $lane) => $lane->stop(), $lanes);
                exit(130);
            });
        }
        try {
            $this->nodeModules($output);
            $env = [];
            SideBySide::run(array_values(array_map(static fn (Instance $lane): \Closure => static function () use ($lane, $suites): void {
                $lane->database();
                if (in_array('browser', $suites, true)) {
                    $lane->artisan(['migrate:fresh', '--force'], 'The test database cannot be emptied');
                    $lane->application();
                }
            }, $lanes)));
            if (in_array('browser', $suites, true)) {
                $port = Ports::freeFrom(8540)->web;
                $driver = Child::start('driver', ['chromedriver', "--port=$port", '--silent'], [], "{$lanes[1]->folder}/log/chromedriver.log", $this->root);
                Ports::await($port, 'ChromeDriver');
                $env['SPRING_DRIVER'] = "http://127.0.0.1:$port";
            }
            $file = "{$lanes[1]->folder}/lanes.json";
            file_put_contents($file, json_encode(array_map(fn (Instance $lane): array => $lane->env + ['SPRING_LANE_FOLDER' => substr($lane->folder, strlen($this->root) + 1)], $lanes), JSON_THROW_ON_ERROR));
            chmod($file, 0600);

            return $this->suites($suites, $filter, $env + ['SPRING_LANES' => $file]);
        } finally {
            $driver?->stop(2);
            foreach ($lanes as $lane) {
                $lane->stop();
            }
        }
    }

    /**
     * An instance for each process that works through the suites.
     *
     * @param  \Closure(string): void  $say
     * @return array<int, Instance> by the number of the process
     */
    private function lanes(\Closure $say): array
    {
        $lanes = [];
        foreach (range(1, self::LANES) as $number) {
            $var = $number === 1 ? 'var/test' : "var/test-$number";
            State::of("$this->root/$var")?->stop();
            $lanes[$number] = new Instance($this->root, $var, Ports::freeFrom(8440 + 2000 * ($number - 1)), $say);
        }

        return $lanes;
    }

    /**
     * @param  list<string>  $suites
     * @param  list<string>  $filter
     * @param  array<string, string>  $env
     */
    private function suites(array $suites, array $filter, array $env): int
    {
        $mixed = "$this->root/var/mixed-suites.xml";
        is_dir("$this->root/var") || mkdir("$this->root/var", 0711);
        (new MixedSuites($this->root))->write($suites, $mixed);
        $command = [
            PHP_BINARY, '-d', 'memory_limit=512M', "$this->root/vendor/bin/paratest", '--runner', 'WrapperRunner', '--processes', (string) self::LANES,
            "--passthru-php='-d' 'memory_limit=".self::MEMORY."'", '--no-coverage', '--display-notices', '--display-warnings', '--max-batch-size', (string) self::BATCH, '--configuration', $mixed, '--testsuite', MixedSuites::NAME, ...$filter,
        ];

        return Foreground::run($command, $this->root, $env);
    }

    /**
     * The scripts of the pages: ESLint, and node's own runner.
     */
    private function scripts(OutputInterface $output): int
    {
        $this->nodeModules($output);
        foreach ([["$this->root/node_modules/.bin/eslint", '--max-warnings', '0', '.'], ['node', '--test', '--test-reporter=dot', 'tests/JavaScript/']] as $command) {
            $code = Foreground::run($command, $this->root);
            if ($code !== 0) {
                return $code;
            }
        }

        return 0;
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
