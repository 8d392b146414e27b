<?php

declare(strict_types=1);

namespace App\Local\Command;

use App\Local\Backup\BackupArchive;
use App\Local\Backup\DatabaseDump;
use App\Local\Backup\Passphrase;
use App\Local\EnvFile;
use App\Local\Trouble;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\ConsoleOutputInterface;
use Symfony\Component\Console\Output\OutputInterface;

final class Backup extends Command
{
    public function __construct(private readonly string $root)
    {
        parent::__construct('backup');
    }

    protected function configure(): void
    {
        $this->setDescription('Writes database, keys and files to one file, while everything runs')
            ->addArgument('file', InputArgument::REQUIRED, 'The file to write')
            ->addOption('passphrase-file', null, InputOption::VALUE_REQUIRED, 'Seal it with the passphrase in this file; or SPRING_BACKUP_PASSPHRASE')
            ->addOption('without-pages', null, InputOption::VALUE_NONE, 'Without the answers that are kept for making tables again');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $file = self::path((string) $input->getArgument('file'));
        if (file_exists($file)) {
            throw new Trouble("$file is there already. Choose another name, or remove it.");
        }
        $env = (new EnvFile("$this->root/.env"))->read();
        if ($env === []) {
            throw new Trouble('Nothing is set up here yet, so there is nothing to back up.');
        }
        $passphrase = Passphrase::of($input);
        $folder = "$this->root/".($env['SPRING_VAR'] ?? 'var');
        $dump = new DatabaseDump($env, $folder);
        $archive = new BackupArchive($file, $passphrase);
        try {
            $archive->begin(['made' => gmdate('c'), 'schemas' => $dump->schemas()]);
            $archive->add('settings', (string) file_get_contents("$this->root/.env"));
            foreach (['secrets.key', 'secrets.key.next'] as $key) {
                if (is_file("$folder/keys/$key")) {
                    $archive->add("keys/$key", (string) file_get_contents("$folder/keys/$key"));
                }
            }
            $dump->write($archive, $input->getOption('without-pages') === true);
            $bytes = $archive->finish();
        } catch (\Throwable $failed) {
            $archive->discard();

            throw $failed;
        }
        $errors = $output instanceof ConsoleOutputInterface ? $output->getErrorOutput() : $output;
        $errors->writeln(sprintf('%s: %.1f MB%s', $file, $bytes / 1_048_576, $passphrase === null ? '. It holds the keys of all secrets: keep it as you keep those.' : ', sealed.'), OutputInterface::OUTPUT_RAW);

        return 0;
    }

    public static function path(string $path): string
    {
        $from = getenv('SPRING_CWD');

        return str_starts_with($path, '/') || $from === false ? $path : "$from/$path";
    }
}
