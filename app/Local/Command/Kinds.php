<?php

declare(strict_types=1);

namespace App\Local\Command;

use DeepSpring\Catalog\KindCatalog;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * What a source file can say where it chooses among kinds.
 */
final class Kinds extends Command
{
    public function __construct()
    {
        parent::__construct('kinds');
    }

    protected function configure(): void
    {
        $this->setDescription('Lists what a source file can choose among, with settings: access schemes, bodies, formats, pagers, column types')
            ->addArgument('family', InputArgument::OPTIONAL, implode(', ', array_keys(KindCatalog::families())).'; all of them without it');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $family = $input->getArgument('family');
        if ($family !== null && ! isset(KindCatalog::families()[$family])) {
            $output->writeln('There are '.implode(', ', array_keys(KindCatalog::families())).'.');

            return 2;
        }
        foreach ($family === null ? array_keys(KindCatalog::families()) : [$family] as $one) {
            $output->write(($family === null ? strtoupper((string) $one)."\n" : '').KindCatalog::text((string) $one), false, OutputInterface::OUTPUT_RAW);
        }

        return self::SUCCESS;
    }
}
