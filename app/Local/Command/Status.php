<?php

declare(strict_types=1);

namespace App\Local\Command;

use App\Local\State;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

final class Status extends Command
{
    public function __construct(private readonly string $root)
    {
        parent::__construct('status');
    }

    protected function configure(): void
    {
        $this->setDescription('Says what runs, since when, on which port, and the versions');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $state = State::of("$this->root/var");
        if ($state === null || ! $state->isRunning()) {
            $output->writeln($state === null ? 'Not running. Start with ./spring up.' : 'It ended without cleaning up. ./spring up or ./spring down does that.');
        } else {
            $output->writeln(sprintf('Running at http://127.0.0.1:%d since %s (%s)', $state->port, date('Y-m-d H:i:s', $state->since), $state->ready ? 'ready' : 'starting'));
            foreach ($state->children as $child) {
                $port = ['web' => 0, 'stand-ins' => 1, 'private stand-ins' => 2, 'database' => 3][$child->name] ?? null;
                $output->writeln(sprintf('  %-18s process %-7d %-10s %s', $child->name, $child->pid, $child->isAlive() ? 'runs' : 'has ended', $port === null ? '' : 'port '.($state->port + $port)));
            }
        }
        $output->writeln('PHP '.PHP_VERSION.', Laravel '.\Illuminate\Foundation\Application::VERSION.', '.trim((string) shell_exec('{ /usr/sbin/mariadbd --version || mariadbd --version; } 2>/dev/null | sed -E "s/.*Ver ([0-9.]+).*/MariaDB \1/"')));
        foreach (["$this->root/var/keys/secrets.key", "$this->root/.env"] as $file) {
            if (is_file($file) && (fileperms($file) & 0077) !== 0) {
                $output->writeln("Careful: others on this machine can read $file. Mend it with: chmod 600 $file");
            }
        }

        return $state !== null && $state->isRunning() ? 0 : 1;
    }
}
