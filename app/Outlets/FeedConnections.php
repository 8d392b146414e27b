<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;
use App\Models\Principal;
use App\Models\User;
use App\Queries\ViewOwners;
use App\Reservoir\ReaderAccounts;
use App\Reservoir\Views;
use Illuminate\Contracts\Cache\Repository;

/**
 * Connections of the accounts that read feeds, and what the database says as a reader has to hear it.
 */
final readonly class FeedConnections
{
    /** Seconds of the statement for a page, and for all rows. */
    public const LONGEST = 20;

    public const LONGEST_WHOLE = 600;

    /** Seconds for which rights that were brought up to date are taken to be so. */
    private const ALIGNED = 3;

    private const BEYOND_NUMBERS = 1690;

    private const TOO_LONG = 1969;

    /** No such table, column, right; a view that reads one of these; all connections of the account are taken. */
    private const NOT_THERE = [1054, 1142, 1143, 1146, 1356, 1044, 1045];

    private const ALL_TAKEN = 1226;

    public function __construct(private ReaderAccounts $accounts, private ViewOwners $owners, private Repository $cache)
    {
    }

    /**
     * @param  array<string, string>  $asked  what the reader asks with
     *
     * @throws FeedProblem
     */
    public function open(Feed $feed, Principal $principal, int $seconds, array $asked = []): \PDO
    {
        self::mustBeSet($feed, $principal);
        $isAligned = $this->align($feed, $principal);
        try {
            $pdo = $this->accounts->connect($principal, $feed->environment, $seconds, isAligned: $isAligned);
            $isAligned || $this->cache->put(self::mark($feed, $principal), true, self::ALIGNED);
            $asked === [] || $pdo->exec('SET '.Views::ASKED.' = '.$pdo->quote((string) json_encode($asked, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES)));

            return $pdo;
        } catch (\PDOException $refused) {
            throw self::problem($refused);
        }
    }

    /**
     * Rights are brought up to date once in a while: what is taken away is gone within seconds.
     *
     * @return bool whether those of whoever reads are up to date, too
     *
     * @throws FeedProblem
     */
    private function align(Feed $feed, Principal $principal): bool
    {
        if ($feed->user->isOff()) {
            throw new FeedProblem(503, 'Whoever answers for this feed can no longer read anything here. It needs another owner.');
        }
        if ($this->cache->get(self::mark($feed, $principal)) !== null) {
            return true;
        }
        try {
            $this->owners->align($feed->environment, [$feed->reads]);
            $this->accounts->align($feed->user, $feed->environment);
            $feed->asksReader() === [] || $this->accounts->tell($principal, $feed->environment);
        } catch (\PDOException $refused) {
            throw self::problem($refused);
        }

        return false;
    }

    /**
     * A feed whose rows depend on who asks has none for whom nothing is set, and says so.
     *
     * @throws FeedProblem
     */
    private static function mustBeSet(Feed $feed, Principal $principal): void
    {
        $missing = array_diff($feed->asksReader(), array_keys($principal->values()));
        if ($missing !== []) {
            throw new FeedProblem(403, 'Which rows this feed shows depends on "'.implode('" and "', $missing).'", and nothing is set for '.($principal instanceof User ? 'you' : 'this key').'. Whoever answers for it can set it.');
        }
    }

    private static function mark(Feed $feed, Principal $principal): string
    {
        return "feed-rights:$feed->id:{$feed->updated_at->format('Uu')}:{$principal->account()}".($feed->asksReader() === [] ? '' : ':'.hash('xxh64', (string) json_encode($principal->values())));
    }

    public static function problem(\PDOException $refused): FeedProblem
    {
        $code = (int) ($refused->errorInfo[1] ?? $refused->getCode());

        return match (true) {
            $code === self::BEYOND_NUMBERS => new FeedProblem(400, 'A sum or product in the filter goes beyond the numbers there are.', [], 'filter', $refused),
            $code === self::TOO_LONG => new FeedProblem(503, 'The database took longer than it may for this. Ask for fewer rows, or with a condition or an order for which there is an index.', ['Retry-After' => '60'], null, $refused),
            $code === self::ALL_TAKEN => new FeedProblem(429, 'As many requests as this key may make at the same time are being answered. Wait for one of them.', ['Retry-After' => '1'], null, $refused),
            in_array($code, self::NOT_THERE, true) => new FeedProblem(503, 'What this feed reads is not there now. Whoever answers for it can see why.', ['Retry-After' => '60'], null, $refused),
            default => throw $refused,
        };
    }

    /**
     * @param  list<string>  $values
     * @return \Generator<int, list<string|null>>
     *
     * @throws FeedProblem
     */
    public static function rows(\PDO $pdo, string $sql, array $values): \Generator
    {
        try {
            $statement = $pdo->prepare($sql);
            $statement->execute($values);
            // The connection gives every value as a text.
            while (is_array($row = $statement->fetch(\PDO::FETCH_NUM))) {
                yield $row;
            }
            $statement->closeCursor();
        } catch (\PDOException $refused) {
            throw self::problem($refused);
        }
    }
}
