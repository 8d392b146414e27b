<?php

declare(strict_types=1);

namespace App\Local;

use Dotenv\Dotenv;
use Dotenv\Exception\InvalidFileException;

/**
 * Settings and passwords of an instance, made once and readable by their owner only.
 */
final class EnvFile
{
    public function __construct(public readonly string $file)
    {
    }

    /**
     * @return array<string, string>
     *
     * @throws Trouble when a line of it is no setting
     */
    public function read(): array
    {
        try {
            return array_map(strval(...), Dotenv::parse(is_file($this->file) ? (string) file_get_contents($this->file) : ''));
        } catch (InvalidFileException $invalid) {
            throw new Trouble("{$this->file} cannot be read: ".lcfirst($invalid->getMessage()));
        }
    }

    /**
     * Keeps what is there, adds what is missing, and sets what is given.
     *
     * @param  array<string, string>  $set
     * @return array<string, string>
     *
     * @throws Trouble when the file is not as it should be, or cannot be written
     */
    public function merge(array $set): array
    {
        $values = $this->read();
        $values += [
            'APP_ENV' => 'production',
            'APP_KEY' => 'base64:'.base64_encode(random_bytes(32)),
            'DB_APP_PASSWORD' => bin2hex(random_bytes(18)),
            'DB_KEEPER_PASSWORD' => bin2hex(random_bytes(18)),
            'DB_ROOT_PASSWORD' => bin2hex(random_bytes(18)),
            'DB_BACKUP_PASSWORD' => bin2hex(random_bytes(18)),
        ];
        foreach (['BUILDER', 'ANALYST', 'ADMINISTRATOR'] as $who) {
            $values += ["SPRING_DEMO_$who" => implode('-', [self::randomWord(), self::randomWord(), self::randomWord()])];
        }
        $values = $set + $values;
        $text = '';
        foreach ($values as $name => $value) {
            $text .= "$name=\"".addcslashes($value, '"\\$')."\"\n";
        }
        if (@file_put_contents("{$this->file}.new", $text) === false || ! chmod("{$this->file}.new", 0600) || ! rename("{$this->file}.new", $this->file)) {
            throw new Trouble("{$this->file} cannot be written: is the disk full, or the folder not yours?");
        }

        return $values;
    }

    private static function randomWord(): string
    {
        $letters = ['bdfgklmnprstv', 'aeiou', 'bdfgklmnprstv', 'aeiou', 'lnrst'];

        return implode('', array_map(static fn (string $from): string => $from[random_int(0, strlen($from) - 1)], $letters));
    }
}
