<?php

declare(strict_types=1);

namespace App\Local\Command;

use App\Local\DatabaseAccounts;
use App\Local\EnvFile;
use App\Local\Trouble;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

final class DatabaseSql extends Command
{
    public function __construct(private readonly string $root)
    {
        parent::__construct('database-sql');
    }

    protected function configure(): void
    {
        $this->setDescription('Prints the statements that make schemas and accounts, for a MariaDB that stands elsewhere');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $env = array_filter((new EnvFile("$this->root/.env"))->read(), static fn (string $value): bool => $value !== '');
        foreach (['DB_APP_PASSWORD', 'DB_KEEPER_PASSWORD', 'DB_BACKUP_PASSWORD'] as $name) {
            $env[$name] = getenv($name) ?: $env[$name] ?? throw new Trouble("$name has to stand in .env or in the environment: it is the password that the account gets.");
            if (preg_match("/['\\\\]/", $env[$name]) === 1) {
                throw new Trouble("$name must not hold a quote or a backslash.");
            }
        }
        $env['DB_CLIENT_HOST'] = getenv('DB_CLIENT_HOST') ?: $env['DB_CLIENT_HOST'] ?? '%';
        $output->write(DatabaseAccounts::sql($env, '', [$env['DB_SCHEMA'] ?? 'deep_spring']), false, OutputInterface::OUTPUT_RAW);

        return 0;
    }
}
