<?php

declare(strict_types=1);

namespace App\Local\Command;

use App\Local\Child;
use App\Local\EnvFile;
use App\Local\MariaDb;
use App\Local\State;
use App\Local\Trouble;
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
        $output->writeln(match (true) {
            $state === null => 'Not running. Start with ./spring up.',
            $state->isRunning() => sprintf('Running at %s since %s (%s)', $this->address($state), date('Y-m-d H:i:s', $state->since), $state->ready ? 'ready' : 'starting'),
            $state->left() === [] => 'It ended without cleaning up. ./spring up or ./spring down does that.',
            default => 'The supervisor has ended, and left running: '.implode(', ', array_map(static fn (Child $child): string => $child->name, $state->left())).'. Nothing that ends is started again. ./spring down stops them, ./spring up begins anew.',
        });
        foreach ($state === null || $state->left() === [] ? [] : $state->children as $child) {
            $port = ['web' => 0, 'stand-ins' => 1, 'private stand-ins' => 2, 'database' => 3][$child->name] ?? null;
            $output->writeln(sprintf('  %-18s process %-7d %-10s %s', $child->name, $child->pid, $child->isAlive() ? 'runs' : 'has ended', $port === null ? '' : 'port '.($state->port + $port)));
        }
        $output->writeln('PHP '.PHP_VERSION.', Laravel '.\Illuminate\Foundation\Application::VERSION.', '.trim((string) shell_exec('{ /usr/sbin/mariadbd --version || mariadbd --version; } 2>/dev/null | sed -E "s/.*Ver ([0-9.]+).*/MariaDB \1/"')).', '.trim((string) shell_exec('{ /usr/sbin/nginx -v || nginx -v; } 2>&1 | sed -E "s/.*nginx.([0-9.]+).*/nginx \1/"')));
        $careful = [...$this->readableFiles(), ...$this->openDoors($state)];
        foreach ($careful as $sentence) {
            $output->writeln("Careful: $sentence");
        }

        return $state !== null && $state->isRunning() && $careful === [] ? 0 : 1;
    }

    private function address(State $state): string
    {
        return (new EnvFile("$this->root/.env"))->read()['APP_URL'] ?? "http://127.0.0.1:{$state->port}";
    }

    /**
     * @return list<string>
     */
    private function readableFiles(): array
    {
        $careful = [];
        foreach (["$this->root/var/keys/secrets.key", "$this->root/.env"] as $file) {
            if (is_file($file) && (fileperms($file) & 0077) !== 0) {
                $careful[] = "others on this machine can read $file. Mend it with: chmod 600 $file";
            }
        }

        return $careful;
    }

    /**
     * @return list<string>
     */
    private function openDoors(?State $state): array
    {
        $database = array_values(array_filter($state->children ?? [], static fn (Child $child): bool => $child->name === 'database' && $child->isAlive()))[0] ?? null;
        if ($database === null || $state === null) {
            return [];
        }
        $careful = [];
        if (fileowner("/proc/{$database->pid}") === 0) {
            $careful[] = 'MariaDB runs as root. Stop it with ./spring down, and start it again.';
        }
        try {
            $open = (new MariaDb("$this->root/var", $state->port + 3, []))->openDoors();

            return $open === [] ? $careful : [...$careful, 'the database lets in without a password: '.implode(', ', $open).'. ./spring down and ./spring up close that.'];
        } catch (Trouble $trouble) {
            return [...$careful, $trouble->getMessage()];
        }
    }
}
