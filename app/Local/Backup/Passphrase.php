<?php

declare(strict_types=1);

namespace App\Local\Backup;

use App\Local\Command\Backup;
use App\Local\Trouble;
use Symfony\Component\Console\Input\InputInterface;

/**
 * What a backup is sealed with. It never stands on the command line, where others see it.
 */
final readonly class Passphrase
{
    public static function of(InputInterface $input): ?string
    {
        $file = $input->getOption('passphrase-file');
        if (! is_string($file)) {
            $given = getenv('SPRING_BACKUP_PASSPHRASE');

            return $given === false || $given === '' ? null : $given;
        }
        $text = @file_get_contents(Backup::path($file));
        if ($text === false || trim($text) === '') {
            throw new Trouble("There is no passphrase in $file.");
        }

        return trim($text);
    }
}
