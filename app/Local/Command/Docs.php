<?php

declare(strict_types=1);

namespace App\Local\Command;

use DeepSpring\Catalog\KindCatalog;
use DeepSpring\SourceFile\SourceSchema;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * Writes down what follows from the code: the schema of source files and the tables of kinds.
 */
final class Docs extends Command
{
    public function __construct(private readonly string $root)
    {
        parent::__construct('docs');
    }

    protected function configure(): void
    {
        $this->setDescription('Brings the schema and the tables of kinds in docs/ up to date');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $written = ["$this->root/docs/schema/source-1.json" => SourceSchema::json()];
        foreach ((array) glob("$this->root/docs/*.md") as $file) {
            $written[(string) $file] = KindCatalog::written((string) file_get_contents((string) $file));
        }
        foreach ($written as $file => $text) {
            if (file_get_contents($file) !== $text) {
                file_put_contents($file, $text);
                $output->writeln(substr($file, strlen($this->root) + 1));
            }
        }

        return self::SUCCESS;
    }
}
