<?php

declare(strict_types=1);

namespace App\Local;

use Symfony\Component\Process\Process;

/**
 * Commands that the application itself answers, and how they are handed over to it.
 */
final readonly class Handover
{
    /** What each of them is for, as the application says it. */
    public const COMMANDS = [
        'import' => 'Adds a source, or endpoints to one, from whatever describes them',
        'take' => 'Makes an endpoint of one request, sets it up by its answer, and keeps its table',
        'export' => 'Writes the file of a source to standard output',
        'try' => 'Tries an endpoint and says what happened',
        'refresh' => 'Refreshes tables from their source',
        'query' => 'Runs SQL over the kept tables',
        'schedule' => 'Lists what is refreshed by itself and when, pauses it, resumes it',
        'lookup' => 'Tries an endpoint that is read for each row of a table on some of them, and says what all would take',
        'checks' => 'Tries the checks of a table on the rows that are there, and proposes others',
        'notes' => 'Lists what is wrong now, puts a note aside, takes it back',
        'follow' => 'Lists who is told of notes and how, adds somebody, sends a test, stops it',
        'profile' => 'Says what the columns of a table are like: values that are missing, different ones, ranges, lengths',
        'origin' => 'Says where the values of a row were read',
        'feed' => 'Lists feeds, publishes one, turns it off, gives a key',
        'door' => 'Lists accounts of the database for tools that are not ours, gives one, withdraws it',
        'change' => 'Changes records of a table at the service they come from, or says what that would do',
        'journal' => 'Lists what was changed at services from here',
        'history' => 'Lists earlier states of a table, compares two of them',
        'indexes' => 'Lists the indexes of kept tables and proposes others, builds one, drops one',
        'forget' => 'Deletes a kept table, after saying what reads it',
        'runs' => 'Lists runs, shows the log of one, stops it, continues it',
        'odata' => 'Lists what an OData service offers, or describes one of its sets',
        'versions' => 'Lists, compares and brings back the versions of a source',
        'secrets' => 'Lists the secrets of a source by name, gives them, confirms a changed address',
        'pace' => 'Says how fast a source may be asked now, and whether requests to it are paused',
        'environment' => 'Lists, adds, renames or removes environments',
        'allow' => 'Lets requests go to a private host and port',
        'person' => 'Invites people, changes their role, makes a password link, switches them off and on',
        'log' => 'Who did what',
        'rotate-key' => 'Puts a new key into the key file; secrets stay as they are',
    ];

    public function __construct(private string $root)
    {
    }

    /**
     * Does not come back.
     *
     * @param  list<string>  $words  the command and what follows it
     */
    public function to(array $words): never
    {
        $file = "$this->root/.env";
        if (! is_file($file)) {
            $this->refuse('Nothing is set up here yet. Start with ./spring up.');
        }
        if (! is_readable($file)) {
            $this->refuse("$file belongs to ".(posix_getpwuid((int) fileowner($file))['name'] ?? 'another account').', and only that account can use this installation. Work in a clone of your own, or as that account.');
        }
        $var = (new EnvFile($file))->read()['SPRING_VAR'] ?? 'var';
        $env = Instance::caches("$this->root/$var") + getenv();
        if (posix_geteuid() === 0) {
            // The application lowers itself to this account, so that what it writes belongs to it.
            $env['SPRING_ACCOUNT'] = Account::APPLICATION;
        }
        pcntl_exec(PHP_BINARY, ['-d', 'memory_limit=1G', '-d', 'opcache.enable_cli=1', "$this->root/artisan", "spring:{$words[0]}", ...array_slice($words, 1)], $env);
        $this->refuse('PHP cannot be started once more.');
    }

    /**
     * @return string JSON of the console component
     */
    public function described(string $command): string
    {
        $process = new Process([PHP_BINARY, "$this->root/artisan", 'help', "spring:$command", '--format=json'], $this->root, Foreground::environment([]), timeout: null);
        if ($process->run() !== 0) {
            throw new Trouble("What $command takes cannot be said before the application is set up. Start with ./spring up.");
        }

        return $process->getOutput();
    }

    private function refuse(string $sentence): never
    {
        fwrite(STDERR, "$sentence\n");
        exit(1);
    }
}
