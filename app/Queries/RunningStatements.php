<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\User;
use App\Reservoir\ReaderAccounts;
use Illuminate\Contracts\Cache\Repository;

/**
 * Statements that a page waits for, by a mark of that page, so that whoever began one can stop it from another
 * request.
 */
final class RunningStatements
{
    /** Seconds after which nobody waits any more. */
    private const LONGEST = 900;

    private ?string $key = null;

    public function __construct(private readonly Repository $cache, private readonly ReaderAccounts $accounts)
    {
    }

    /**
     * What this process runs from now on is what a page waits for.
     *
     * @param  string  $mark  of the page; empty for none
     */
    public function under(User $person, string $mark): void
    {
        $this->key = self::isMark($mark) ? self::key($person, $mark) : null;
    }

    /**
     * A statement is about to run.
     *
     * @throws QueryRefused where it was stopped before
     */
    public function begins(\PDO $reader): void
    {
        if ($this->key === null) {
            return;
        }
        if ($this->cache->get("$this->key:stop") !== null) {
            throw QueryRefused::because('Stopped before it began.');
        }
        $this->cache->put($this->key, $this->accounts->number($reader), self::LONGEST);
    }

    public function ended(): void
    {
        if ($this->key !== null) {
            $this->cache->forget($this->key);
            $this->cache->forget("$this->key:stop");
            $this->key = null;
        }
    }

    /**
     * Ends what a page of that person waits for, and what it would begin next.
     */
    public function stop(User $person, string $mark): void
    {
        if (! self::isMark($mark)) {
            return;
        }
        $key = self::key($person, $mark);
        $this->cache->put("$key:stop", true, self::LONGEST);
        $number = $this->cache->get($key);
        if (is_int($number)) {
            $this->accounts->stop($number);
        }
    }

    private static function key(User $person, string $mark): string
    {
        return "statement:$person->id:$mark";
    }

    private static function isMark(string $mark): bool
    {
        return preg_match('/^[a-z0-9]{16,40}$/D', $mark) === 1;
    }
}
