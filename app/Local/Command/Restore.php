<?php

declare(strict_types=1);

namespace App\Local\Command;

use App\Local\Backup\Passphrase;
use App\Local\Backup\Restoring;
use App\Local\Ports;
use App\Local\State;
use App\Local\Trouble;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

final class Restore extends Command
{
    public function __construct(private readonly string $root)
    {
        parent::__construct('restore');
    }

    protected function configure(): void
    {
        $this->setDescription('Puts a backup into an empty place')
            ->addArgument('file', InputArgument::REQUIRED, 'The file that backup wrote')
            ->addOption('port', null, InputOption::VALUE_REQUIRED, 'Port that the application will use; its database uses the third after it', '8400')
            ->addOption('passphrase-file', null, InputOption::VALUE_REQUIRED, 'The passphrase that it was sealed with; or SPRING_BACKUP_PASSPHRASE');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $state = State::of("$this->root/var");
        if ($state?->isRunning() === true || $state !== null && $state->left() !== []) {
            throw new Trouble('Something runs here. Stop it with ./spring down; a backup goes into an empty place.');
        }
        foreach (["$this->root/.env", "$this->root/var/mariadb/mysql"] as $there) {
            if (file_exists($there)) {
                throw new Trouble("$there is there already: a backup goes into an empty place, so that nothing is written over. Take a new clone, or drop what is here with ./spring up --fresh and remove .env and var/.");
            }
        }
        $port = $input->getOption('port');
        if (! is_string($port) || ! ctype_digit($port)) {
            throw new Trouble('--port takes a number.');
        }
        $restoring = new Restoring($this->root, Backup::path((string) $input->getArgument('file')), Passphrase::of($input));
        $made = $restoring->run(Ports::from((int) $port), static fn (string $text) => $output->writeln($text));
        $output->writeln("The backup of $made is in place. Start it with: ./spring up --port $port", OutputInterface::OUTPUT_RAW);

        return 0;
    }
}
