<?php

declare(strict_types=1);

namespace App\Local\Command;

use App\Local\State;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

final class Down extends Command
{
    public function __construct(private readonly string $root)
    {
        parent::__construct('down');
    }

    protected function configure(): void
    {
        $this->setDescription('Stops what up started');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $state = State::of("$this->root/var");
        $output->writeln($state === null ? 'Nothing is running.' : 'Stopping …');
        $state?->stop();

        return 0;
    }
}
