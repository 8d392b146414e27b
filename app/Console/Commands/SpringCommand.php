<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\Environment;
use App\Models\Source;
use App\Models\User;
use App\Secrets\Vault;
use Illuminate\Console\Command;
use Illuminate\Database\QueryException;
use Symfony\Component\Console\Exception\ExceptionInterface;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\ConsoleOutputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * What the commands share: where words go, what an exit code means, how secrets come in.
 */
abstract class SpringCommand extends Command
{
    protected const DONE = 0;

    protected const REFUSED = 1;

    protected const WRONG_USE = 2;

    /**
     * Wrong arguments end with the code of wrong use, and one line.
     */
    public function run(InputInterface $input, OutputInterface $output): int
    {
        try {
            return parent::run($input, $output);
        } catch (ExceptionInterface $wrong) {
            $errors = $output instanceof ConsoleOutputInterface ? $output->getErrorOutput() : $output;
            $errors->writeln($wrong->getMessage().' See: ./spring '.substr((string) $this->getName(), 7).' --help', OutputInterface::OUTPUT_RAW);

            return self::WRONG_USE;
        }
    }

    final public function handle(): int
    {
        try {
            return (int) $this->laravel->call([$this, 'work']);
        } catch (WrongUse $wrong) {
            $this->say($wrong->getMessage());

            return self::WRONG_USE;
        } catch (QueryException $exception) {
            if (! str_contains($exception->getMessage(), '[2002]')) {
                throw $exception;
            }
            $this->say('The database does not answer. Start the application with ./spring up.');

            return self::REFUSED;
        }
    }

    /**
     * To standard error: for a person, never for a program.
     */
    protected function say(string $text): void
    {
        $output = $this->output->getOutput();
        ($output instanceof ConsoleOutputInterface ? $output->getErrorOutput() : $output)->writeln($text, OutputInterface::OUTPUT_RAW);
    }

    /**
     * To standard output, as it is.
     */
    protected function give(string $text): void
    {
        $this->output->write($text, false, OutputInterface::OUTPUT_RAW);
    }

    /**
     * A line for a program to read.
     */
    protected function giveLine(string $text): void
    {
        $this->give("$text\n");
    }

    /**
     * @throws WrongUse
     */
    protected function source(string $slug): Source
    {
        return Source::query()->where('slug', $slug)->first() ?? throw new WrongUse("There is no source \"$slug\". There are: ".(implode(', ', Source::query()->orderBy('slug')->pluck('slug')->all()) ?: 'none').'.');
    }

    /**
     * The one asked for, or the first that the source has an address in.
     *
     * @throws WrongUse
     */
    protected function environmentOf(Source $source): Environment
    {
        $asked = $this->option('environment');
        $slug = is_string($asked) && $asked !== '' ? $asked : ($source->inHand()->source()->environments()[0] ?? Environment::PRODUCTION);

        return Environment::named($slug) ?? throw new WrongUse("There is no environment \"$slug\".");
    }

    /**
     * Secrets of `--secret name=value` and `--secrets FILE` (lines of name=value) go to the vault.
     *
     * @throws WrongUse
     */
    protected function takeSecrets(Source $source, Environment $environment, Vault $vault): void
    {
        $lines = (array) $this->option('secret');
        $file = $this->option('secrets');
        if (is_string($file) && $file !== '') {
            $text = @file_get_contents($this->path($file));
            if ($text === false) {
                throw new WrongUse("$file cannot be read.");
            }
            $lines = [...$lines, ...array_filter(array_map(trim(...), explode("\n", $text)), static fn (string $line): bool => $line !== '' && $line[0] !== '#')];
        }
        foreach ($lines as $line) {
            if (preg_match('/^([A-Za-z0-9_-]{1,64})=(.+)$/sD', (string) $line, $part) !== 1) {
                throw new WrongUse('A secret is given as name=value.');
            }
            $vault->put($source, $environment, $part[1], $part[2], null);
        }
    }

    /**
     * A path as the person meant it, from the folder where they called ./spring.
     */
    protected function path(string $path): string
    {
        $from = getenv('SPRING_CWD');

        return str_starts_with($path, '/') || $from === false ? $path : "$from/$path";
    }

    protected function somebody(): ?User
    {
        return User::query()->orderBy('id')->first();
    }
}
