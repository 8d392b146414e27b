<?php

declare(strict_types=1);

namespace App\Local\Command;

use App\Local\Foreground;
use App\Local\Instance;
use App\Local\Ports;
use App\Local\State;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

final class Bench extends Command
{
    private const ALL = ['ingest', 'flatten', 'pages', 'describe', 'answers', 'onward', 'odata', 'web', 'way-in', 'exact', 'ask', 'workspace', 'swapped', 'feeds', 'change', 'fresh'];

    /** What belongs to another one, and can be run by itself. */
    private const WITH = ['ask' => ['workspace', 'swapped']];

    public function __construct(private readonly string $root)
    {
        parent::__construct('bench');
    }

    protected function configure(): void
    {
        $this->setDescription('Runs the benchmarks')
            ->addArgument('name', InputArgument::OPTIONAL, implode(', ', self::ALL).'; all of them without it');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $name = $input->getArgument('name');
        if ($name !== null && ! in_array($name, self::ALL, true)) {
            $output->writeln('The benchmarks are '.implode(', ', self::ALL).'.');

            return 2;
        }
        State::of("$this->root/var/bench")?->stop();
        $instance = new Instance($this->root, 'var/bench', Ports::freeFrom(8600), static function (string $text): void {
            fwrite(STDERR, "$text\n");
        });
        try {
            $instance->database();
            $instance->prepare();
            foreach (is_string($name) ? [$name, ...self::WITH[$name] ?? []] : self::ALL as $one) {
                if (in_array($one, ['pages', 'describe', 'answers', 'web', 'way-in', 'feeds', 'change'], true)) {
                    $instance->artisan(['migrate:fresh', '--force'], 'The database cannot be emptied');
                    $instance->application();
                }
                $code = Foreground::run([...$instance->php("$this->root/bench/$one.php")], $this->root, $instance->env);
                if ($code !== 0) {
                    return $code;
                }
            }
        } finally {
            $instance->stop();
        }

        return 0;
    }
}
