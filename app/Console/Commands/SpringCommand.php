<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\CallerFiles;
use App\Console\Terminal;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Source;
use App\Models\User;
use App\Runs\OrphanedTables;
use App\Secrets\UnreadableSecret;
use App\Secrets\Vault;
use Illuminate\Console\Command;
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
            $errors->writeln(Terminal::safe($wrong->getMessage()).' See: ./spring '.substr((string) $this->getName(), 7).' --help', OutputInterface::OUTPUT_RAW);

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
        } catch (UnreadableSecret $unreadable) {
            $this->say($unreadable->getMessage());

            return self::REFUSED;
        } catch (\PDOException $exception) {
            $sentence = self::sentence($exception);
            if ($sentence === null) {
                throw $exception;
            }
            $this->say($sentence);

            return self::REFUSED;
        }
    }

    /**
     * What is wrong with the database, where that is no fault of this application.
     */
    private static function sentence(\PDOException $exception): ?string
    {
        $said = $exception->getMessage();

        return match (true) {
            str_contains($said, '[2002]'), preg_match('/server has gone away|Lost connection/', $said) === 1 => 'The database does not answer. Start the application with ./spring up.',
            preg_match('/errno: 28|No space left|Disk full|The table .* is full/i', $said) === 1 => 'The disk of the database is full. Make room, and repeat this; what was kept before is as it was.',
            str_contains($said, '[1045]') => 'The database does not let the application in: the passwords in .env are not those of its accounts.',
            default => null,
        };
    }

    /**
     * To standard error: for a person, never for a program.
     */
    protected function say(string $text): void
    {
        $output = $this->output->getOutput();
        ($output instanceof ConsoleOutputInterface ? $output->getErrorOutput() : $output)->writeln(Terminal::safe($text), OutputInterface::OUTPUT_RAW);
    }

    /**
     * To standard output: as it is for a program or a file, without what a terminal would obey for a person.
     */
    protected function give(string $text): void
    {
        $this->output->write(Terminal::isWatched(STDOUT) ? Terminal::safe($text) : $text, false, OutputInterface::OUTPUT_RAW);
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
        return Source::described()->where('slug', $slug)->first() ?? throw new WrongUse("There is no source \"$slug\". There are: ".(implode(', ', Source::described()->orderBy('slug')->pluck('slug')->all()) ?: 'none').'.');
    }

    /**
     * A kept table, in the environment that was asked for or in the only one that keeps it.
     *
     * @throws WrongUse when several environments keep it
     */
    protected function keptTable(string $name): ?KeptTable
    {
        $asked = $this->option('environment');
        $tables = KeptTable::query()->with(['endpoint.source', 'environment'])->where('name', $name)
            ->when(is_string($asked) && $asked !== '', fn ($query) => $query->whereHas('environment', fn ($environment) => $environment->where('slug', $asked)))->get();

        return $tables->count() > 1 ? throw new WrongUse("$name is kept in several environments. Say which with --environment.") : $tables->first();
    }

    protected function noTable(string $name): WrongUse
    {
        return new WrongUse("There is no table \"$name\". There are: ".(implode(', ', KeptTable::query()->orderBy('name')->pluck('name')->unique()->all()) ?: 'none').'.');
    }

    /**
     * Tables that nothing refreshes any more, since what was published no longer has their endpoint.
     */
    protected function tellOrphans(Source $source, OrphanedTables $orphaned): void
    {
        foreach ($orphaned->of($source, $source->refresh()->current()) as $table) {
            $this->say("$table->name in {$table->environment->name} is kept, and no endpoint refreshes it any more. ./spring forget $table->name deletes it.");
        }
    }

    /**
     * The one asked for, or the first that the source has an address in.
     *
     * @throws WrongUse
     */
    protected function environmentOf(Source $source): Environment
    {
        $asked = $this->option('environment');
        $slug = is_string($asked) && $asked !== '' ? $asked : ($source->current()->source()->environments()[0] ?? Environment::PRODUCTION);

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
            $text = CallerFiles::read($this->path($file));
            if ($text === null) {
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
